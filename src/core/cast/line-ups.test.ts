import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CATALOGUE, instrumentOf } from '../instruments/catalogue';
import type { StrandId } from '../model/ids';
import { type FilledBy, LINE_UPS, layLineUp, lineUpText, makeLineUp, readLineUp } from './line-ups';
import { inOrder, orderOf, placeIn, SCORE_ORDERS, type ScoreOrder } from './orders';

const part = (number: number, name: string, instrument: string, middle = 64): FilledBy => ({
  strand: `1/t${number}c1` as StrandId,
  name,
  instrument,
  middle,
});
const lineUp = (name: string) => LINE_UPS.find((each) => each.name === name)!;

describe('a line-up', () => {
  it('gives its names, instruments and order to the parts that fit', () => {
    const parts = [
      part(1, 'Celli', 'cello', 48),
      part(2, 'Violin I', 'violin', 76),
      part(3, 'Synthesizer', 'synthesizer'),
      part(4, 'Vln 2', 'violin', 70),
      part(5, 'Viola', 'viola', 60),
    ];
    const { places, over, directives } = layLineUp(lineUp('String quartet'), parts);
    expect(places.map((each) => each?.strand)).toEqual(['1/t2c1', '1/t4c1', '1/t5c1', '1/t1c1']);
    expect(over.map(({ name }) => name)).toEqual(['Synthesizer']);
    expect(directives).toEqual([
      { kind: 'name', strand: '1/t4c1', name: 'Violin II' },
      { kind: 'name', strand: '1/t1c1', name: 'Violoncello' },
      { kind: 'order', strands: ['1/t2c1', '1/t4c1', '1/t5c1', '1/t1c1', '1/t3c1'] },
    ]);
  });

  it('says which places stay without a part', () => {
    const { places, over } = layLineUp(lineUp('Brass quintet'), [part(1, 'Horn', 'horn-f', 58)]);
    expect(places.map((each) => each?.name ?? null)).toEqual([null, null, 'Horn', null, null]);
    expect(over).toEqual([]);
  });

  it('loses no part, and gives none twice', () => {
    const parts = fc.array(
      fc.record({
        instrument: fc.constantFrom(...CATALOGUE.map(({ id }) => id)),
        middle: fc.integer({ min: 30, max: 96 }),
      }),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(parts, fc.constantFrom(...LINE_UPS), (drawn, wanted) => {
        const all = drawn.map(({ instrument, middle }, at) =>
          part(at + 1, instrumentOf(instrument).name, instrument, middle),
        );
        const { places, over, directives } = layLineUp(wanted, all);
        const taken = [...places.filter((each) => each !== null), ...over].map(({ strand }) => strand);
        expect([...taken].sort()).toEqual(all.map(({ strand }) => strand).sort());
        const order = directives.find(({ kind }) => kind === 'order');
        expect(order).toEqual({ kind: 'order', strands: taken });
      }),
    );
  });

  it('goes out as a file and comes in again; what is none is refused in a sentence', () => {
    const own = makeLineUp('My band', [
      { name: 'Lead', instrument: 'trumpet-bflat' },
      { name: 'Lead', instrument: 'trumpet-bflat' },
    ]);
    expect(readLineUp(lineUpText(own))).toEqual(own);
    expect(() => readLineUp('{')).toThrow('This is no line-up: it is not JSON.');
    expect(() => readLineUp('[]')).toThrow('This is no line-up');
    expect(() => readLineUp(lineUpText(own).replaceAll('trumpet-bflat', 'trumpet-x'))).toThrow(
      'This is no line-up: its parts cannot be read.',
    );
    // Two parts of one name keep their places.
    const { places } = layLineUp(own, [part(1, 'A', 'trumpet-bflat'), part(2, 'B', 'trumpet-bflat')]);
    expect(places.map((each) => each?.name)).toEqual(['A', 'B']);
  });
});

describe('the order of a score', () => {
  // Orders of scores: common practice of orchestra, band, big band and choir.
  it.each<[ScoreOrder, string]>([
    [
      'orchestra',
      'flute oboe clarinet-bflat bassoon horn-f trumpet-bflat trombone tuba timpani harp piano violin viola cello',
    ],
    [
      'wind-band',
      'piccolo flute oboe bassoon clarinet-bflat bass-clarinet alto-saxophone cornet trumpet-bflat horn-f trombone euphonium tuba timpani snare-drum',
    ],
    [
      'big-band',
      'alto-saxophone tenor-saxophone baritone-saxophone trumpet-bflat trombone electric-guitar piano double-bass drum-set',
    ],
    [
      'brass-band',
      'soprano-cornet cornet flugelhorn alto-horn baritone-horn-tc trombone-tc bass-trombone euphonium-tc eflat-bass bflat-bass timpani',
    ],
    ['choir', 'soprano alto tenor bass-voice violin piano'],
    ['chamber', 'flute horn-f violin cello piano'],
    ['combo', 'voice alto-saxophone electric-guitar piano bass-guitar drum-set'],
  ])('%s', (order, text) => {
    const ids = text.split(' ');
    const shuffled = [...ids].reverse().map((instrument) => ({ instrument }));
    expect(inOrder(order, shuffled).map(({ instrument }) => instrument)).toEqual(ids);
  });

  it('has a place for every instrument', () => {
    for (const order of Object.keys(SCORE_ORDERS) as ScoreOrder[])
      for (const { id } of CATALOGUE) expect(Number.isFinite(placeIn(order, id))).toBe(true);
  });

  it('is told by who plays together, for all standing ensembles', () => {
    for (const { name, parts } of LINE_UPS) {
      const order = orderOf(parts.map(({ instrument }) => instrument));
      expect([name, inOrder(order, [...parts].reverse()).map(({ instrument }) => instrument)]).toEqual([
        name,
        parts.map(({ instrument }) => instrument),
      ]);
    }
    // A song with piano; a sonata; a film score with a rhythm section and strings.
    expect(orderOf(['voice', 'piano'])).toBe('choir');
    expect(orderOf(['violin', 'piano'])).toBe('chamber');
    expect(orderOf(['flute', 'horn-f', 'drum-set', 'violin', 'violin', 'cello'])).toBe('orchestra');
  });
});
