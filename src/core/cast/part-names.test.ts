import { describe, expect, it } from 'vitest';
import { layOutFile } from '../../../tests/helpers/desk';
import { madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { EMPTY_BRIEF } from '../decisions/brief';
import { withDirectives } from '../decisions/decisions';
import type { SmfEvent } from '../sources/smf/events';
import { routeStrands } from './route';

const SCALE = [0, 2, 4, 5, 7, 9, 11, 12, 14];

/** A melody of its own for each track, so that none doubles another. */
const tune = (lowest: number, seed: number): Stroke[] =>
  Array.from({ length: 40 }, (_, at) => {
    const step = (at + seed * 3) % 16;
    const key = lowest + SCALE[step > 8 ? 16 - step : step]!;
    return [at * 240, at * 240 + 220, key];
  });

type Track = [name: string, program?: number, lowest?: number];

/** The parts of tracks of such names, programs (from 1) and lowest keys, in the order of the score. */
function partsOf(...tracks: Track[]) {
  const made = tracks.map(([name, program, lowest = 62], at) => {
    const channel = at % 9;
    const first: SmfEvent[] =
      program === undefined ? [] : [{ kind: 'program', tick: 0, channel, program: program - 1 }];
    return madeTrack(name, channel, tune(lowest, at), first);
  });
  const { performance, decisions } = layOutFile(madeFile(...made), EMPTY_BRIEF);
  return routeStrands(performance, decisions);
}
/** How they are cast: instrument and name. */
const cast = (...tracks: Track[]): [string, string][] =>
  partsOf(...tracks).map(({ instrument, name }) => [instrument.id, name]);
const namesOf = (...tracks: Track[]): string[] => cast(...tracks).map(([, name]) => name);

/** What a copyist would write before the staves: common practice. */
describe('names of parts', () => {
  it('voices are shortened to their letters, the bass as the others', () => {
    const voices = partsOf(['Soprano', 53, 62], ['Alto', 53, 56], ['Tenor', 53, 50], ['Bass', 53, 43]);
    expect(voices.map(({ name, abbreviation }) => [name, abbreviation])).toEqual([
      ['Soprano', 'S.'],
      ['Alto', 'A.'],
      ['Tenor', 'T.'],
      ['Bass', 'B.'],
    ]);
  });

  it('a fifth voice sings among voices, whatever else is called so', () => {
    const company = cast(
      ['Canto', 53, 64],
      ['Alto', 53, 57],
      ['Quinto', 53, 52],
      ['Tenor', 53, 52],
      ['Basso', 53, 43],
    );
    expect(company.map(([instrument]) => instrument)).not.toContain('congas');
    expect(company.map(([, name]) => name).sort()).toEqual(['Alto', 'Basso', 'Canto', 'Quinto', 'Tenor']);
    expect(cast(['Quinto'], ['Flute'], ['Oboe']).map(([instrument]) => instrument)).not.toContain('congas');
    expect(
      cast(['Canto'], ['Altus'], ['Tenor'], ['Bassus', undefined, 43]).map(([, name]) => name),
    ).toHaveLength(4);
  });

  it('what sings is no single drum or plate, by a shortening alone', () => {
    expect(cast(['Dbl 1', 49])).toEqual([['strings', 'Dbl 1']]);
    expect(cast(['Sopr', 53, 64])[0]![0]).toBe('soprano');
  });

  it('a role stays a name, and its program gives the sound', () => {
    expect(cast(['Riff', 28], ['Melody Lead', 82], ['Solo', 57])).toEqual(
      expect.arrayContaining([
        ['electric-guitar', 'Riff'],
        ['trumpet-bflat', 'Solo'],
      ]),
    );
    expect(namesOf(['Melody Lead', 82])).toEqual(['Melody Lead']);
    expect(namesOf(['Pad', 49], ['Pad', 49])).toEqual(['Pad 1', 'Pad 2']);
  });

  it('what nobody knows keeps its name; what nobody named, and a remark, do not', () => {
    expect(namesOf(['Zorp', 41])).toEqual(['Zorp']);
    for (const name of ['Track 4', 'staff-2', '17', 'MIDI 3', 'sequenced by Jo', 'www.example.com', ''])
      expect(namesOf([name, 41])).toEqual(['Violin']);
  });

  it('what tracks of several instruments are all called is the piece', () => {
    expect(namesOf(['Night Boat', 41], ['Night Boat', 74], ['Night Boat', 71])).toEqual([
      'Flute',
      'Bassoon',
      'Violin',
    ]);
  });

  it('says how players without numbers play, and makes no further players of them', () => {
    expect(namesOf(['Trumpets open', 56], ['Trumpets mute', 59])).toEqual([
      'B♭ Trumpet',
      'B♭ Trumpet (muted)',
    ]);
    expect(namesOf(['Trumpet 1', 56], ['Trumpet 2', 56], ['Trumpets mute', 59])).toEqual([
      'B♭ Trumpet 1',
      'B♭ Trumpet 2',
      'B♭ Trumpet (muted)',
    ]);
    // Two that play alike and are not numbered are two players.
    expect(namesOf(['Trumpet mute', 59], ['Trumpet mute', 59])).toEqual(['B♭ Trumpet 1', 'B♭ Trumpet 2']);
  });

  it('letters of a divided section are no numbers of players', () => {
    expect(namesOf(['Violins A', 41], ['Violins B', 41], ['Violins C', 41])).toEqual([
      'Violins A',
      'Violins B',
      'Violins C',
    ]);
    expect(namesOf(['Vla A', 42, 55], ['Vla B', 42, 55])).toEqual(['Viola A', 'Viola B']);
    // One letter alone is a key, or nothing.
    expect(namesOf(['Vla A', 42, 55])).toEqual(['Viola']);
  });

  it('an instrument in full keeps the numeral that it has; what is shortened is written out', () => {
    expect(namesOf(['Violin 1', 41], ['Violin 2', 41])).toEqual(['Violin 1', 'Violin 2']);
    expect(namesOf(['Vln 1', 41], ['Vln 2', 41])).toEqual(['Violin I', 'Violin II']);
  });

  it('the same player by another way of playing is not another player', () => {
    expect(namesOf(['Tpt 1', 57], ['Tpt 2', 57], ['Tpt 1 muted', 60], ['Tpt 2 muted', 60])).toEqual([
      'B♭ Trumpet 1',
      'B♭ Trumpet 1 (muted)',
      'B♭ Trumpet 2',
      'B♭ Trumpet 2 (muted)',
    ]);
  });
});

describe('hands', () => {
  const partsOf = (...names: string[]) => {
    const made = names.map((name, at) => madeTrack(name, 0, tune(at % 2 === 0 ? 64 : 40, at)));
    const { performance, decisions } = layOutFile(madeFile(...made), EMPTY_BRIEF);
    return routeStrands(performance, decisions).map(({ name, strands, staves }) => [
      name,
      strands.length,
      staves,
    ]);
  };

  it('of one keyboard are one part on two staves, the right one leading', () => {
    expect(partsOf('Piano RH', 'Piano LH')).toEqual([['Piano', 2, 2]]);
    expect(partsOf('Pno. (right hand)', 'Pno. (left hand)')).toEqual([['Piano', 2, 2]]);
    expect(partsOf('Harp m.d.', 'Harp m.s.')).toEqual([['Harp', 2, 2]]);
    expect(partsOf('Right Hand', 'Left Hand')).toEqual([['Piano', 2, 2]]);
  });

  it('of different players, of what has none, and one alone, stay apart', () => {
    expect(partsOf('Piano 1 RH', 'Piano 2 LH')).toHaveLength(2);
    expect(partsOf('Guitar left', 'Guitar right')).toHaveLength(2);
    expect(partsOf('Piano RH', 'Piano RH', 'Piano LH')).toHaveLength(3);
    expect(partsOf('Piano RH')).toHaveLength(1);
  });

  it('are parted by a decision', () => {
    const file = madeFile(madeTrack('Piano RH', 0, tune(64, 0)), madeTrack('Piano LH', 0, tune(40, 1)));
    const brief = withDirectives(EMPTY_BRIEF, [{ kind: 'join', strand: '1/t2c1', into: null }]);
    const { performance, decisions } = layOutFile(file, brief);
    expect(routeStrands(performance, decisions)).toHaveLength(2);
    // What was said of the left hand alone is of a part of its own.
    const named = withDirectives(EMPTY_BRIEF, [{ kind: 'name', strand: '1/t2c1', name: 'Celesta' }]);
    const desk = layOutFile(file, named);
    expect(routeStrands(desk.performance, desk.decisions).map(({ name }) => name)).toEqual([
      'Piano 1',
      'Celesta',
    ]);
  });
});

describe('basses', () => {
  const Q = 480;
  const line = (lowest: number): Stroke[] =>
    Array.from({ length: 48 }, (_, at) => [at * Q, at * Q + 400, lowest + ((at * 5) % 17)]);
  const planOf = (name: string, program: number, lowest: number) => {
    const first: SmfEvent = { kind: 'program', tick: 0, channel: 0, program: program - 1 };
    const { performance, decisions } = layOutFile(
      madeFile(madeTrack(name, 0, line(lowest), [first])),
      EMPTY_BRIEF,
    );
    return routeStrands(performance, decisions)[0]!;
  };

  it('that are plucked keep their program, and their name', () => {
    // General MIDI 33 is the acoustic bass, 44 the bowed one.
    const plan = planOf('Bass', 33, 28);
    expect([plan.name, plan.instrument.id, plan.program]).toEqual(['Bass', 'double-bass', 32]);
    expect(planOf('Contrabass', 44, 28).program).toBe(43);
    expect(planOf('Bass', 34, 28).instrument.id).toBe('bass-guitar');
  });

  it('that were played an octave too high stay on their staff', () => {
    expect(planOf('Bass', 34, 28).instrument.transposition.chromatic).toBe(-12);
    const high = planOf('Bass', 34, 47);
    expect(high.instrument.transposition.chromatic).toBe(0);
    expect(high.why).toContain('octaves away');
  });
});
