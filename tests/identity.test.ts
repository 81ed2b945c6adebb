import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { pitchFifths } from '@/core/model/pitch';
import type { Score } from '@/core/model/score';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { parseXml, schemaFaults } from './helpers/schema';
import { type TidyScore, TPQ, tidyScores, tidySmf, UNITS } from './helpers/tidy-score';

/** Every note of a score in the generator's own terms, ties joined. */
function notesOf(score: Score): string[] {
  const open = new Map<string, { start: number; length: number; key: number }>();
  const notes: { start: number; length: number; key: number }[] = [];
  for (const part of score.parts)
    part.bars.forEach((bar, index) => {
      for (const line of bar.voices)
        for (const item of line.items) {
          if (item.kind !== 'chord') continue;
          for (const note of item.notes) {
            const id = note.id.split('.')[0]!;
            if (note.tieStop) open.get(id)!.length += item.duration / UNITS;
            else {
              const made = {
                start: (score.bars[index]!.start + item.onset) / UNITS,
                length: item.duration / UNITS,
                key: note.key,
              };
              notes.push(made);
              open.set(id, made);
            }
          }
        }
    });
  return notes.map((note) => `${note.start} ${note.length} ${note.key}`).sort();
}

const expected = (score: TidyScore): string[] =>
  score.notes.map((note) => `${note.start} ${note.length} ${note.key}`).sort();

const transcribed = (tidy: TidyScore): Score =>
  transcribeNow(readPerformance(readSmf(writeSmf(tidySmf(tidy)))), EMPTY_BRIEF).score;

describe('a tidy score through SMF and back', () => {
  it('gives the same notes, lengths and bars', () => {
    fc.assert(
      fc.property(tidyScores, (tidy) => {
        const score = transcribed(tidy);
        expect(notesOf(score)).toEqual(expected(tidy));
        for (const bar of score.bars) expect(bar.meter).toEqual(tidy.meter);
      }),
      { numRuns: 400 },
    );
  });

  it('spells every note of the scale in the key', () => {
    fc.assert(
      fc.property(tidyScores, (tidy) => {
        for (const part of transcribed(tidy).parts)
          for (const bar of part.bars)
            for (const line of bar.voices)
              for (const item of line.items)
                if (item.kind === 'chord')
                  for (const note of item.notes) {
                    const place = pitchFifths(note.pitch);
                    expect(place).toBeGreaterThanOrEqual(tidy.fifths - 1);
                    expect(place).toBeLessThanOrEqual(tidy.fifths + 5);
                    expect(note.accidental).toBeUndefined();
                  }
      }),
      { numRuns: 100 },
    );
  });

  it('writes schema-valid MusicXML whose music is closed and the same', () => {
    fc.assert(
      fc.property(tidyScores, (tidy) => {
        const root = parseXml(writeMusicXml(transcribed(tidy)));
        expect(schemaFaults(root)).toEqual([]);
        const { notes, faults } = readClosed(root);
        expect(faults).toEqual([]);
        const read = notes.map(
          (note) => `${Math.round(note.onset * TPQ)} ${Math.round(note.length * TPQ)} ${note.key}`,
        );
        expect(read.sort()).toEqual(expected(tidy));
      }),
      { numRuns: 200 },
    );
  });
});
