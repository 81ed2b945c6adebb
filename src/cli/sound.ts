import { LONGEST_HEARD, mixed, type Sound, tooLong } from '../core/recording/sound';
import { isWav, readWav } from '../core/sources/audio/wav';
import { UsageError } from './usage-error';

interface Decoded {
  channelData: Float32Array[];
  sampleRate: number;
}

interface Kind {
  name: string;
  isOne(bytes: Uint8Array): boolean;
  /** Null where it is heard in the page alone. */
  decode: ((bytes: Uint8Array) => Promise<Decoded>) | null;
}

const begins = (bytes: Uint8Array, text: string, at = 0): boolean =>
  [...text].every((letter, index) => bytes[at + index] === letter.charCodeAt(0));

/** Bytes of the head of the first Ogg page, which holds one packet (RFC 3533, section 6). */
const OGG_HEAD = 28;

/** Compressed recordings, by what they begin with. */
const KINDS: readonly Kind[] = [
  {
    name: 'FLAC',
    isOne: (bytes) => begins(bytes, 'fLaC'),
    decode: async (bytes) => {
      const { FLACDecoder } = await import('@wasm-audio-decoders/flac');
      const decoder = new FLACDecoder();
      await decoder.ready;
      return decoder.decodeFile(bytes);
    },
  },
  {
    name: 'Ogg Opus',
    isOne: (bytes) => begins(bytes, 'OggS') && begins(bytes, 'OpusHead', OGG_HEAD),
    decode: async (bytes) => {
      const { OggOpusDecoder } = await import('ogg-opus-decoder');
      const decoder = new OggOpusDecoder();
      await decoder.ready;
      return decoder.decodeFile(bytes);
    },
  },
  {
    name: 'Ogg Vorbis',
    isOne: (bytes) => begins(bytes, 'OggS'),
    decode: async (bytes) => {
      const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
      const decoder = new OggVorbisDecoder();
      await decoder.ready;
      return decoder.decodeFile(bytes);
    },
  },
  {
    name: 'MP3',
    isOne: (bytes) => begins(bytes, 'ID3') || (bytes[0] === 0xff && (bytes[1]! & 0xe6) === 0xe2),
    decode: async (bytes) => {
      const { MPEGDecoder } = await import('mpg123-decoder');
      const decoder = new MPEGDecoder();
      await decoder.ready;
      return decoder.decode(bytes);
    },
  },
  { name: 'M4A', isOne: (bytes) => begins(bytes, 'ftyp', 4), decode: null },
];

/** Whether bytes are a recording, by what they begin with. */
export const isSound = (bytes: Uint8Array): boolean =>
  isWav(bytes) || KINDS.some((kind) => kind.isOne(bytes));

/**
 * Reads a recording as one channel: WAV, FLAC, Ogg Opus, Ogg Vorbis or MP3.
 * @throws UsageError, or BadSourceError, with a sentence for people
 */
export async function readSound(path: string, bytes: Uint8Array): Promise<Sound> {
  if (isWav(bytes)) return readWav(bytes);
  const kind = KINDS.find((each) => each.isOne(bytes));
  if (!kind?.decode)
    throw new UsageError(`${path} is an M4A file: it is heard in the page; save it as WAV to hear it here.`);
  let decoded: Decoded | null = null;
  try {
    decoded = await kind.decode(bytes);
  } catch {
    // What the decoder says is not for people.
  }
  const { channelData = [], sampleRate = 0 } = decoded ?? {};
  const length = channelData[0]?.length ?? 0;
  if (length === 0 || sampleRate === 0)
    throw new UsageError(`${path} is damaged, or no ${kind.name} file that can be read.`);
  if (length / sampleRate > LONGEST_HEARD) throw new UsageError(tooLong(length / sampleRate));
  return mixed(channelData, sampleRate);
}
