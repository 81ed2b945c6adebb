import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { EMPTY_BRIEF } from '../decisions/brief';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { transcribeNow } from '.';

const lyric = (tick: number, text: string): SmfEvent => ({
  kind: 'lyric',
  tick,
  type: 5,
  bytes: new TextEncoder().encode(text),
});
const melody: Stroke[] = [0, 480, 960, 1200, 1440, 1920, 2880, 3360].map((on, at) => [
  on,
  on + 230,
  67 + (at % 4),
]);
const chords: Stroke[] = [0, 960, 1920, 2880].flatMap((on): Stroke[] => [
  [on, on + 900, 48],
  [on, on + 900, 52],
]);
const words = melody.map(([on], at) => lyric(on, 'abcdefgh'[at]!));
/** The syllables of each part of a file. */
const sungIn = (smf: ReturnType<typeof madeFile>) => {
  const { score, lostLyrics } = transcribeNow(readPerformance(smf), EMPTY_BRIEF);
  const byPart = score.parts.map(({ name, bars }) => [
    name,
    bars
      .flatMap(({ voices }) => voices.flatMap(({ items }) => items))
      .flatMap((item) => (item.kind === 'chord' ? (item.lyrics ?? []).map(({ text }) => text) : []))
      .join(''),
  ]);
  return { ...Object.fromEntries(byPart), lost: lostLyrics.length };
};

describe('lyrics', () => {
  it('of a track of their own find the line that they are sung to, whatever it is named', () => {
    const file = madeFile({ events: words }, madeTrack('Piano', 0, chords), madeTrack('Oboe', 1, melody));
    expect(sungIn(file)).toEqual({ Piano: '', Oboe: 'abcdefgh', lost: 0 });
  });

  it('of a track whose notes are others go to the line that they are sung to', () => {
    const file = madeFile(
      madeTrack(
        'Bass Guitar',
        0,
        [
          [240, 700, 36],
          [1700, 1900, 40],
          [2640, 2800, 41],
        ],
        words,
      ),
      madeTrack('Flute', 1, melody),
    );
    expect(sungIn(file)).toMatchObject({ Flute: 'abcdefgh', lost: 0 });
  });

  it('stay with the notes of their own track where these are sung, though another line goes along', () => {
    const below = melody.map(([on, off, key]): Stroke => [on, off, key - 4]);
    const file = madeFile(madeTrack('Soprano', 0, melody), madeTrack('Alto', 1, below, words));
    expect(sungIn(file)).toEqual({ Soprano: '', Alto: 'abcdefgh', lost: 0 });
  });

  it('are never lost between parts: each is sung once, or said', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3840 }), { minLength: 1, maxLength: 12 }), (ticks) => {
        const some = ticks.toSorted((a, b) => a - b).map((tick) => lyric(tick, 'x'));
        const file = madeFile({ events: some }, madeTrack('Piano', 0, chords), madeTrack('Oboe', 1, melody));
        const { lost, ...sung } = sungIn(file);
        expect(Object.values(sung).join('').length + Number(lost)).toBe(ticks.length);
      }),
      { numRuns: 25 },
    );
  });
});
