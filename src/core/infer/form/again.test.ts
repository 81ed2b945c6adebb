import { describe, expect, it } from 'vitest';
import { attacked, madeFrame, sketched } from '../../../../tests/helpers/sketch';
import type { Attack } from '../../model/sketch';
import { QUARTER } from '../../model/time';
import { likeEachTime } from './again';

const frame = madeFrame(16);
/** Eighths of eight bars, each at its place, held to the next, with keys that do not come again within them. */
const bars = Array.from({ length: 64 }, (_, at) => ({ at: at / 2, key: 40 + ((at * 7) % 50) }));
const stroke = (at: number, key: number, read = at, length = 0.5): Attack => {
  const note = sketched(at, 0.5, key);
  note.start = Math.round(read * QUARTER);
  note.end = Math.round((read + length) * QUARTER);
  return { ...attacked(note), start: note.start };
};
const placesIn = (attacks: readonly Attack[]) =>
  likeEachTime([attacks], frame, [])[0]!.map(([id, { start, end }]) => [
    Number(id.split('/').at(-1)) % 1000,
    start / QUARTER,
    end / QUARTER,
  ]);
const first = bars.map(({ at, key }) => stroke(at, key));

describe('what is played again', () => {
  it('is left as it is where it is read alike, and where nothing comes again', () => {
    expect(placesIn([...first, ...bars.map(({ at, key }) => stroke(at + 32, key))])).toEqual([]);
    expect(placesIn(first)).toEqual([]);
  });

  it('stands where it lies nearest to what was played every time', () => {
    // Played a little late, and read a 16th later the second time.
    const again = bars.map(({ at, key }, index) =>
      index === 21 ? stroke(at + 32.04, key, at + 32.25, 0.25) : stroke(at + 32, key),
    );
    expect(placesIn([...first, ...again])).toEqual([[bars[21]!.key, 42.5, 43]]);
  });

  it('lasts as it does plainest', () => {
    const again = bars.map(({ at, key }, index) =>
      index === 30 ? stroke(at + 32, key, at + 32, 0.25) : stroke(at + 32, key),
    );
    expect(placesIn([...first, ...again])).toEqual([[bars[30]!.key, 47, 47.5]]);
  });

  it('is not what has other keys', () => {
    const again = bars.map(({ at, key }, index) =>
      stroke(at + 32, key + (index % 4 === 0 ? 1 : 0), at + 32, 0.25),
    );
    expect(placesIn([...first, ...again])).toEqual([]);
  });
});
