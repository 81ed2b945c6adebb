import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { companiesOf } from './company';
import { type Evidence, recogniseInstrument } from './recognise';

type Member = [name: string, lowest: number, highest: number, program?: number];

const evidenceOf = ([name, lowest, highest, program]: Member): Evidence => ({
  name,
  lowest,
  highest,
  programs: program === undefined ? [] : [program - 1],
  channel: name === 'Drums' ? 9 : 0,
});

/** What each of a line-up is cast as, in order. */
function castOf(...members: Member[]): Record<string, string> {
  const strands = members.map(evidenceOf);
  const companies = companiesOf(strands);
  return Object.fromEntries(
    strands.map((strand, at) => {
      const { instrument, confidence } = recogniseInstrument({
        ...strand,
        company: companies[at] ?? undefined,
      });
      return [strand.name, confidence >= 0.6 ? instrument.id : `${instrument.id}?`];
    }),
  );
}

const STRINGS: Member[] = [
  ['Vln 1', 55, 88],
  ['Vln 2', 55, 84],
  ['Vla', 48, 76],
  ['Vc', 36, 67],
];

/** Common practice: what players would bring to a session with such a line-up. */
describe('a name of several meanings is understood by its company', () => {
  it('bass among voices, strings, trombones, and in a band', () => {
    expect(castOf(['Soprano', 60, 79], ['Alto', 55, 72], ['Tenor', 48, 67], ['Bass', 41, 60])).toMatchObject({
      Alto: 'alto',
      Tenor: 'tenor',
      Bass: 'bass-voice',
    });
    expect(castOf(...STRINGS, ['Bass', 28, 50])).toMatchObject({ Bass: 'double-bass' });
    expect(castOf(['Trombone 1', 48, 72], ['Trombone 2', 46, 70], ['Bass', 34, 58])).toMatchObject({
      Bass: 'bass-trombone',
    });
    expect(castOf(['Gtr L', 40, 76], ['Gtr R', 40, 76], ['Bass', 28, 50], ['Drums', 36, 51])).toMatchObject({
      'Gtr L': 'electric-guitar',
      Bass: 'bass-guitar',
    });
    expect(castOf(['Bass', 28, 50])).toEqual({ Bass: 'bass-guitar?' });
  });

  it('alto and tenor in a big band and among strings', () => {
    expect(
      castOf(
        ['Alto 1', 58, 81],
        ['Tenor 1', 50, 72],
        ['Bari', 38, 62],
        ['Tpt 1', 60, 84],
        ['Tpt 2', 58, 80],
        ['Tbn 1', 48, 70],
        ['Piano', 36, 84],
        ['Drums', 36, 51],
      ),
    ).toMatchObject({ 'Alto 1': 'alto-saxophone', 'Tenor 1': 'tenor-saxophone' });
    expect(
      castOf(['Violon 1', 55, 88], ['Violon 2', 55, 84], ['Alto', 48, 76], ['Violoncelle', 36, 67]),
    ).toMatchObject({ Alto: 'viola' });
  });

  it('a choir and strings in one score', () => {
    const members: Member[] = [
      ['Soprano', 60, 81],
      ['Alto', 53, 72],
      ['Tenor', 47, 67],
      ['Bass', 40, 60],
      ...STRINGS,
      ['Basses', 28, 50],
    ];
    expect(castOf(...members)).toMatchObject({ Alto: 'alto', Bass: 'bass-voice', Basses: 'double-bass' });
  });

  it('the program of another meaning is believed', () => {
    expect(castOf(['Piano', 36, 90, 1], ['Bass', 28, 55, 33], ['Drums', 36, 51])).toMatchObject({
      Bass: 'double-bass',
    });
    expect(
      castOf(['Soprano', 58, 84, 65], ['Alto', 50, 78, 66], ['Tenor', 45, 72, 67], ['Baritone', 36, 62, 68]),
    ).toEqual({
      Soprano: 'soprano-saxophone',
      Alto: 'alto-saxophone',
      Tenor: 'tenor-saxophone',
      Baritone: 'baritone-saxophone',
    });
  });

  it('single letters are voices among voices only', () => {
    expect(
      castOf(['S', 60, 81], ['A', 55, 74], ['T', 48, 67], ['B', 40, 62], ['Organ', 36, 84]),
    ).toMatchObject({
      S: 'soprano',
      A: 'alto',
      T: 'tenor',
      B: 'bass-voice',
    });
    expect(castOf(['Violins', 55, 88, 41], ['A', 55, 74, 42]).A).not.toBe('alto');
  });

  it('nobody is anywhere without such a name, whatever the others are (property)', () => {
    const name = fc.constantFrom(
      'Flute',
      'Vln 1',
      'Drums',
      'Choir',
      'Tuba',
      'Synth',
      '',
      'Bass',
      'Alto 2',
      'S',
    );
    fc.assert(
      fc.property(fc.array(name, { maxLength: 20 }), (names) => {
        const companies = companiesOf(names.map((each) => evidenceOf([each, 40, 60])));
        expect(companies).toHaveLength(names.length);
        // A choir is one, accompanist and all.
        if (companies.every((company) => company === 'voices')) return;
        names.forEach((each, at) => {
          if (!/Bass|Alto|^S$/.test(each)) expect(companies[at]).toBeNull();
        });
      }),
    );
  });
});
