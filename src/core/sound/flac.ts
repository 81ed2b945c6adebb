import type { SoundFile, SoundForm } from './sound-file';

type Flac = typeof import('libflacjs/dist/libflac');
type Metadata = NonNullable<Parameters<NonNullable<Parameters<Flac['init_encoder_stream']>[2]>>[0]>;

/** "fLaC", the head of a block, and STREAMINFO (RFC 9639, sections 6 and 8.2). */
const HEAD = 4 + 4 + 34;
/** Of 0 to 8: smaller for more time. */
const COMPRESSION = 5;

/** What is known at the end alone, in the places of STREAMINFO for it (RFC 9639, section 8.2). */
function tell(head: Uint8Array, { min_framesize, max_framesize, total_samples, md5sum }: Metadata): void {
  const view = new DataView(head.buffer, head.byteOffset + 8);
  const bytes3 = (at: number, value: number): void => {
    view.setUint8(at, value >> 16);
    view.setUint16(at + 1, value & 0xffff);
  };
  bytes3(4, min_framesize);
  bytes3(7, max_framesize);
  view.setUint32(14, total_samples);
  for (let at = 0; at < 16; at++)
    view.setUint8(18 + at, Number.parseInt(md5sum.slice(2 * at, 2 * at + 2), 16));
}

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
      if (metadata) tell(head, metadata);
      return { rest: taken(), head };
    },
  };
}
