import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import type { Item, Part } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { transcribeNow } from '@/core/transcribe';
import { briefOf, madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';

/** What a copyist does with what sequenced files hold (common practice). */
const TICKS = 480;

const scoreOf = (smf: ReturnType<typeof madeFile>) => transcribeNow(readPerformance(smf), EMPTY_BRIEF).score;
const partOf = (name: string, channel: number, strokes: Stroke[]): Part =>
  scoreOf(madeFile(madeTrack(name, channel, strokes))).parts[0]!;
const itemsOf = ({ bars }: Part): Item[] =>
  bars.flatMap(({ voices }) => voices.flatMap(({ items }) => items));
const lengths = (part: Part) => itemsOf(part).map(({ kind, duration }) => `${kind} ${duration / QUARTER}`);
const isStaccato = (item: Item) =>
  item.kind === 'chord' && (item.marks ?? []).some((mark) => mark.kind === 'articulation');

/** Quarters, eighths and halves on and on, each held for a share of its value. */
const gated = (share: number): Stroke[] => {
  const values = [1, 1, 0.5, 0.5, 1, 2, 1, 1];
  let at = 0;
  return Array.from({ length: 40 }, (_, index): Stroke => {
    const value = values[index % values.length]!;
    const on = at * TICKS;
    at += value;
    return [on, on + Math.max(1, Math.round(share * value * TICKS)), 60 + (index % 5)];
  });
};

describe('what a gate holds', () => {
  it.each([1 / 12, 1 / 4, 1 / 3, 3 / 4, 5 / 6, 9 / 10])('for %d of its value is written whole', (share) => {
    const items = itemsOf(partOf('Flute', 0, gated(share)));
    expect(items.filter(({ kind }) => kind === 'rest')).toEqual([]);
    expect(items.every(({ tuplet }) => tuplet === undefined)).toBe(true);
    const short = items.filter(isStaccato).length;
    expect(short > 0).toBe(share < 0.45);
  });

  it('is no gate where one value is held for half: eighths and rests were meant', () => {
    const strokes = Array.from({ length: 32 }, (_, at): Stroke => [at * TICKS, at * TICKS + 240, 60]);
    expect(new Set(lengths(partOf('Flute', 0, strokes)))).toEqual(new Set(['chord 0.5', 'rest 0.5']));
  });
});

describe('a release', () => {
  it('alone makes no tuplet where the part is full of such', () => {
    // Chords held for a twelfth on beats among long notes that end on beats.
    const strokes = Array.from({ length: 24 }, (_, at): Stroke[] =>
      at % 3 === 2
        ? [[at * TICKS, (at + 1) * TICKS, 64]]
        : [[at * TICKS, at * TICKS + (at % 2 === 0 ? 40 : 200), 60]],
    ).flat();
    const items = itemsOf(partOf('Piano', 0, strokes));
    expect(items.some(({ tuplet }) => tuplet)).toBe(false);
  });
});

describe('a drum stroke', () => {
  it('is never tied, wherever it stands', () => {
    const places = [0, 1 / 8, 3 / 8, 5 / 8, 1, 1 + 1 / 3, 2, 2 + 1 / 6, 2.5, 3, 3 + 5 / 6];
    const strokes = Array.from({ length: 8 }, (_, bar) =>
      places.map((place, at): Stroke => {
        const on = Math.round((4 * bar + place) * TICKS);
        return [on, on + 30, at % 3 === 0 ? 36 : 38];
      }),
    ).flat();
    const items = itemsOf(partOf('Drums', 9, strokes));
    const tied = items.filter((item) => item.kind === 'chord' && item.notes.some(({ tieStart }) => tieStart));
    expect(tied).toEqual([]);
  });
});

describe('feet that play alone', () => {
  it('have no rest over them for the hands', () => {
    const strokes = Array.from({ length: 32 }, (_, at): Stroke[] => {
      const on = at * TICKS;
      const foot: Stroke = [on, on + 60, 36];
      return at % 8 < 4 ? [foot, [on, on + 60, 42], [on + 240, on + 300, 42]] : [foot];
    }).flat();
    const part = partOf('Drums', 9, strokes);
    const rests = itemsOf(part).filter((item) => item.kind === 'rest' && !item.hidden);
    expect(rests).toEqual([]);
    expect(part.bars.map(({ voices }) => voices.length)).toEqual(new Array(8).fill(2));
  });
});

describe('keys', () => {
  const scale = (root: number, from: number, bars: number): Stroke[] =>
    Array.from({ length: bars * 8 }, (_, at): Stroke => {
      const on = from + at * 240;
      return [on, on + 230, root + [0, 4, 7, 5, 9, 2, 11, 7][at % 8]!];
    });

  it('change inside a piece where the notes do, though the file says C', () => {
    const score = scoreOf(
      madeFile(
        madeTrack('Flute', 0, [
          ...scale(60, 0, 16),
          ...scale(68, 16 * 1920, 16),
          ...scale(60, 32 * 1920, 16),
        ]),
      ),
    );
    expect(score.keys.map(({ bar, fifths }) => [bar, fifths])).toEqual([
      [0, 0],
      [16, -4],
      [32, 0],
    ]);
  });

  it('of six flats and six sharps take the one like the signature before', () => {
    const into = (root: number) =>
      scoreOf(madeFile(madeTrack('Flute', 0, [...scale(root, 0, 16), ...scale(66, 16 * 1920, 16)]))).keys.map(
        ({ fifths }) => fifths,
      );
    // A♭ to G♭, and E to F♯.
    expect(into(68)).toEqual([-4, -6]);
    expect(into(64)).toEqual([4, 6]);
  });

  it('do not change for a bar or two', () => {
    const score = scoreOf(
      madeFile(
        madeTrack('Flute', 0, [...scale(60, 0, 16), ...scale(62, 16 * 1920, 1), ...scale(60, 17 * 1920, 16)]),
      ),
    );
    expect(score.keys).toHaveLength(1);
  });
});

describe('bars', () => {
  const line = Array.from({ length: 32 }, (_, at): Stroke => [at * TICKS, at * TICKS + 470, 60 + (at % 7)]);

  it('are not cut by a meter that is said again inside of one', () => {
    const track = madeTrack('Flute', 0, line, [meterAt(0, 4, 4), meterAt(3 * 1920 + 960, 4, 4)]);
    const performance = readPerformance(madeFile(track));
    expect(performance.meters).toHaveLength(1);
    expect(performance.mends.map(({ what }) => what)).toEqual([
      '4/4 is said again inside a bar, 4 bars on from where it began.',
    ]);
    expect(scoreOf(madeFile(track)).bars.every(({ length }) => length === 4 * QUARTER)).toBe(true);
  });

  it('that are short say so, and rest in values', () => {
    const late = Array.from({ length: 16 }, (_, at): Stroke => [1200 + at * TICKS, 1650 + at * TICKS, 60]);
    const score = scoreOf(
      madeFile(
        madeTrack('Flute', 0, late, [meterAt(0, 1, 8), meterAt(240, 4, 4)]),
        madeTrack('Oboe', 1, late),
      ),
    );
    const document = writeMusicXml(score);
    expect(document).toMatch(/<measure number="0" implicit="yes">/);
    const upbeat = document.slice(document.indexOf('<measure'), document.indexOf('</measure>'));
    expect(upbeat).not.toContain('measure="yes"');
    expect(upbeat).toContain('<type>eighth</type>');
  });
});

describe('markers that name chords', () => {
  it('are chord symbols over a part, and sections stay rehearsal marks', () => {
    const encode = (text: string) => new TextEncoder().encode(text);
    const marker = (tick: number, text: string) =>
      ({ kind: 'marker', tick, type: 6, bytes: encode(text) }) as const;
    const line = Array.from({ length: 32 }, (_, at): Stroke => [at * TICKS, at * TICKS + 470, 60 + (at % 7)]);
    const texts = ['C 7', 'F 7', 'Dm7', 'G 7', 'Solo', 'C', 'F 7', 'Bb'];
    const score = scoreOf(
      madeFile(
        madeTrack(
          'Piano',
          0,
          line,
          texts.map((text, at) => marker(at * 1920, text)),
        ),
      ),
    );
    const symbols = score.parts[0]!.bars.flatMap(({ marks = [] }, bar) =>
      marks.flatMap((mark) =>
        mark.kind === 'chord-symbol' ? [`${bar + 1} ${mark.symbol.root.step} ${mark.symbol.kind}`] : [],
      ),
    );
    expect(symbols).toEqual([
      '1 C dominant',
      '2 F dominant',
      '3 D minor-seventh',
      '4 G dominant',
      '6 C major',
      '7 F dominant',
      '8 B major',
    ]);
    expect(score.rehearsals).toEqual([{ bar: 4, text: 'Solo' }]);
  });
});

describe('a note crushed into the next on the beat', () => {
  /** Quarters of which every fourth is begun by the key below, for a twelfth of a beat at 120. */
  const crushed = Array.from({ length: 32 }, (_, at): Stroke[] => {
    const key = 60 + (at % 5);
    const on = at * TICKS;
    return at % 4 === 2
      ? [
          [on, on + 30, key - 1],
          [on + 40, on + 460, key],
        ]
      : [[on, on + 460, key]];
  }).flat();

  it('is a grace note, and its note a quarter on the beat', () => {
    const items = itemsOf(partOf('Flute', 0, crushed));
    expect(items.map(({ kind, duration }) => [kind, duration / QUARTER])).toEqual(
      Array.from({ length: 32 }, () => ['chord', 1]),
    );
    const graces = items.flatMap((item) => (item.kind === 'chord' ? (item.graces ?? []) : []));
    expect(graces).toHaveLength(8);
  });

  it('is none in a run, nor where what follows is as short', () => {
    const runs = Array.from({ length: 16 }, (_, beat): Stroke[] =>
      Array.from({ length: 8 }, (_, at): Stroke => {
        const on = beat * 2 * TICKS + at * 60;
        return [on, on + 58, 60 + at];
      }),
    ).flat();
    const items = itemsOf(partOf('Flute', 0, runs));
    expect(items.every((item) => item.kind === 'rest' || !item.graces)).toBe(true);
  });
});

describe('a rest', () => {
  it('is not written for less than a tenth of a second, which is how a note is let go', () => {
    // Eighths at 200 a minute, loosely held now and then for a 16th only.
    const tempo = { kind: 'tempo' as const, tick: 0, microsPerQuarter: 300_000 };
    const strokes = Array.from({ length: 64 }, (_, at): Stroke => {
      const on = at * 240 + ((at * 7) % 11);
      return [on, on + (at % 5 === 2 ? 125 : 200 + ((at * 13) % 30)), 60 + (at % 7)];
    });
    const part = scoreOf(madeFile({ events: [tempo] }, madeTrack('Oboe', 0, strokes))).parts[0]!;
    expect(new Set(lengths(part))).toEqual(new Set(['chord 0.5']));
  });
});

describe('triplets', () => {
  /** Long and short in one part; in the other all three, so often among them. */
  const band = (threes: number) => {
    const third = TICKS / 3;
    const pairs = Array.from({ length: 64 }, (_, beat): Stroke[] => [
      [beat * TICKS, beat * TICKS + 300, 60 + (beat % 5)],
      [beat * TICKS + 2 * third, beat * TICKS + 2 * third + 150, 62 + (beat % 3)],
    ]).flat();
    const hat = Array.from({ length: 64 }, (_, beat): Stroke[] =>
      [0, 1, 2]
        .filter((at) => at !== 1 || beat % threes === 0)
        .map((at): Stroke => [beat * TICKS + at * third, beat * TICKS + at * third + 60, 42]),
    ).flat();
    return scoreOf(madeFile(madeTrack('Clarinet', 0, pairs), madeTrack('Drums', 9, hat)));
  };

  it('are written as such where threes divide the beat throughout', () => {
    expect(band(1).swings ?? []).toEqual([]);
  });

  it('are few within a swung passage', () => {
    expect(band(8).swings).toMatchObject([{ from: 0, value: 'eighth' }]);
  });
});

describe('what is played closer than anybody reads', () => {
  /** A shuffle at 216 quarter notes a minute: beats and third strokes, some of them 20 ms late. */
  const tempo = { kind: 'tempo' as const, tick: 0, microsPerQuarter: Math.round(60e6 / 216) };

  it('is late where it stands alone, and no 32nd of a triplet', () => {
    const third = TICKS / 3;
    const hat = Array.from({ length: 64 }, (_, beat): Stroke[] =>
      [0, 1, 2].map((at): Stroke => {
        const on = beat * TICKS + at * third + (at === 2 && beat % 8 === 5 ? 35 : 0);
        return [on, on + 40, 42];
      }),
    ).flat();
    const part = scoreOf(madeFile({ events: [tempo] }, madeTrack('Drums', 9, hat))).parts[0]!;
    const attacks = itemsOf(part).filter(({ kind }) => kind === 'chord');
    expect(attacks.every(({ onset }) => Number.isInteger((onset * 3) / QUARTER))).toBe(true);
  });

  it('is a flam where it is a stroke on the same drum just before another, even on the grid', () => {
    const hat = Array.from({ length: 64 }, (_, beat): Stroke[] =>
      [0, 160, ...(beat % 4 === 1 ? [280] : []), 320].map((at): Stroke => {
        const on = beat * TICKS + at;
        return [on, on + 40, 42];
      }),
    ).flat();
    const part = scoreOf(madeFile({ events: [tempo] }, madeTrack('Drums', 9, hat))).parts[0]!;
    const attacks = itemsOf(part).filter((item) => item.kind === 'chord');
    expect(attacks.every(({ onset }) => Number.isInteger((onset * 3) / QUARTER))).toBe(true);
    expect(attacks.filter(({ graces }) => graces)).toHaveLength(16);
  });

  it('is one chord where it is held together: a strum', () => {
    const strums = Array.from({ length: 32 }, (_, beat): Stroke[] =>
      [3, 24, 42, 58].map((late, at): Stroke => {
        const on = beat * TICKS + (beat % 16 === 2 ? late : 0);
        return [on, (beat + 1) * TICKS - 20, 48 + 5 * at];
      }),
    ).flat();
    const part = scoreOf(madeFile(madeTrack('Guitar', 0, strums))).parts[0]!;
    expect(new Set(lengths(part))).toEqual(new Set(['chord 1']));
    expect(itemsOf(part).every((item) => item.kind === 'chord' && item.notes.length === 4)).toBe(true);
  });
});

describe('values by choice', () => {
  const read = (strokes: Stroke[], ...directives: PlainDirective[]): Part =>
    transcribeNow(readPerformance(madeFile(madeTrack('Flute', 0, strokes))), briefOf(...directives)).score
      .parts[0]!;
  /** A bar of notes, in quarter notes, over and over. */
  const bars = (...values: [length: number, held: number][]): Stroke[] =>
    Array.from({ length: 8 }, (_, bar): Stroke[] => {
      let at = 4 * bar;
      return values.map(([length, held], index): Stroke => {
        const on = Math.round(at * TICKS);
        at += length;
        return [on, on + Math.round(held * TICKS), 60 + index];
      });
    }).flat();
  const values = (part: Part) =>
    itemsOf(part)
      .slice(0, 4)
      .map(({ kind, value }) => `${kind} ${value.type}${'.'.repeat(value.dots)}`);

  it('are tied without dots, and have two where that is asked for', () => {
    const strokes = bars([1.5, 1.5], [0.5, 0.5], [1.75, 1.75], [0.25, 0.25]);
    const with_ = (dots: 0 | 1 | 2) => values(read(strokes, { kind: 'values', dots, short: 'heard' }));
    expect(with_(0)).toEqual(['chord quarter', 'chord eighth', 'chord eighth', 'chord quarter']);
    expect(with_(1)).toEqual(['chord quarter.', 'chord eighth', 'chord quarter', 'chord eighth.']);
    expect(with_(2)).toEqual(['chord quarter.', 'chord eighth', 'chord quarter..', 'chord 16th']);
  });

  it('are staccato or have rests, in the bars that it is said of', () => {
    const short = bars([1, 0.5], [1, 0.5], [1, 0.5], [1, 0.5]);
    expect(values(read(short))).toEqual(['chord eighth', 'rest eighth', 'chord eighth', 'rest eighth']);
    const staccato = read(short, { kind: 'values', dots: 1, short: 'staccato', from: 0, to: 4 * TICKS });
    expect(values(staccato)).toEqual(Array(4).fill('chord quarter'));
    expect(staccato.bars[0]!.voices[0]!.items.every(isStaccato)).toBe(true);
    expect(staccato.bars[1]!.voices[0]!.items).toHaveLength(8);
    const shorter = bars([1, 0.25], [1, 0.25], [1, 0.25], [1, 0.25]);
    expect(values(read(shorter))).toEqual(Array(4).fill('chord quarter'));
    const rests = values(read(shorter, { kind: 'values', dots: 1, short: 'rests' }));
    expect(rests.slice(0, 2)).toEqual(['chord 16th', 'rest 16th']);
  });
});
