import { describe, expect, it } from 'vitest';
import { Graph } from '../basics/graph';
import { type Brief, EMPTY_BRIEF } from '../decisions/brief';
import type { PlainDirective } from '../decisions/kinds';
import { estimateKey } from '../infer/key/key';
import type { Score } from '../model/score';
import type { Smf, SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { transcribe, transcribeNow } from '.';

type Played = [on: number, off: number, key: number];

/** A file of named tracks at 480 ticks, on channels from 1; `head` goes to a track before them. */
function fileOf(tracks: Record<string, Played[]>, head: SmfEvent[] = [], channel?: number): Smf {
  return {
    format: 1,
    division: { kind: 'quarter', ticks: 480 },
    otherChunks: [],
    mends: [],
    tracks: [
      { events: head },
      ...Object.entries(tracks).map(([name, notes], index) => {
        const on = channel ?? index;
        const events = notes.flatMap(([start, end, key]): SmfEvent[] => [
          { kind: 'noteOn', tick: start, channel: on, key, velocity: 80 },
          { kind: 'noteOff', tick: end, channel: on, key, velocity: 0, asNoteOn: false },
        ]);
        events.sort((a, b) => a.tick - b.tick || Number(a.kind === 'noteOn') - Number(b.kind === 'noteOn'));
        const named: SmfEvent = {
          kind: 'trackName',
          tick: 0,
          type: 3,
          bytes: new TextEncoder().encode(name),
        };
        return { events: [named, ...events] };
      }),
    ],
  };
}

const brief = (...directives: PlainDirective[]): Brief => ({ ...EMPTY_BRIEF, directives });
const scoreOf = (smf: Smf, decisions = EMPTY_BRIEF) => transcribeNow(readPerformance(smf), decisions);

/** A part's bars as text: pitches and values, `|` between bars, `/` between voices. */
function textOf(score: Score, part = 0): string {
  return score.parts[part]!.bars.map((bar) =>
    bar.voices
      .map((line) =>
        line.items
          .map((item) => {
            const value = `${item.value.type}${'.'.repeat(item.value.dots)}`;
            if (item.kind === 'rest') return item.wholeBar ? 'R' : `r:${value}`;
            const names = item.notes.map(
              ({ pitch, tieStart }) =>
                `${pitch.step}${'#'.repeat(Math.max(0, pitch.alter))}${'b'.repeat(Math.max(0, -pitch.alter))}${pitch.octave}${tieStart ? '~' : ''}`,
            );
            return `${names.join('+')}:${value}`;
          })
          .join(' '),
      )
      .join(' / '),
  ).join(' | ');
}

const Q = 480;

describe('played notes', () => {
  it('become plain values in spite of jitter, loose releases and legato overlaps', () => {
    const loose: Played[] = [
      [6, 430, 60],
      [473, 990, 62],
      [968, 1400, 64],
      [1436, 1900, 65],
      [1925, 2380, 67],
      [2392, 3000, 65],
      [2873, 3350, 64],
      [3367, 3700, 62],
    ];
    const { score } = scoreOf(fileOf({ Oboe: loose }));
    expect(textOf(score)).toBe(
      'C4:quarter D4:quarter E4:quarter F4:quarter | G4:quarter F4:quarter E4:quarter D4:quarter',
    );
  });

  it('just before the last bar line stay inside the score', () => {
    const notes: Played[] = [
      [3, 900, 60],
      [1900, 1915, 64],
    ];
    const [part] = scoreOf(fileOf({ Oboe: notes })).score.parts;
    const items = part!.bars.flatMap((bar) => bar.voices.flatMap((line) => line.items));
    expect(items.every((item) => item.duration > 0)).toBe(true);
    expect(
      items.flatMap((item) => (item.kind === 'chord' ? item.notes.map((note) => note.key) : [])),
    ).toContain(64);
  });

  it('that roll by a few ticks stay a chord', () => {
    const rolled: Played[] = [
      [0, 900, 60],
      [9, 905, 64],
      [17, 910, 67],
      [962, 1890, 59],
      [971, 1900, 62],
      [980, 1905, 67],
    ];
    expect(textOf(scoreOf(fileOf({ Marimba: rolled })).score)).toBe('C4+E4+G4:half B3+D4+G4:half');
  });

  it('are counted: written, merged, left out, unwritable', () => {
    const smf = fileOf({
      Flute: [
        [0, Q, 72],
        [0, Q, 72],
        [Q, 2 * Q, 74],
        [Q, 2 * Q, 3],
      ],
      Oboe: [[0, Q, 60]],
    });
    const { account } = scoreOf(smf, brief({ kind: 'leave-out', strand: '1/t3c2', out: true }));
    expect(account).toEqual({
      notes: 5,
      written: 2,
      graces: 0,
      merged: 1,
      marks: 0,
      leftOut: 1,
      unwritable: 1,
      beyond: 0,
    });
  });
});

describe('voices and staves', () => {
  it('opens a second voice where a note sounds on under others', () => {
    const notes: Played[] = [
      [0, 4 * Q, 72],
      [0, Q, 60],
      [Q, 2 * Q, 62],
      [2 * Q, 3 * Q, 64],
      [3 * Q, 4 * Q, 65],
    ];
    expect(textOf(scoreOf(fileOf({ Marimba: notes })).score)).toBe(
      'C5:whole / C4:quarter D4:quarter E4:quarter F4:quarter',
    );
  });

  it('follows the hands over middle C instead of splitting there', () => {
    // The left hand climbs above middle C while the right stays an octave above it.
    const notes: Played[] = [48, 52, 55, 60, 62, 64, 60, 55].flatMap((key, index): Played[] => [
      [index * Q, (index + 1) * Q, key],
      [index * Q, (index + 1) * Q, key + 16],
    ]);
    const { parts } = scoreOf(fileOf({ Piano: notes })).score;
    const lower = parts[0]!.bars.flatMap((bar) =>
      bar.voices
        .filter((line) => line.staff === 2)
        .flatMap((line) =>
          line.items.flatMap((item) => (item.kind === 'chord' ? item.notes.map((note) => note.key) : [])),
        ),
    );
    expect(lower).toEqual([48, 52, 55, 60, 62, 64, 60, 55]);
  });

  it('writes two strands of one part on two staves as they are', () => {
    const smf = fileOf({ 'Harp RH': [[0, 4 * Q, 50]], 'Harp LH': [[0, 4 * Q, 70]] });
    const { score } = scoreOf(smf, brief({ kind: 'join', strand: '1/t3c2', into: '1/t2c1' }));
    expect(score.parts).toHaveLength(1);
    expect(textOf(score)).toBe('D3:whole / Bb4:whole');
  });

  it('gives drums to hands and feet, strokes to the next stroke or the end of the beat', () => {
    const beat: Played[] = [0, 1, 2, 3].flatMap((at): Played[] => [
      [at * Q, at * Q + 30, 42],
      ...(at % 2 ? ([[at * Q, at * Q + 30, 38]] as Played[]) : ([[at * Q, at * Q + 30, 36]] as Played[])),
    ]);
    const { score } = scoreOf(fileOf({ Kit: beat }, [], 9));
    expect(score.parts[0]!.clefs).toEqual(['percussion']);
    expect(textOf(score)).toBe(
      'G5:quarter C5+G5:quarter G5:quarter C5+G5:quarter / F4:quarter r:quarter F4:quarter r:quarter',
    );
  });
});

describe('key and spelling', () => {
  const scale = (from: number, steps: number[]): Played[] =>
    steps.map((step, at) => [at * Q, (at + 1) * Q, from + step]);
  const MAJOR = [0, 2, 4, 5, 7, 9, 11, 12, 11, 9, 7, 5, 4, 2, 0, 0];

  it('takes the key of the file', () => {
    const head: SmfEvent[] = [{ kind: 'keySignature', tick: 0, fifths: -5, minor: false }];
    const { score, keyWhy } = scoreOf(fileOf({ Flute: scale(61, MAJOR) }, head));
    expect(score.keys).toEqual([{ bar: 0, fifths: -5, minor: false }]);
    expect(keyWhy).toBe('From the source.');
    expect(textOf(score)).toMatch(/^Db4:quarter Eb4:quarter F4:quarter Gb4:quarter/);
  });

  it('estimates one where the file has none, and distrusts a default C major', () => {
    const C_MAJOR: SmfEvent[] = [{ kind: 'keySignature', tick: 0, fifths: 0, minor: false }];
    for (const head of [[], C_MAJOR]) {
      const { score } = scoreOf(fileOf({ Flute: scale(64, MAJOR) }, head));
      expect(score.keys).toEqual([{ bar: 0, fifths: 4, minor: false }]);
    }
    expect(scoreOf(fileOf({ Flute: scale(60, MAJOR) }, C_MAJOR)).score.keys[0]!.fifths).toBe(0);
  });

  it('lets the brief decide', () => {
    const { score } = scoreOf(
      fileOf({ Flute: scale(60, MAJOR) }),
      brief({ kind: 'key', fifths: 3, minor: true }),
    );
    expect(score.keys).toEqual([{ bar: 0, fifths: 3, minor: true }]);
  });

  it('estimates each key from its own profile (Krumhansl and Kessler)', () => {
    // A scale weighted to its tonic triad must be found in all twelve transpositions.
    for (let tonic = 0; tonic < 12; tonic++) {
      const weights = new Array<number>(12).fill(0);
      for (const [step, weight] of [
        [0, 5],
        [2, 2],
        [4, 4],
        [5, 2],
        [7, 5],
        [9, 2],
        [11, 2],
      ] as const)
        weights[(tonic + step) % 12] = weight;
      const { fifths, minor } = estimateKey(weights);
      expect(minor).toBe(false);
      expect((((fifths * 7) % 12) + 12) % 12).toBe(tonic);
    }
  });

  it('raises leading notes and writes passing notes the way they go', () => {
    const head: SmfEvent[] = [{ kind: 'keySignature', tick: 0, fifths: 0, minor: true }];
    expect(
      textOf(
        scoreOf(
          fileOf(
            {
              Flute: [
                [0, Q, 69],
                [Q, 2 * Q, 68],
                [2 * Q, 4 * Q, 69],
              ],
            },
            head,
          ),
        ).score,
      ),
    ).toMatch(/A4:quarter G#4:quarter A4:half/);
    const falling: Played[] = [
      [0, Q, 69],
      [Q, 2 * Q, 68],
      [2 * Q, 4 * Q, 67],
    ];
    expect(
      textOf(
        scoreOf(fileOf({ Flute: falling }, [{ kind: 'keySignature', tick: 0, fifths: 0, minor: false }]))
          .score,
      ),
    ).toMatch(/A4:quarter Ab4:quarter G4:half/);
  });

  it('writes transposing parts in a key that can be read', () => {
    const head: SmfEvent[] = [{ kind: 'keySignature', tick: 0, fifths: 5, minor: false }];
    const { score } = scoreOf(fileOf({ Clarinet: scale(59, MAJOR) }, head));
    // B major for a clarinet in B flat: seven sharps become five flats.
    expect(textOf(score)).toMatch(/^Db4:quarter Eb4:quarter F4:quarter Gb4:quarter/);
  });
});

describe('the clock', () => {
  it('reads an upbeat from a short first bar and numbers from the bar after it', () => {
    const head: SmfEvent[] = [
      { kind: 'timeSignature', tick: 0, numerator: 1, denominator: 4, clocks: 24, thirtySeconds: 8 },
      { kind: 'timeSignature', tick: Q, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
    ];
    const { score } = scoreOf(
      fileOf(
        {
          Flute: [
            [0, Q, 72],
            [Q, 4 * Q, 74],
          ],
        },
        head,
      ),
    );
    expect(score.bars.map((bar) => [bar.number, bar.meter.numerator, bar.missing > 0])).toEqual([
      [0, 3, true],
      [1, 3, false],
    ]);
    expect(textOf(score)).toBe('C5:quarter | D5:half.');
  });

  it('writes a bar that the source cuts short as it is', () => {
    const head: SmfEvent[] = [
      { kind: 'timeSignature', tick: 3 * Q, numerator: 2, denominator: 4, clocks: 24, thirtySeconds: 8 },
    ];
    const { score } = scoreOf(
      fileOf(
        {
          Flute: [
            [0, 3 * Q, 72],
            [3 * Q, 5 * Q, 74],
          ],
        },
        head,
      ),
    );
    expect(textOf(score)).toBe('C5:half. | D5:half');
  });
});

describe('routing', () => {
  it('numbers parts alike as their names say, the others with what is left', () => {
    const smf = fileOf({
      'Vln 2': [[0, Q, 70]],
      Violins: [[0, Q, 72]],
      'Horn 1': [[0, Q, 60]],
      'Horn 2': [[0, Q, 55]],
      Oboe: [[0, Q, 70]],
    });
    expect(scoreOf(smf).score.parts.map((part) => part.name)).toEqual([
      'Oboe',
      'Horn 1',
      'Horn 2',
      'Violin I',
      'Violin II',
    ]);
  });

  it('a strand never joins one that itself joined another', () => {
    const smf = fileOf({ A: [[0, Q, 60]], B: [[0, Q, 62]] });
    const ring = brief(
      { kind: 'join', strand: '1/t2c1', into: '1/t3c2' },
      { kind: 'join', strand: '1/t3c2', into: '1/t2c1' },
    );
    expect(scoreOf(smf, ring).score.parts).toHaveLength(2);
  });
});

describe('what was written before', () => {
  it('is used again, part by part', () => {
    const performance = readPerformance(fileOf({ Flute: [[0, Q, 72]], Oboe: [[0, Q, 70]] }));
    const cache = new Graph();
    const before = transcribeNow(performance, EMPTY_BRIEF, cache).score;
    const after = transcribeNow(
      performance,
      brief({ kind: 'cast', strand: '1/t2c1', instrument: 'piccolo' }),
      cache,
    ).score;
    expect(after.parts[1]!.bars).toBe(before.parts[1]!.bars);
    expect(after.parts[0]!.bars).not.toBe(before.parts[0]!.bars);
  });

  it('is reported part by part', () => {
    const performance = readPerformance(fileOf({ Flute: [[0, Q, 72]], Oboe: [[0, Q, 70]] }));
    const steps = [...transcribe(performance, EMPTY_BRIEF)];
    const done = steps.map((step) => step.done);
    expect(done).toEqual(done.toSorted((one, other) => one - other));
    expect(done.every((each) => each >= 0 && each < 2)).toBe(true);
    expect(steps.every(({ of }) => of === 2)).toBe(true);
    expect([...new Set(steps.map(({ part }) => part))]).toEqual(['Flute', 'Oboe', 'All parts together']);
  });
});
