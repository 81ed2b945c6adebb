import { type SoundForm, wavFile } from './sound-file';

/** So loud the loudest frame may be; of full scale. */
const CEILING = 0.98;
const FULL = 2 ** 15 - 1;

/** Several sounds added to one, each from its own place on. */
export class StemMix {
  private readonly left: Float32Array;
  private readonly right: Float32Array;

  /** @param rate frames a second, of all that is added */
  constructor(
    frames: number,
    private readonly rate: SoundForm['rate'],
  ) {
    this.left = new Float32Array(frames);
    this.right = new Float32Array(frames);
  }

  /**
   * Adds a sound: one channel to both ears, of several the first two. What lies outside is left out.
   * @param at the frame at which it begins; negative for one that begins earlier
   */
  add(channels: readonly Float32Array[], at: number): void {
    const [first] = channels;
    if (!first) return;
    const second = channels[1] ?? first;
    const from = Math.max(0, -at);
    const to = Math.min(first.length, this.left.length - at);
    for (let frame = from; frame < to; frame++) {
      this.left[at + frame]! += first[frame]!;
      this.right[at + frame]! += second[frame]!;
    }
  }

  /** The sum as a WAV file of 16 bits, turned down where it would be too loud. */
  wav(): Uint8Array<ArrayBuffer> {
    let loudest = 0;
    for (const side of [this.left, this.right])
      for (const value of side) loudest = Math.max(loudest, Math.abs(value));
    const gain = FULL * (loudest > CEILING ? CEILING / loudest : 1);
    const whole = (side: Float32Array) => Int32Array.from(side, (value) => Math.round(value * gain));
    const file = wavFile({ format: 'wav', rate: this.rate, bits: 16 });
    const body = file.write([whole(this.left), whole(this.right)]);
    const { rest, head } = file.end();
    const out = new Uint8Array(head.length + body.length + rest.length);
    out.set(head, 0);
    out.set(body, head.length);
    out.set(rest, head.length + body.length);
    return out;
  }
}
