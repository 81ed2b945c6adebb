import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import { NO_LEAD } from '@/core/infer/lead/lead-of';
import type { Item, Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { soundedNotes } from '@/core/perform/play';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { briefOf, madeFile, madeTrack, meterAt, type Stroke, trackName } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const TICKS = 480;
/** Standard deviation of an attack, in ticks: 12 ms at 120. */
const JITTER = 12;

/** Notes as [start, length] in quarter notes, all but some on one key after another. */
type Written = [start: number, length: number, key?: number];

/** The notes as a player would strike them. */
function played(notes: readonly Written[], random: () => number, ahead = 0): Stroke[] {
  return notes.map(([start, length, key], index): Stroke => {
    const jitter = (random() + random() + random() - 1.5) * 2 * JITTER;
    const on = Math.max(0, Math.round(start * TICKS + jitter - ahead));
    return [on, Math.round(on + length * TICKS * (0.8 + 0.15 * random())), key ?? 60 + ((index * 5) % 13)];
  });
}

function readPlayed(
  notes: readonly Written[],
  {
    in: signature = [4, 4],
    as = 'Oboe',
    with: directives = [],
    seed = 3,
  }: {
    in?: [number, number];
    as?: string;
    with?: PlainDirective[];
    seed?: number;
  } = {},
): Transcription {
  const random = seeded(seed);
  const head = { events: [trackName('clock'), meterAt(0, ...signature)] };
  const smf = madeFile(head, madeTrack(as, 0, played(notes, random)));
  const brief = briefOf(...directives);
  const performance = readPerformance(smf, {
    ...(directives.find((each) => each.kind === 'clock') as object | undefined),
  });
  return transcribeNow(performance, brief);
}

const wordOf = (item: Item): string => {
  const tuplet = item.tuplet ? `(${item.tuplet.actual}:${item.tuplet.normal})` : '';
  const value = `${item.value.type}${'.'.repeat(item.value.dots)}${tuplet}`;
  if (item.kind === 'rest') return item.wholeBar ? 'R' : `r${value}`;
  const graces = item.graces ? `${'g'.repeat(item.graces.length)} ` : '';
  const tie = item.notes.some((note) => note.tieStart) ? '~' : '';
  const dot = item.marks?.some((mark) => mark.kind === 'articulation' && mark.name === 'staccato') ? '!' : '';
  return `${graces}${value}${tie}${dot}`;
};

/** The values of the first voice, `|` between bars. */
const valuesOf = (score: Score, part = 0): string =>
  score.parts[part]!.bars.map((bar) => bar.voices[0]!.items.map(wordOf).join(' ')).join(' | ');

describe('textbook rhythms, played with 12 ms of jitter', () => {
  // Cases as in handbooks of notation; the written forms are common practice.
  it.each<[string, [number, number], Written[], string]>([
    [
      'a hemiola: three halves over two bars of three',
      [3, 4],
      [
        [0, 1],
        [1, 1],
        [2, 1],
        [3, 2],
        [5, 2],
        [7, 2],
        [9, 3],
      ],
      'quarter quarter quarter | half quarter~ | quarter half | half.',
    ],
    [
      'quarter-note triplets, and again over the middle of the bar',
      [4, 4],
      [
        [0, 2 / 3],
        [2 / 3, 2 / 3],
        [4 / 3, 2 / 3],
        [2, 2],
        [4, 1],
        [5, 1],
        [6, 2 / 3],
        [20 / 3, 2 / 3],
        [22 / 3, 2 / 3],
      ],
      'quarter(3:2) quarter(3:2) quarter(3:2) half | quarter quarter quarter(3:2) quarter(3:2) quarter(3:2)',
    ],
    [
      'dotted and syncopated quarters, tied over the middle of the bar',
      [4, 4],
      [
        [0, 0.5],
        [0.5, 1],
        [1.5, 1],
        [2.5, 1],
        [3.5, 0.5],
        [4, 1.5],
        [5.5, 0.5],
        [6, 2],
      ],
      'eighth quarter eighth~ eighth quarter eighth | quarter. eighth half',
    ],
    [
      'five eighths in groups of three and two',
      [5, 8],
      [
        [0, 0.5],
        [0.5, 0.5],
        [1, 0.5],
        [1.5, 1],
        [2.5, 1.5],
        [4, 0.5],
        [4.5, 0.5],
      ],
      'eighth eighth eighth quarter | quarter. eighth eighth',
    ],
    [
      'compound eighths and dotted figures in six',
      [6, 8],
      [
        [0, 0.75],
        [0.75, 0.25],
        [1, 0.5],
        [1.5, 1],
        [2.5, 0.5],
        [3, 3],
      ],
      'eighth. 16th eighth quarter eighth | half.',
    ],
    [
      'duplets in six, as dotted eighths (both ways of writing are in use)',
      [6, 8],
      [
        [0, 0.5],
        [0.5, 0.5],
        [1, 0.5],
        [1.5, 0.75],
        [2.25, 0.75],
        [3, 0.75],
        [3.75, 0.75],
        [4.5, 1.5],
      ],
      'eighth eighth eighth eighth. eighth. | eighth. eighth. quarter.',
    ],
    [
      'triplets among plain eighths',
      [4, 4],
      [
        [0, 0.5],
        [0.5, 0.5],
        [1, 1 / 3],
        [4 / 3, 1 / 3],
        [5 / 3, 1 / 3],
        [2, 0.5],
        [2.5, 0.5],
        [3, 1],
      ],
      'eighth eighth eighth(3:2) eighth(3:2) eighth(3:2) eighth eighth quarter',
    ],
    [
      'double dots',
      [4, 4],
      [
        [0, 1.75],
        [1.75, 0.25],
        [2, 1.75],
        [3.75, 0.25],
        [4, 4],
      ],
      'quarter~ eighth. 16th quarter~ eighth. 16th | whole',
    ],
  ])('%s', (_, signature, notes, expected) => {
    for (const seed of [1, 2, 3])
      expect(valuesOf(readPlayed(notes, { in: signature, seed }).score)).toBe(expected);
  });

  it('an upbeat, with the bar that completes it at the end', () => {
    const notes: Written[] = [
      [0, 1],
      [1, 1],
      [2, 1],
      [3, 1],
      [4, 1],
      [5, 1],
      [6, 1],
    ];
    const { score } = readPlayed(notes, { in: [3, 4], with: [{ kind: 'clock', upbeatQuarters: 1 }] });
    expect(score.bars.map((bar) => bar.number)).toEqual([0, 1, 2]);
    expect(valuesOf(score)).toBe('quarter | quarter quarter quarter | quarter quarter quarter');
  });

  it('grace notes just before the beat take no time', () => {
    const strokes: Stroke[] = [
      [0, 470, 60],
      [482, 950, 62],
      [893, 950, 66],
      [958, 1430, 67],
      [1441, 1900, 64],
      [1853, 1910, 63],
      [1918, 3800, 64],
    ];
    const { score } = transcribeNow(readPerformance(madeFile(madeTrack('Oboe', 0, strokes))), EMPTY_BRIEF);
    expect(valuesOf(score)).toBe('quarter quarter g quarter quarter | g whole');
    const xml = parseXml(writeMusicXml(score));
    expect(schemaFaults(xml)).toEqual([]);
    expect(readClosed(xml).faults).toEqual([]);
  });

  it('rolled chords stay chords, and two hands that scatter stay together', () => {
    const random = seeded(8);
    const strokes = Array.from({ length: 24 }, (_, beat): Stroke[] => {
      const at = 20 + beat * TICKS;
      const right = (random() - 0.5) * 40;
      const left = (random() - 0.5) * 40;
      return [
        [Math.round(at + left), at + 440, 48],
        [Math.round(at + right), at + 450, 72],
        [Math.round(at + right + 9), at + 450, 76],
        [Math.round(at + right + 18), at + 450, 79],
      ];
    }).flat();
    const { score } = transcribeNow(readPerformance(madeFile(madeTrack('Piano', 0, strokes))), EMPTY_BRIEF);
    for (const bar of score.parts[0]!.bars) {
      expect(bar.voices.map((line) => line.items.length)).toEqual([4, 4]);
      const [upper] = bar.voices;
      for (const item of upper!.items) expect(item.kind === 'chord' && item.notes.length).toBe(3);
    }
  });

  it('legato overlaps become slurs, never ties', () => {
    const strokes = Array.from(
      { length: 16 },
      (_, at): Stroke => [at * 240 + ((at * 7) % 11), at * 240 + 265, 60 + (at % 8)],
    );
    const { score } = transcribeNow(readPerformance(madeFile(madeTrack('Flute', 0, strokes))), EMPTY_BRIEF);
    const chords = score.parts[0]!.bars.flatMap((bar) => bar.voices[0]!.items);
    expect(chords.every((item) => item.kind === 'chord' && !item.notes[0]!.tieStart)).toBe(true);
    expect(chords.filter((item) => item.kind === 'chord')).toHaveLength(16);
    expect(score.parts[0]!.spanners!.map(({ kind }) => kind)).toEqual(['slur', 'slur']);
    const xml = parseXml(writeMusicXml(score));
    expect(schemaFaults(xml)).toEqual([]);
  });

  it('a phrase that ends short before a rest stays short', () => {
    const notes: Written[] = [
      [0, 1],
      [1, 1],
      [2, 1],
      [4, 1],
      [5, 1],
      [6, 1],
      [8, 1],
      [9, 1],
      [10, 2],
    ];
    expect(valuesOf(readPlayed(notes).score)).toBe(
      'quarter quarter quarter rquarter | quarter quarter quarter rquarter | quarter quarter half',
    );
  });

  it('short strokes on the beat are staccato, not specks with rests', () => {
    const strokes = Array.from(
      { length: 16 },
      (_, at): Stroke => [at * 480 + ((at * 5) % 9), at * 480 + 130, 60],
    );
    const { score } = transcribeNow(readPerformance(madeFile(madeTrack('Horn', 0, strokes))), EMPTY_BRIEF);
    const symbols = score.parts[0]!.bars.flatMap((bar) => bar.voices[0]!.items).length;
    expect(symbols).toBeLessThanOrEqual(32);
    expect(valuesOf(score)).not.toContain('32nd');
  });
});

describe('a programmed part', () => {
  const programmed = (as: string, strokes: Stroke[]) =>
    transcribeNow(readPerformance(madeFile(madeTrack(as, 0, strokes))), EMPTY_BRIEF).score;

  it('keeps a roll of 64ths', () => {
    const steps = [
      0,
      480,
      960,
      1440,
      1800,
      1830,
      1860,
      1890,
      ...Array.from({ length: 12 }, (_, at) => 1920 + 480 * at),
    ];
    const strokes = steps.map((on, at): Stroke => [on, steps[at + 1] ?? 7680, 43]);
    expect(valuesOf(programmed('Timpani', strokes))).toBe(
      [
        'quarter quarter quarter eighth. 64th 64th 64th 64th',
        ...Array(3).fill('quarter quarter quarter quarter'),
      ].join(' | '),
    );
  });

  it('is one line where its notes ring on into the next', () => {
    const strokes = Array.from(
      { length: 32 },
      (_, at): Stroke => [at * 240, at * 240 + (at < 31 ? 400 : 240), 36 + ((at * 5) % 9)],
    );
    const score = programmed('Bass Guitar', strokes);
    expect(valuesOf(score)).toBe(Array(4).fill(Array(8).fill('eighth').join(' ')).join(' | '));
    expect(score.parts[0]!.bars.every(({ voices }) => voices.length === 1)).toBe(true);
  });

  it('has plain values where a gate lets go of them early', () => {
    const strokes = Array.from(
      { length: 64 },
      (_, at): Stroke => [at * 120, at * 120 + 80, 60 + ((at * 5) % 9)],
    );
    expect(valuesOf(programmed('Synthesizer', strokes))).toBe(
      Array(4).fill(Array(16).fill('16th').join(' ')).join(' | '),
    );
  });
});

describe('an ensemble', () => {
  const bars = 16;
  const melody = Array.from({ length: bars * 4 }, (_, at): Written => [at, 1]);
  const lower = Array.from({ length: bars * 8 }, (_, at): Written => [at / 2, 0.5]);

  const together = (ahead: number, seed: number) => {
    const random = seeded(seed);
    return transcribeNow(
      readPerformance(
        madeFile(
          madeTrack('Violin', 0, played(melody, random, ahead)),
          madeTrack('Viola', 1, played(lower, random)),
          madeTrack('Cello', 2, played(lower, random)),
        ),
      ),
      EMPTY_BRIEF,
    );
  };

  it('finds how far a part sounds ahead, even by a whole 16th', () => {
    for (const [ahead, seed] of [
      [60, 1],
      [90, 2],
      [120, 3],
    ] as const) {
      const { readings, score } = together(ahead, seed);
      // At 120 quarter notes a minute, 480 ticks take half a second.
      expect(Math.abs(readings[0]!.leads[0]!.seconds - ahead / 960)).toBeLessThan(0.01);
      expect(readings[1]!.leads).toEqual([NO_LEAD]);
      expect(valuesOf(score)).toBe(Array(bars).fill('quarter quarter quarter quarter').join(' | '));
    }
  });

  it('tells two leads of one strand apart: slow long notes and quick short ones', () => {
    // Sampled strings: long bows speak late and are played early, short ones hardly (common practice).
    const figure = Array.from({ length: bars }, (_, bar): Written[] => [
      [4 * bar, 1],
      [4 * bar + 1, 0.5],
      [4 * bar + 1.5, 0.5],
      [4 * bar + 2, 1],
      [4 * bar + 3, 0.25],
      [4 * bar + 3.25, 0.25],
      [4 * bar + 3.5, 0.25],
      [4 * bar + 3.75, 0.25],
    ]).flat();
    for (const [long, short, seed] of [
      [96, 19, 1],
      [77, 0, 2],
      [110, 38, 3],
    ] as const) {
      const random = seeded(seed);
      const strokes = played(figure, random).map(([on, off, key]): Stroke => {
        const ahead = off - on > 320 ? long : short;
        return [Math.max(0, on - ahead), off - ahead, key];
      });
      const { readings, score } = transcribeNow(
        readPerformance(
          madeFile(
            madeTrack('Violin', 0, strokes),
            madeTrack('Viola', 1, played(lower, random)),
            madeTrack('Cello', 2, played(lower, random)),
          ),
        ),
        EMPTY_BRIEF,
      );
      const [lead] = readings[0]!.leads;
      expect(lead!.other?.by).toBe('held');
      expect(Math.abs(lead!.other!.seconds - long / 960)).toBeLessThan(0.01);
      expect(Math.abs(lead!.seconds - short / 960)).toBeLessThan(0.01);
      const onsets = soundedNotes(score, score.parts[0]!).map(({ start }) => start / QUARTER);
      expect(onsets).toEqual(figure.map(([at]) => at));
    }
  });

  it('finds the lead of each of two techniques on one staff', () => {
    const random = seeded(5);
    const bowed = melody.filter((_, at) => at % 16 < 8);
    const plucked = lower.filter(([at]) => at % 16 >= 8);
    const performance = readPerformance(
      madeFile(
        madeTrack('Violin', 0, played(bowed, random, 80)),
        madeTrack('Violin pizz', 1, played(plucked, random)),
        madeTrack('Cello', 2, played(lower, random)),
      ),
    );
    const joined = briefOf({
      kind: 'join',
      strand: performance.strands[1]!.id,
      into: performance.strands[0]!.id,
    });
    const { readings, score } = transcribeNow(performance, joined);
    const [arco, pizz] = readings[0]!.leads;
    expect(Math.abs(arco!.seconds - 80 / 960)).toBeLessThan(0.01);
    expect(pizz).toEqual(NO_LEAD);
    const onsets = soundedNotes(score, score.parts[0]!).map(({ start }) => start / QUARTER);
    expect(onsets).toEqual([...bowed, ...plucked].map(([at]) => at).sort((a, b) => a - b));
  });

  it('finds nobody ahead where nobody is', () => {
    for (const seed of [4, 5, 6])
      expect(together(0, seed).readings.flatMap(({ leads }) => leads)).toEqual([NO_LEAD, NO_LEAD, NO_LEAD]);
  });
});

describe('swing', () => {
  const eighths = Array.from({ length: 96 }, (_, at): [number, number] => [Math.floor(at / 2), at % 2]);
  const swung = (ratio: number, seed: number) => {
    const random = seeded(seed);
    const strokes = eighths.map(([beat, second], at): Stroke => {
      const on = (beat + (second ? ratio : 0)) * TICKS + (random() - 0.5) * 30;
      return [Math.max(0, Math.round(on)), Math.round(on + 180), 60 + (at % 7)];
    });
    return transcribeNow(readPerformance(madeFile(madeTrack('Clarinet', 0, strokes))), EMPTY_BRIEF);
  };

  it.each([0.58, 0.62, 2 / 3, 0.69])('of %f is found, written straight and said', (ratio) => {
    const { score, swings } = swung(ratio, 7);
    expect(swings).toHaveLength(1);
    expect(Math.abs(swings[0]!.ratio - ratio)).toBeLessThan(0.015);
    expect(valuesOf(score)).not.toContain('(3:2)');
    const xml = writeMusicXml(score);
    expect(xml).toContain('<words>Swing</words>');
    expect(schemaFaults(parseXml(xml))).toEqual([]);
  });

  it('is found in 16ths, written as such and said', () => {
    const random = seeded(9);
    const strokes = Array.from({ length: 320 }, (_, at): Stroke => {
      const on = (Math.floor(at / 2) / 2 + (at % 2) * 0.31) * TICKS + (random() - 0.5) * 20;
      return [Math.max(0, Math.round(on)), Math.round(on + 90), 60 + ((at * 5) % 7)];
    });
    const { score, swings } = transcribeNow(
      readPerformance(madeFile(madeTrack('Clarinet', 0, strokes))),
      EMPTY_BRIEF,
    );
    expect(swings.map(({ value, from, to }) => [value, from, to])).toEqual([['16th', 0, score.bars.length]]);
    expect(Math.abs(swings[0]!.ratio - 0.62)).toBeLessThan(0.015);
    expect(valuesOf(score)).not.toContain(':');
    const xml = writeMusicXml(score);
    // One direction with the tempo, so that no two texts stand over each other.
    expect(xml).toMatch(
      /<words>Swing 16ths<\/words>\s*<\/direction-type>\s*<direction-type>\s*<metronome>[\s\S]*?<sound tempo="120">\s*<swing>/,
    );
    expect(xml).toContain('<swing-type>16th</swing-type>');
    expect(schemaFaults(parseXml(xml))).toEqual([]);
  });

  it('is not found in straight eighths, nor in real triplets', () => {
    expect(swung(0.5, 8).swings).toEqual([]);
    const triplets = Array.from({ length: 96 }, (_, at): Written => [at / 3, 1 / 3]);
    expect(readPlayed(triplets, { as: 'Clarinet' }).swings).toEqual([]);
  });

  it('gives way to a decision', () => {
    const random = seeded(7);
    const strokes = eighths.map(([beat, second], at): Stroke => {
      const on = (beat + (second ? 2 / 3 : 0)) * TICKS + random() * 4;
      return [Math.round(on), Math.round(on + 180), 60 + (at % 7)];
    });
    const performance = readPerformance(madeFile(madeTrack('Clarinet', 0, strokes)));
    const { score, swings } = transcribeNow(performance, briefOf({ kind: 'swing', use: 'straight' }));
    expect(swings).toEqual([]);
    expect(valuesOf(score)).toContain('(3:2)');
    const sixteenths = briefOf({ kind: 'swing', use: 'swung', value: '16th', ratio: 0.6 });
    expect(transcribeNow(performance, sixteenths).swings).toMatchObject([{ value: '16th', ratio: 0.6 }]);
  });
});
