import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '../../basics/steps';
import { kindTones } from '../../model/chord-tones';
import { PICTURE_BINS, PICTURE_ROW, type PitchPicture } from '../constant-q';
import { AS_HEARD, MIX_FORMS, MIX_GRADES } from '../heard';
import type { Hearing } from '../hearing';
import { LOWEST_KEY, MODEL_KEYS } from '../model-form';
import { onsetsExpected } from '../onsets';
import { hearMix, type Mix } from '.';
import { arranged, fifthsOf } from './arrange';
import { beatsIn } from './beats';
import { barsOf, MIX_KINDS, type MixKind, soundsOf } from './chords';
import { BASS, lineThrough, TUNE } from './lines';

const PER_SECOND = 86;

interface Sounding {
  on: number;
  off: number;
  key: number;
  share?: number;
}

/** What a model would say of these notes, and a picture of them. */
function heardOf(notes: readonly Sounding[], seconds: number): { hearing: Hearing; picture: PitchPicture } {
  const count = Math.ceil(seconds * PER_SECOND);
  const hearing: Hearing = {
    perSecond: PER_SECOND,
    count,
    frames: new Float32Array(count * MODEL_KEYS),
    onsets: new Float32Array(count * MODEL_KEYS),
    cents: new Int8Array(count * MODEL_KEYS),
  };
  const values = new Uint8Array(count * PICTURE_ROW);
  for (const { on, off, key, share = 0.8 } of notes) {
    const from = Math.round(on * PER_SECOND);
    hearing.onsets[from * MODEL_KEYS + key - LOWEST_KEY] = share;
    for (let at = from; at < Math.min(count, Math.round(off * PER_SECOND)); at++) {
      hearing.frames[at * MODEL_KEYS + key - LOWEST_KEY] = share;
      values[at * PICTURE_ROW + (key - LOWEST_KEY) * PICTURE_BINS + 1] = Math.round(160 + 90 * share);
    }
  }
  return { hearing, picture: { perSecond: PER_SECOND, count, values } };
}

/** So many beats of chords, two beats of each, a bar of four lasting two of them. */
const SONG = [
  [0, 'major'],
  [9, 'minor'],
  [5, 'major-seventh'],
  [7, 'dominant'],
] as const;
const BEAT = 0.5;
const PICKUP = 2;
const chordNotes = (bars: number): Sounding[] =>
  Array.from({ length: bars }, (_, bar) => {
    const [root, kind] = SONG[bar % SONG.length]!;
    const on = (PICKUP + 4 * bar) * BEAT;
    return [
      { on, off: on + 4 * BEAT, key: 36 + root },
      ...kindTones(kind).map((tone) => ({
        on,
        off: on + 4 * BEAT,
        key: 60 + ((root + tone) % 12),
        share: 0.5,
      })),
    ];
  }).flat();
const BARS = 12;
const beats = Array.from({ length: PICKUP + 4 * BARS + 1 }, (_, at) => at * BEAT);

describe('the beats of a mix', () => {
  it('lie where attacks repeat, whatever the pace, and a beat in two or three may be silent', () => {
    fc.assert(
      fc.property(fc.integer({ min: 75, max: 150 }), fc.integer({ min: 0, max: 99 }), (perMinute, late) => {
        const period = 60 / perMinute;
        const at = (beat: number) => late / 200 + beat * period;
        const struck = Array.from({ length: 60 }, (_, beat) => beat)
          .filter((beat) => beat % 7 !== 5)
          .map((beat) => ({ at: at(beat), key: 60, velocity: 100, pitched: false }));
        const end = at(60);
        const { hearing } = heardOf([], end);
        const found = beatsIn(onsetsExpected(struck, end), hearing);
        const right = found.find((each) => Math.abs(each.period - period) < 0.01);
        expect(right).toBeDefined();
        expect(right!.seconds[0]).toBeGreaterThanOrEqual(0);
        for (const { at: truth } of struck.slice(2, -2))
          expect(Math.min(...right!.seconds.map((each) => Math.abs(each - truth)))).toBeLessThan(0.03);
      }),
      { numRuns: 15 },
    );
  });

  it('are none in silence', () => {
    const { hearing } = heardOf([], 20);
    expect(beatsIn(onsetsExpected([], 20), hearing)).toEqual([]);
  });
});

describe('the chords of a mix', () => {
  const { hearing } = heardOf(chordNotes(BARS), (PICKUP + 4 * BARS + 1) * BEAT);
  const found = barsOf(soundsOf(hearing, beats));

  it('are those that sound, each from where it begins', () => {
    const named = found.chords
      .filter(({ from }) => from >= PICKUP)
      .map(({ from, root, kind }) => [from, root, kind]);
    expect(named).toEqual(
      Array.from({ length: BARS }, (_, bar) => [PICKUP + 4 * bar, ...SONG[bar % SONG.length]!]),
    );
  });

  it('change at bar lines: that says how beats are counted', () => {
    expect([found.perBar, found.first]).toEqual([4, PICKUP]);
    const waltz = Array.from({ length: 16 }, (_, bar) => {
      const [root, kind] = SONG[bar % SONG.length]!;
      const on = (1 + 3 * bar) * BEAT;
      return kindTones(kind).map((tone) => ({ on, off: on + 3 * BEAT, key: 48 + root + tone }));
    }).flat();
    const ends = Array.from({ length: 50 }, (_, at) => at * BEAT);
    const counted = barsOf(soundsOf(heardOf(waltz, 26).hearing, ends));
    expect([counted.perBar, counted.first]).toEqual([3, 1]);
  });

  it('are less sure where two sound as much', () => {
    const both = [0, 4, 7, 2, 5, 9].map((key) => ({ on: 0, off: 8, key: 60 + key }));
    const { chords } = barsOf(
      soundsOf(
        heardOf(both, 8).hearing,
        Array.from({ length: 17 }, (_, at) => at * BEAT),
      ),
    );
    expect(chords[0]!.confidence).toBeLessThan(found.chords.at(-1)!.confidence);
  });
});

describe('the tune of a mix', () => {
  const tune = [72, 74, 76, 77, 79, 77, 76, 72].map((key, at) => ({ on: at, off: at + 0.95, key }));
  const chords = Array.from({ length: 8 }, (_, at) =>
    [48, 55, 60].map((key) => ({ on: at, off: at + 1, key, share: 0.5 })),
  ).flat();

  it('is followed over chords, note by note', () => {
    const { hearing, picture } = heardOf([...chords, ...tune], 9);
    const line = lineThrough(hearing, picture, TUNE);
    expect(line.map(({ key }) => key)).toEqual(tune.map(({ key }) => key));
    for (const [at, { on }] of line.entries()) expect(Math.abs(on - tune[at]!.on)).toBeLessThan(0.05);
  });

  it('has one note at a time, in order, whatever sounds', () => {
    const notes = fc.array(
      fc.record({
        at: fc.integer({ min: 0, max: 700 }),
        length: fc.integer({ min: 2, max: 200 }),
        key: fc.integer({ min: 24, max: 96 }),
        share: fc.double({ min: 0.05, max: 1, noNaN: true }),
      }),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(notes, fc.constantFrom(TUNE, BASS), (all, manner) => {
        const { hearing, picture } = heardOf(
          all.map(({ at, length, ...each }) => ({ ...each, on: at / 100, off: (at + length) / 100 })),
          9,
        );
        let end = 0;
        for (const { on, off, key, confidence } of lineThrough(hearing, picture, manner)) {
          expect(on).toBeGreaterThanOrEqual(end - 1e-9);
          expect(off).toBeGreaterThan(on);
          expect(key >= manner.low && key <= manner.high && confidence >= 0 && confidence <= 1).toBe(true);
          end = off;
        }
      }),
      { numRuns: 60 },
    );
  });

  it('begins a key anew where it is struck again', () => {
    const again = [0, 1, 2, 3].map((at) => ({ on: at, off: at + 1, key: 72 }));
    const { hearing, picture } = heardOf([...chords, ...again], 9);
    expect(lineThrough(hearing, picture, TUNE).filter(({ key }) => key === 72)).toHaveLength(4);
  });
});

const chord = fc.record({
  root: fc.integer({ min: 0, max: 11 }),
  kind: fc.constantFrom(...MIX_KINDS),
  confidence: fc.double({ min: 0, max: 1, noNaN: true }),
});
const mixes = fc
  .tuple(fc.array(chord, { minLength: 1, maxLength: 20 }), fc.constantFrom(3, 4), fc.nat(2))
  .map(
    ([chords, perBar, first]): Mix => ({
      beats: Array.from({ length: perBar * chords.length + first }, (_, at) => 0.3 + at * BEAT),
      perBar,
      first,
      chords: chords.map((each, at) => ({
        ...each,
        on: 0.3 + (first + perBar * at) * BEAT,
        off: 0.3 + (first + perBar * (at + 1)) * BEAT,
      })),
      tune: [{ on: 0.4, off: 0.9, key: 72, velocity: 80, cents: 0, says: 2 }],
      bass: [{ on: 0.4, off: 0.9, key: 40, velocity: 80, cents: 0, says: 2 }],
    }),
  );

describe('what is made of a mix', () => {
  it('lies under hands, in time, with numbers of its own, and has the chords that are sure enough', () => {
    fc.assert(
      fc.property(
        mixes,
        fc.constantFrom(...MIX_FORMS),
        fc.constantFrom(...MIX_GRADES),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (mix, form, grade, threshold) => {
          const { lines, symbols } = arranged(mix, { ...AS_HEARD, read: 'mix', form, grade, threshold });
          expect(symbols).toHaveLength(mix.chords.filter(({ confidence }) => confidence >= threshold).length);
          for (const { name, notes } of lines) {
            expect(new Set(notes.map(({ index }) => index)).size).toBe(notes.length);
            for (const { on, off, key } of notes) {
              expect(off).toBeGreaterThan(on);
              expect(key >= 24 && key <= 96).toBe(true);
              if (name !== 'Piano LH') continue;
              const together = notes.filter((each) => each.on === on).map((each) => each.key);
              expect(Math.max(...together) - Math.min(...together)).toBeLessThanOrEqual(14);
            }
          }
        },
      ),
      { numRuns: 200 },
    );
  });

  it('has chords spelled by the signature that holds most of them', () => {
    const named = (roots: readonly [number, MixKind][]) => {
      const chords = roots.map(([root, kind], at) => ({ on: at, off: at + 1, root, kind, confidence: 1 }));
      const mix: Mix = { beats: [], perBar: 4, first: 0, chords, tune: [], bass: [] };
      return { fifths: fifthsOf(chords), names: arranged(mix, AS_HEARD).symbols.map(({ text }) => text) };
    };
    expect(
      named([
        [8, 'major'],
        [1, 'major'],
        [3, 'dominant'],
        [5, 'minor-seventh'],
      ]),
    ).toEqual({
      fifths: -4,
      names: ['A♭', 'D♭', 'E♭7', 'Fm7'],
    });
    expect(
      named([
        [4, 'major'],
        [9, 'major'],
        [11, 'dominant'],
        [1, 'minor'],
      ]),
    ).toEqual({
      fifths: 4,
      names: ['E', 'A', 'B7', 'C♯m'],
    });
  });
});

describe('a band', () => {
  it('is heard whole: beats, bars, chords, tune and bass; of noise without any there is nothing', () => {
    const rate = 22_050;
    const silence = { samples: new Float32Array(rate * 3), rate };
    const { hearing, picture } = heardOf([], 3);
    expect(finished(hearMix(silence, hearing, picture))).toMatchObject({
      beats: [],
      chords: [],
      tune: [],
      bass: [],
    });
  });
});
