import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { staccatoShare } from '@/core/infer/lengths/gates';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import type { SmfEvent } from '@/core/sources/smf/events';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

/** How notes are joined or let go: `_` runs into the next, `.` is half as long, anything else is let go before it. */
type Manner = string;

/** Eighths at 120 a minute, each in its manner. */
const strokesOf = (manners: Manner): Stroke[] =>
  [...manners].map((manner, at): Stroke => {
    const held =
      manner === '_'
        ? 240 + 22 + ((at * 7) % 9)
        : manner === '.'
          ? 115 + ((at * 5) % 9)
          : 218 - ((at * 3) % 7);
    return [at * 240 + ((at * 5) % 4), at * 240 + held, 60 + ((at * 5) % 12)];
  });

const read = (name: string, strokes: readonly Stroke[], more: SmfEvent[] = []): Score =>
  transcribeNow(deskOf(madeFile(madeTrack(name, 0, strokes, more))).performance, EMPTY_BRIEF).score;

/** First and last notes of slurs, counted in eighths. */
function slursOf(score: Score): [number, number][] {
  const places = new Map<string, number>();
  score.parts[0]!.bars.forEach(({ voices }, bar) => {
    for (const item of voices[0]!.items)
      if (item.kind === 'chord')
        places.set(item.notes[0]!.id, (2 * (score.bars[bar]!.start + item.onset)) / QUARTER);
  });
  return (score.parts[0]!.spanners ?? []).flatMap((spanner): [number, number][] =>
    spanner.kind === 'slur' && 'note' in spanner.from && 'note' in spanner.to
      ? [[places.get(spanner.from.note)!, places.get(spanner.to.note)!]]
      : [],
  );
}

const dotsOf = (score: Score): string =>
  score.parts[0]!.bars.flatMap(({ voices }) => voices[0]!.items)
    .map((item) =>
      item.kind === 'chord' &&
      item.marks?.some((mark) => mark.kind === 'articulation' && mark.name === 'staccato')
        ? '.'
        : '-',
    )
    .join('');

const REPEATED = 6;

describe('slurs', () => {
  it('go from note to note as they were played, also over the bar line and over two notes', () => {
    const manners = '___-_-__ ___-----'.replace(' ', '-').repeat(REPEATED);
    const first = slursOf(read('Violin', strokesOf(manners))).filter(([from]) => from < 17);
    expect(first).toEqual([
      [0, 3],
      [4, 5],
      [6, 8],
      [9, 12],
    ]);
  });

  it('are not read where the two ways cannot be told apart', () => {
    const random = [13, -9, 22, 4, -17, 8, -3, 15, -21, 1, 11, -6];
    const strokes = Array.from({ length: 120 }, (_, at): Stroke => {
      const off = random[at % random.length]! + (at % 5);
      return [at * 240, at * 240 + 240 + off, 60 + (at % 7)];
    });
    expect(slursOf(read('Violin', strokes))).toEqual([]);
  });

  it('are not for keyboards, nor for what is plucked', () => {
    const manners = '___-'.repeat(4 * REPEATED);
    expect(slursOf(read('Piano', strokesOf(manners)))).toEqual([]);
    expect(slursOf(read('Violin pizz', strokesOf(manners)))).toEqual([]);
    expect(slursOf(read('Violin', strokesOf(manners)))).not.toEqual([]);
  });

  it('of singers join the notes of a syllable (common practice)', () => {
    const lyric = (tick: number, text: string): SmfEvent => ({
      kind: 'lyric',
      tick,
      type: 5,
      bytes: new TextEncoder().encode(text),
    });
    const words = [0, 240, 960, 1200, 1440].map((tick) => lyric(tick, 'la '));
    // The second syllable is sung on three notes, the others on one each.
    const strokes = [0, 1, 2, 3, 4, 5, 6].map((at): Stroke => [at * 240, at * 240 + 235, 60 + at]);
    expect(slursOf(read('Soprano', strokes, words))).toEqual([[1, 3]]);
  });
});

describe('staccato', () => {
  it('is every short note of a part that also holds notes long', () => {
    const manners = '--..-.--'.repeat(2 * REPEATED);
    expect(dotsOf(read('Violin', strokesOf(manners))).slice(0, 8)).toBe('--..-.--');
  });

  it('held to the tick is a second gate beside that of the others', () => {
    const manners = '--..-.--'.repeat(2 * REPEATED);
    const strokes = [...manners].map(
      (manner, at): Stroke => [at * 240, at * 240 + (manner === '.' ? 120 : 220), 60 + ((at * 5) % 12)],
    );
    const score = read('Violin', strokes);
    expect(dotsOf(score).slice(0, 8)).toBe('--..-.--');
    expect(score.parts[0]!.bars[0]!.voices[0]!.items).toHaveLength(8);
  });

  it('lies below a share between the two ways, and below the usual one where there is one way (property)', () => {
    const near = (share: number) => fc.double({ min: share - 0.08, max: share + 0.08, noNaN: true });
    const list = (share: number) => fc.array(near(share), { minLength: 20, maxLength: 60 });
    fc.assert(
      fc.property(list(0.48), list(0.93), (short, long) => {
        const share = staccatoShare([...short, ...long]);
        expect(share).toBeGreaterThan(0.5);
        expect(share).toBeLessThan(Math.min(...long));
      }),
    );
    fc.assert(
      fc.property(list(0.85), (shares) => {
        expect(staccatoShare(shares)).toBe(0.45);
      }),
    );
  });
});

describe('trills', () => {
  /** A quarter, a trill of a half note on two keys as players make them, uneven, and a quarter. */
  const trilled = (low: number, high: number): Stroke[] => [
    [0, 470, low],
    ...Array.from({ length: 11 }, (_, at): Stroke => {
      const on = 480 + at * 85 + ((at * 7) % 13);
      return [on, on + 80, at % 2 === 0 ? low : high];
    }),
    [1440, 1910, low],
  ];
  const chordsOf = ({ parts }: Score) =>
    parts[0]!.bars[0]!.voices[0]!.items.flatMap((item) => (item.kind === 'chord' ? item : []));
  const withTrills = (strokes: readonly Stroke[], use: 'shown' | 'left') => {
    const { performance, brief } = deskOf(
      madeFile(madeTrack('Flute', 0, strokes)),
      { kind: 'marks', what: 'trills', use },
      { kind: 'key', fifths: 0, minor: false },
    );
    return transcribeNow(performance, brief);
  };

  it('are offered, and written as one note that has all strokes for its sources', () => {
    const left = withTrills(trilled(67, 69), 'left');
    expect(left.told!.offers[0]!.filter(({ kind }) => kind === 'trills')).toMatchObject([
      { mark: 'trill', heard: [11], shown: false },
    ]);
    const { score, account } = withTrills(trilled(67, 69), 'shown');
    const [, trill] = chordsOf(score);
    expect(trill).toMatchObject({
      duration: 2 * QUARTER,
      marks: [{ kind: 'ornament', name: 'trill-mark' }],
    });
    expect(trill!.notes[0]!.sources).toHaveLength(11);
    expect(unaccounted(account)).toBe(0);
    expect(account.marks).toBe(10);
    expect(chordsOf(score)).toHaveLength(3);
  });

  it('say by their sign which upper note the signature does not have (common practice)', () => {
    const signOf = (low: number, high: number) =>
      chordsOf(withTrills(trilled(low, high), 'shown').score)[1]!.marks?.find(
        ({ kind }) => kind === 'ornament',
      );
    expect(signOf(67, 69)).not.toHaveProperty('accidentals');
    expect(signOf(67, 68)).toHaveProperty('accidentals', [{ name: 'flat', placement: 'above' }]);
  });

  it('are no fast scales, and no figures that one counts', () => {
    const scale = Array.from({ length: 12 }, (_, at): Stroke => [at * 80, at * 80 + 75, 60 + at]);
    const eighths = Array.from(
      { length: 12 },
      (_, at): Stroke => [at * 240, at * 240 + 230, 60 + 2 * (at % 2)],
    );
    for (const strokes of [scale, eighths])
      expect(withTrills(strokes, 'left').told!.offers[0]!.filter(({ kind }) => kind === 'trills')).toEqual(
        [],
      );
  });
});

describe('mordents and turns', () => {
  /** A quarter, quick strokes and the note that they lead to, up to the third quarter, and a half note. */
  const played = (keys: readonly number[], stroke = 60): Stroke[] => [
    [0, 470, 60],
    ...keys.map((key, at): Stroke => {
      const on = 480 + stroke * at;
      return [on, at === keys.length - 1 ? 955 : on + stroke - 2, key];
    }),
    [960, 1910, 62],
  ];
  const read = (strokes: readonly Stroke[], use: 'shown' | 'left' = 'left') => {
    const { performance, brief } = deskOf(
      madeFile(madeTrack('Flute', 0, strokes)),
      { kind: 'marks', what: 'trills', use },
      { kind: 'key', fifths: 0, minor: false },
    );
    return transcribeNow(performance, brief);
  };
  const heard = (strokes: readonly Stroke[]) =>
    read(strokes).told!.offers[0]!.flatMap(({ kind, mark }) => (kind === 'trills' ? [mark] : []));

  it('are told by which neighbours are struck, and are one note with a sign where they are chosen', () => {
    expect(heard(played([67, 69, 67]))).toEqual(['upper mordent']);
    expect(heard(played([67, 65, 67]))).toEqual(['mordent']);
    expect(heard(played([69, 67, 65, 67]))).toEqual(['turn']);
    expect(heard(played([65, 67, 69, 67]))).toEqual(['inverted turn']);
    const { score, account } = read(played([67, 66, 67]), 'shown');
    const items = score.parts[0]!.bars[0]!.voices[0]!.items;
    const [, main] = items.flatMap((item) => (item.kind === 'chord' ? item : []));
    expect(main).toMatchObject({
      marks: [{ kind: 'ornament', name: 'mordent', accidentals: [{ name: 'sharp', placement: 'below' }] }],
    });
    expect(main!.notes[0]!.sources).toHaveLength(3);
    expect(unaccounted(account)).toBe(0);
    expect(account.marks).toBe(2);
    expect(items.filter(({ kind }) => kind === 'chord')).toHaveLength(3);
  });

  it('are no figures that one counts, no runs, and nothing that leaps', () => {
    expect(heard(played([67, 69, 67], 120))).toEqual([]);
    expect(heard(played([67, 71, 67]))).toEqual([]);
    expect(heard(played([60, 62, 64, 65, 64, 65, 67]))).toEqual([]);
  });
});
