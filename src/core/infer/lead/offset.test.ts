import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deskOf, madeFile, madeTrack, type Stroke } from '../../../../tests/helpers/made-file';
import { commonOffset, movedEarlier } from './offset';

const TICKS = 480;
/** Quarters and eighths over a bass on the beats, and a kit. */
const band = (late: number, jitter: (at: number) => number = () => 0) => {
  const at = (quarters: number, index: number) => Math.round(quarters * TICKS + late + jitter(index));
  const row = (starts: readonly number[], key: (index: number) => number): Stroke[] =>
    starts.map((start, index) => [at(start, index), at(start, index) + 200, key(index)]);
  const quarters = Array.from({ length: 32 }, (_, index) => 1 + index);
  const eighths = Array.from({ length: 64 }, (_, index) => 1 + index / 2).filter(
    (_, index) => index % 5 !== 3,
  );
  return madeFile(
    madeTrack(
      'Flute',
      0,
      row(eighths, (index) => 72 + (index % 7)),
    ),
    madeTrack(
      'Bass',
      1,
      row(
        quarters.filter((_, index) => index % 2 === 0),
        (index) => 40 + (index % 3),
      ),
    ),
    madeTrack(
      'Drums',
      9,
      row(quarters, (index) => (index % 2 === 0 ? 36 : 38)),
    ),
  );
};
const offsetOf = (smf: ReturnType<typeof band>) => commonOffset(deskOf(smf).performance);

describe('a delay of the whole file', () => {
  it('is found to the tick where the file was programmed, and none where there is none', () => {
    expect(offsetOf(band(0))).toBe(0);
    for (const late of [10, 50, 90, -37]) expect(offsetOf(band(late))).toBe(late);
  });

  it('is found where it was played, within a few milliseconds', () => {
    const jitter = (index: number) => 9 * Math.sin(index * 12.9898) ** 3;
    expect(offsetOf(band(0, jitter))).toBe(0);
    // 960 ticks a second.
    for (const late of [30, 60, 110])
      expect(Math.abs(offsetOf(band(late, jitter)) - late)).toBeLessThanOrEqual(6);
  });

  it('is none where one strand alone is late, or where the music itself is off the beat', () => {
    const [clock, bass] = band(0).tracks;
    const [late] = band(60).tracks;
    expect(offsetOf(madeFile(late!, bass!, band(0).tracks[2]!))).toBe(0);
    const offbeats = Array.from(
      { length: 32 },
      (_, index): Stroke => [index * 480 + 240, index * 480 + 400, 60],
    );
    expect(offsetOf(madeFile(madeTrack('Chops', 0, offbeats), bass!, clock!))).toBe(0);
  });

  it('changes nothing but what is reported when a file is shifted, and loses no note', () => {
    fc.assert(
      fc.property(fc.integer({ min: -100, max: 100 }), (late) => {
        const { performance } = deskOf(band(late));
        const found = commonOffset(performance);
        expect(found).toBe(late);
        const moved = movedEarlier(performance, found);
        expect(moved.strands.map(({ notes }) => notes.map(({ on, key }) => [on, key]))).toEqual(
          deskOf(band(0)).performance.strands.map(({ notes }) => notes.map(({ on, key }) => [on, key])),
        );
      }),
      { numRuns: 40 },
    );
  });
});
