import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { lanternFerry, SWUNG_BARS } from '@/core/demo/lantern-ferry';
import { tidyFile } from '@/core/demo/tidy';
import { untidyFile } from '@/core/demo/untidy';
import type { Item, Note, Part, Score } from '@/core/model/score';
import { soundedNotes } from '@/core/perform/play';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { parseXml, schemaFaults } from './helpers/schema';

const truth = lanternFerry();
const tidy = transcribeNow(readPerformance(readSmf(tidyFile())), EMPTY_BRIEF);

/** A note without what a sequencer file cannot hold: its id and its origin. */
const bare = ({ id: _, sources: __, ...rest }: Note) => rest;

/** An item without articulations and fermata, which a plain file does not carry. */
const bareItem = (item: Item) => {
  if (item.kind === 'rest') return item;
  const { marks: _, notes, ...rest } = item;
  return { ...rest, notes: notes.map(bare) };
};

const bareBars = (part: Part) =>
  part.bars.map((bar) =>
    bar.voices.map(({ voice, staff, items }) => ({ voice, staff, items: items.map(bareItem) })),
  );

const frameOf = (score: Score) => ({
  bars: score.bars,
  keys: score.keys,
  tempos: score.tempos,
  rehearsals: score.rehearsals,
  title: score.title,
});

describe('the demo piece from its tidy file', () => {
  it('has the bars, keys, tempos and marks of its truth', () => {
    expect(frameOf(tidy.score)).toEqual(frameOf(truth));
  });

  it('has the parts of its truth, in order', () => {
    const head = (part: Part) => ({
      name: part.name,
      abbreviation: part.abbreviation,
      instrument: part.instrument,
      transposition: part.transposition,
      clefs: part.clefs,
    });
    expect(tidy.score.parts.map(head)).toEqual(truth.parts.map(head));
  });

  it.each(truth.parts.map((part) => part.name))('gives back every bar of %s', (name) => {
    const want = bareBars(truth.parts.find((part) => part.name === name)!);
    const got = bareBars(tidy.score.parts.find((part) => part.name === name)!);
    want.forEach((bar, index) => {
      expect(got[index], `bar ${index}`).toEqual(bar);
    });
  });

  it('loses no note and no word', () => {
    const { account } = tidy;
    expect(unaccounted(account)).toBe(0);
    expect(account).toMatchObject({ merged: 0, leftOut: 0, unwritable: 0 });
    expect(tidy.lostLyrics).toEqual([]);
  });
});

describe('the demo piece from its untidy file', () => {
  const untidy = transcribeNow(readPerformance(readSmf(untidyFile())), EMPTY_BRIEF);
  const partOf = (instrument: string) =>
    untidy.score.parts.findIndex((part) => part.instrument === instrument);

  it('finds the viola 80 ms ahead of the beat, and nobody else', () => {
    untidy.readings.forEach(({ leads }, index) => {
      for (const { seconds, other } of leads) {
        expect(seconds).toBeCloseTo(index === partOf('viola') ? 0.08 : 0, 2);
        expect(other).toBeUndefined();
      }
    });
  });

  it('puts the notes outside the swung bars on their places', () => {
    const places = (score: Score, part: Part) =>
      soundedNotes(score, part)
        .filter((note) => note.start < truth.bars[SWUNG_BARS.from]!.start)
        .map((note) => `${note.start} ${note.key}`);
    for (const [id, share] of [
      ['flute', 0.99],
      ['clarinet-bflat', 1],
      ['horn-f', 1],
      ['harp', 1],
      ['cello', 1],
      ['viola', 0.98],
      ['voice', 1],
    ] as const) {
      const want = places(truth, truth.parts.find((part) => part.instrument === id)!);
      const got = new Set(places(untidy.score, untidy.score.parts[partOf(id)]!));
      expect(want.filter((place) => got.has(place)).length / want.length, id).toBeGreaterThanOrEqual(share);
    }
  });

  it('accounts for every note', () => {
    expect(untidy.account).toEqual({
      notes: 2326,
      written: 2321,
      graces: 1,
      merged: 1,
      marks: 0,
      leftOut: 0,
      unwritable: 3,
      beyond: 0,
    });
  });
});

describe('MusicXML of the demo piece', () => {
  it.each([
    ['truth', truth],
    ['tidy', tidy.score],
    ['untidy', transcribeNow(readPerformance(readSmf(untidyFile())), EMPTY_BRIEF).score],
  ])('is valid and closed (%s)', (_, score) => {
    const root = parseXml(writeMusicXml(score));
    expect(schemaFaults(root)).toEqual([]);
    expect(readClosed(root).faults).toEqual([]);
  });
});
