import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { StemMix } from './stem-mix';

/** The frames of a WAV file with a head of 44 bytes (Multimedia Programming Interface 1.0). */
function framesOf(bytes: Uint8Array<ArrayBuffer>): [number, number][] {
  const view = new DataView(bytes.buffer);
  return Array.from({ length: (bytes.length - 44) / 4 }, (_, at) => [
    view.getInt16(44 + 4 * at, true),
    view.getInt16(46 + 4 * at, true),
  ]);
}
const close = (one: number, other: number) => expect(Math.abs(one - other)).toBeLessThanOrEqual(1);

describe('stems in one sound', () => {
  it('has each at its place, one channel on both sides, and nothing of what lies outside', () => {
    const mix = new StemMix(4, 44_100);
    mix.add([Float32Array.of(0.5, 0.25)], 1);
    mix.add([Float32Array.of(0.1, 0.2), Float32Array.of(0, 0.3)], -1);
    mix.add([Float32Array.of(0.125)], 9);
    const expected = [
      [0.2, 0.3],
      [0.5, 0.5],
      [0.25, 0.25],
      [0, 0],
    ];
    framesOf(mix.wav()).forEach(([left, right], at) => {
      close(left, expected[at]![0]! * 32_767);
      close(right, expected[at]![1]! * 32_767);
    });
  });

  it('is the sum, or the sum made softer where that is too loud (property)', () => {
    const sound = fc.array(fc.integer({ min: -100, max: 100 }), { minLength: 1, maxLength: 6 });
    const placed = fc.record({ sound, at: fc.integer({ min: -3, max: 8 }) });
    fc.assert(
      fc.property(fc.array(placed, { maxLength: 5 }), (all) => {
        const mix = new StemMix(8, 48_000);
        const sum = Array<number>(8).fill(0);
        for (const { sound: values, at } of all) {
          mix.add([Float32Array.from(values, (value) => value / 100)], at);
          values.forEach((value, index) => {
            if (sum[at + index] !== undefined) sum[at + index]! += value / 100;
          });
        }
        const loudest = Math.max(...sum.map(Math.abs));
        const gain = loudest > 0.98 ? 0.98 / loudest : 1;
        framesOf(mix.wav()).forEach(([left], at) => {
          close(left, sum[at]! * gain * 32_767);
        });
      }),
    );
  });
});
