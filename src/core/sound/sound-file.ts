/** Forms of sound files that can be written. */
export const SOUND_FORMATS = ['wav', 'flac'] as const;
/** Frames a second. */
export const SOUND_RATES = [44_100, 48_000] as const;
/** Bits of a sample. */
export const SOUND_BITS = [16, 24] as const;

export interface SoundForm {
  format: (typeof SOUND_FORMATS)[number];
  rate: (typeof SOUND_RATES)[number];
  bits: (typeof SOUND_BITS)[number];
}

/** Both ears of a stretch of sound, as whole numbers of the file's bits. */
export type Frames = readonly [left: Int32Array, right: Int32Array];

/** A stereo sound file that is written on and on; what stands at its head is known last. */
export interface SoundFile {
  /** Bytes of the head, which comes at the end and stands before all others. */
  readonly headBytes: number;
  /** @returns the bytes that follow those before; there may be none yet */
  write(frames: Frames): Uint8Array;
  /** @returns the last bytes, and the head */
  end(): { rest: Uint8Array; head: Uint8Array };
}

const WAV_HEAD = 44;
/** The sizes in a WAV file have 32 bits. */
export const LARGEST_WAV = 2 ** 32 - 1;
const NOTHING = new Uint8Array(0);

/** A RIFF WAVE file of linear PCM (Multimedia Programming Interface and Data Specifications 1.0, 1991). */
export function wavFile({ rate, bits }: SoundForm): SoundFile {
  const frameBytes = (2 * bits) / 8;
  let bytes = 0;
  return {
    headBytes: WAV_HEAD,
    write([left, right]) {
      const out = new DataView(new ArrayBuffer(left.length * frameBytes));
      const put = (at: number, value: number): void => {
        out.setInt16(at, bits === 16 ? value : value & 0xffff, true);
        if (bits === 24) out.setInt8(at + 2, value >> 16);
      };
      left.forEach((value, frame) => {
        put(frame * frameBytes, value);
        put(frame * frameBytes + frameBytes / 2, right[frame] ?? 0);
      });
      bytes += out.byteLength;
      return new Uint8Array(out.buffer);
    },
    end() {
      const head = new DataView(new ArrayBuffer(WAV_HEAD));
      const word = (at: number, text: string): void => {
        for (let letter = 0; letter < 4; letter++) head.setUint8(at + letter, text.charCodeAt(letter));
      };
      word(0, 'RIFF');
      head.setUint32(4, WAV_HEAD - 8 + bytes, true);
      word(8, 'WAVE');
      word(12, 'fmt ');
      head.setUint32(16, 16, true);
      head.setUint16(20, 1, true);
      head.setUint16(22, 2, true);
      head.setUint32(24, rate, true);
      head.setUint32(28, rate * frameBytes, true);
      head.setUint16(32, frameBytes, true);
      head.setUint16(34, bits, true);
      word(36, 'data');
      head.setUint32(40, bytes, true);
      return { rest: NOTHING, head: new Uint8Array(head.buffer) };
    },
  };
}
