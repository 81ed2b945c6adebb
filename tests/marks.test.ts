import { beforeAll, describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import { untidyFile } from '@/core/demo/untidy';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { layOutFile } from './helpers/desk';
import { briefOf } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const read = (...directives: PlainDirective[]): Transcription => {
  const brief = briefOf(...directives);
  return transcribeNow(layOutFile(readSmf(untidyFile()), brief).performance, brief);
};

describe('marks that the playing shows', () => {
  let plain: Transcription;
  beforeAll(() => {
    plain = read();
  });

  it('are offered with what was heard, and none stands before it is chosen', () => {
    const offers = plain.readings.flatMap(({ offers }) => offers);
    expect(new Set(offers.map(({ kind }) => kind))).toEqual(new Set(['dynamics', 'hairpins']));
    expect(offers.some(({ shown }) => shown)).toBe(false);
    const xml = writeMusicXml(plain.score);
    expect(xml).not.toMatch(/<dynamics>|<wedge |<accent\/>/);
  });

  it('stand where they are chosen, in a valid score in which nothing else has changed', () => {
    const chosen = read(
      { kind: 'marks', what: 'dynamics', use: 'shown' },
      { kind: 'marks', what: 'hairpins', use: 'shown' },
      { kind: 'marks', what: 'accents', use: 'shown' },
    );
    const xml = writeMusicXml(chosen.score);
    for (const each of ['<dynamics>', '<wedge ']) expect(xml).toContain(each);
    expect(schemaFaults(parseXml(xml))).toEqual([]);
    expect(chosen.account).toEqual(plain.account);
    const left = read(
      { kind: 'marks', what: 'dynamics', use: 'shown' },
      { kind: 'marks', what: 'dynamics', use: 'left' },
    );
    expect(writeMusicXml(left.score)).toBe(writeMusicXml(plain.score));
  });

  it('are chosen for one part, and one by one', () => {
    const flute = plain.plans.findIndex(({ name }) => name === 'Flute 1');
    const { leader } = plain.plans[flute]!;
    const dynamics = (transcription: Transcription) =>
      transcription.score.parts.map(({ bars }) =>
        bars.flatMap(({ marks }) => (marks ?? []).filter(({ kind }) => kind === 'dynamic')),
      );
    const offered = plain.readings[flute]!.offers.filter(({ kind }) => kind === 'dynamics');
    const own = dynamics(read({ kind: 'marks', what: 'dynamics', use: 'shown', strand: leader }));
    expect(own[flute]).toHaveLength(offered.length);
    expect(own.flat()).toHaveLength(offered.length);
    const one = dynamics(
      read({ kind: 'marks', what: 'dynamics', use: 'shown', strand: leader, from: 0, to: 1000 }),
    );
    expect(one.flat()).toHaveLength(1);
  });

  it('that are read with the notes, slurs and staccato, can be left out', () => {
    const without = writeMusicXml(
      read({ kind: 'marks', what: 'slurs', use: 'left' }, { kind: 'marks', what: 'staccato', use: 'left' })
        .score,
    );
    const before = writeMusicXml(plain.score);
    expect(before).toContain('<slur ');
    expect(without).not.toMatch(/<slur |<staccato\/>/);
    expect(without.match(/<note/g)).toEqual(before.match(/<note/g));
  });
});
