import { addFLACMetaData } from 'libflacjs/lib/utils/flac-utils';
import type { SoundFile, SoundForm } from './sound-file';

type Flac = typeof import('libflacjs/dist/libflac');
type Metadata = Parameters<typeof addFLACMetaData>[1];

/** "fLaC", the head of a block, and STREAMINFO (RFC 9639, sections 6 and 8.2). */
const HEAD = 4 + 4 + 34;
/** Of 0 to 8: smaller for more time. */
const COMPRESSION = 5;

/** The FLAC encoder of the package, once it runs. */
export async function loadFlac(): Promise<Flac> {
  const { default: flac } = (await import('libflacjs/dist/libflac')) as unknown as { default: Flac };
  if (!flac.isReady()) await new Promise<void>((resolve) => flac.on('ready', () => resolve()));
  return flac;
}

/**
 * A FLAC file (RFC 9639).
 * @throws Error where the encoder refuses
 */
export function flacFile(flac: Flac, { rate, bits }: SoundForm): SoundFile {
  const encoder = flac.create_libflac_encoder(rate, 2, bits, COMPRESSION);
  let made: Uint8Array[] = [];
  let metadata: Metadata | undefined;
  const state = flac.init_encoder_stream(
    encoder,
    (bytes) => void made.push(bytes.slice()),
    (told) => {
      if (told) metadata = told;
    },
  );
  if (encoder === 0 || state !== 0) throw new Error('The FLAC encoder did not start.');
  const taken = (): Uint8Array => {
    const all = new Uint8Array(made.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const part of made) {
      all.set(part, at);
      at += part.length;
    }
    made = [];
    return all;
  };
  const begun = taken();
  let held: Uint8Array | null = begun.subarray(HEAD);
  return {
    headBytes: HEAD,
    write([left, right]) {
      const interleaved = new Int32Array(2 * left.length);
      left.forEach((value, frame) => {
        interleaved[2 * frame] = value;
        interleaved[2 * frame + 1] = right[frame] ?? 0;
      });
      if (!flac.FLAC__stream_encoder_process_interleaved(encoder, interleaved, left.length))
        throw new Error('The FLAC encoder stopped.');
      if (held) {
        made.unshift(held);
        held = null;
      }
      return taken();
    },
    end() {
      flac.FLAC__stream_encoder_finish(encoder);
      flac.FLAC__stream_encoder_delete(encoder);
      if (held) made.unshift(held);
      const head = begun.slice(0, HEAD);
      if (metadata) addFLACMetaData([head], metadata, false);
      return { rest: taken(), head };
    },
  };
}
