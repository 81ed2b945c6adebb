import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fingerings } from './fingering';

const GUITAR = [40, 45, 50, 55, 59, 64];
const BASS = [28, 33, 38, 43];

/** A chord as it is written in method books, from the last string to the first. */
const keysOf = (shape: string, tuning = GUITAR): number[] =>
  [...shape].flatMap((fret, at) => (fret === 'x' ? [] : [tuning[at]! + Number.parseInt(fret, 16)]));

function shapeOf(keys: readonly number[], tuning = GUITAR, capo = 0): string {
  const [stops] = fingerings([{ keys, at: 0 }], { tuning, capo });
  if (!stops) return '–';
  return tuning
    .map((_, at) => stops.find(({ string }) => string === tuning.length - at)?.fret.toString(16) ?? 'x')
    .join('');
}

/** First-position and barré chords as method books have them (common practice, from memory). */
const SHAPES: Record<string, string> = {
  C: 'x32010',
  A: 'x02220',
  G: '320003',
  E: '022100',
  D: 'xx0232',
  Am: 'x02210',
  Em: '022000',
  Dm: 'xx0231',
  F: '133211',
  'small F': 'xx3211',
  Fm: '133111',
  Bm: 'x24432',
  'F♯m': '244222',
  'B♭': 'x13331',
  Gm: '355333',
  Cm: 'x35543',
  B7: 'x21202',
  E7: '020100',
  A7: 'x02020',
  D7: 'xx0212',
  G7: '320001',
  C7: 'x32310',
  Cmaj7: 'x32000',
  Fmaj7: 'xx3210',
  Am7: 'x02010',
  Dm7: 'xx0211',
  Dsus4: 'xx0233',
  Asus4: 'x02230',
  E5: '022xxx',
  A5: 'x022xx',
  G5: '355xxx',
  'C over G': '332010',
};

describe('strings and frets', () => {
  it.each(Object.entries(SHAPES))('%s is stopped as method books have it', (_, shape) => {
    expect(shapeOf(keysOf(shape))).toBe(shape);
  });

  it('a scale of C major lies in the first position (common practice)', () => {
    const keys = [48, 50, 52, 53, 55, 57, 59, 60];
    const found = fingerings(
      keys.map((key, at) => ({ keys: [key], at: at * 0.25 })),
      { tuning: GUITAR, capo: 0 },
    );
    expect(found.map((stops) => `${stops![0]!.string}:${stops![0]!.fret}`)).toEqual([
      '5:3',
      '4:0',
      '4:2',
      '4:3',
      '3:0',
      '3:2',
      '2:0',
      '2:1',
    ]);
  });

  it('a walking bass stays where the hand is', () => {
    const keys = [29, 33, 36, 33, 34, 38, 41, 38];
    const found = fingerings(
      keys.map((key, at) => ({ keys: [key], at: at * 0.4 })),
      { tuning: BASS, capo: 0 },
    );
    const frets = found.map((stops) => stops![0]!.fret);
    expect(Math.max(...frets)).toBeLessThanOrEqual(3);
  });

  it('a capo shortens all strings', () => {
    expect(
      shapeOf(
        keysOf('022100').map((key) => key + 2),
        GUITAR,
        2,
      ),
    ).toBe('022100');
  });

  it('a string that is asked for is taken', () => {
    const [stops] = fingerings([{ keys: [64], at: 0, strings: new Map([[64, 2]]) }], {
      tuning: GUITAR,
      capo: 0,
    });
    expect(stops).toEqual([{ string: 2, fret: 5 }]);
  });

  it('what no hand reaches is told, and does not stop what follows', () => {
    const found = fingerings(
      [
        { keys: [40, 41], at: 0 },
        { keys: [39], at: 1 },
        { keys: [40, 47, 52], at: 2 },
      ],
      { tuning: GUITAR, capo: 0 },
    );
    expect(found.map((stops) => stops?.map(({ fret }) => fret) ?? null)).toEqual([null, null, [0, 2, 2]]);
  });

  it('each note sounds its key on a string of its own, within a hand (property)', () => {
    const chord = fc.uniqueArray(fc.integer({ min: 40, max: 80 }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(fc.array(chord, { minLength: 1, maxLength: 20 }), fc.nat(5), (chords, capo) => {
        const found = fingerings(
          chords.map((keys, at) => ({ keys, at: at * 0.3 })),
          { tuning: GUITAR, capo },
        );
        found.forEach((stops, index) => {
          if (!stops) return;
          const keys = stops.map(({ string, fret }) => GUITAR[6 - string]! + capo + fret);
          expect(keys).toEqual(chords[index]);
          expect(new Set(stops.map(({ string }) => string)).size).toBe(stops.length);
          const stopped = stops.flatMap(({ fret }) => (fret > 0 ? [fret] : []));
          if (stopped.length > 0) expect(Math.max(...stopped) - Math.min(...stopped)).toBeLessThanOrEqual(4);
        });
      }),
    );
  });
});
