import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Graph } from '@/core/basics/graph';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import { rearrange } from '@/core/edit/rearrange';
import { explainNote, NARROW } from '@/core/explain/explain';
import { rhythmFindings } from '@/core/explain/findings';
import type { Score } from '@/core/model/score';
import { QUARTER, textOfMoment } from '@/core/model/time';
import { soundedNotes } from '@/core/perform/play';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const TICKS = 480;

/** Any performance at all: notes anywhere, of any length, many at once. */
const strokes = fc.array(
  fc.tuple(fc.nat(6000), fc.integer({ min: 1, max: 1500 }), fc.integer({ min: 30, max: 96 })),
  { minLength: 1, maxLength: 60 },
);

const toStrokes = (notes: [number, number, number][]): Stroke[] =>
  notes.map(([on, length, key]) => [on, on + length, key]);

const names = ['Piano', 'Violin', 'Flute', 'Guitar'];

const written = (notes: [number, number, number][], name: string, brief: Brief = EMPTY_BRIEF) =>
  transcribeNow(readPerformance(madeFile(madeTrack(name, 0, toStrokes(notes)))), brief);

/** Notes, in any voice, as start, end and key. */
const soundsOf = (score: Score): string[] =>
  score.parts.flatMap((part) =>
    soundedNotes(score, part).map(({ start, end, key }) => `${start} ${end} ${key}`),
  );

/** A score as a file to the tick, each part on its channel. */
function tidyFileOf(score: Score): Uint8Array {
  const ticks = (moment: number) => Math.round((moment / QUARTER) * TICKS);
  return writeSmf(
    madeFile(
      ...score.parts.map((part, index) =>
        madeTrack(
          part.name,
          index,
          soundedNotes(score, part).map(({ start, end, key }): Stroke => [ticks(start), ticks(end), key]),
        ),
      ),
    ),
  );
}

describe('any performance', () => {
  it('becomes bars that add up, with no voice overlapping itself, and valid MusicXML', () => {
    fc.assert(
      fc.property(strokes, fc.constantFrom(...names), (notes, name) => {
        const { score, account } = written(notes, name);
        for (const [index, bar] of score.bars.entries())
          for (const line of score.parts[0]!.bars[index]!.voices) {
            let at = 0;
            for (const item of line.items) {
              expect(item.onset).toBe(at);
              expect(item.duration).toBeGreaterThan(0);
              at += item.duration;
            }
            expect(at).toBe(bar.length);
          }
        expect(unaccounted(account)).toBe(0);
        const root = parseXml(writeMusicXml(score));
        expect(schemaFaults(root)).toEqual([]);
        expect(readClosed(root).faults).toEqual([]);
      }),
      { numRuns: 150 },
    );
  });

  it('stays as it was read when it is written to the tick and read again', () => {
    const line = fc
      .array(fc.tuple(fc.integer({ min: 100, max: 900 }), fc.integer({ min: 48, max: 84 })), {
        minLength: 4,
        maxLength: 40,
      })
      .map((steps) => {
        let at = 0;
        return steps.map(([step, key]): [number, number, number] => {
          const on = at;
          at += step;
          return [on, Math.round(step * 0.9), key];
        });
      });
    fc.assert(
      fc.property(line, (notes) => {
        const { score } = written(notes, 'Oboe');
        // Grace notes and swing are realised differently from how they are read, and have tests of their own.
        fc.pre(!score.swings && !writeMusicXml(score).includes('<grace'));
        const again = transcribeNow(readPerformance(readSmf(tidyFileOf(score))), EMPTY_BRIEF);
        expect(soundsOf(again.score)).toEqual(soundsOf(score));
      }),
      { numRuns: 100 },
    );
  });

  it('gives every written note a reason, and its alternatives', () => {
    fc.assert(
      fc.property(strokes, (notes) => {
        const result = written(notes, 'Violin');
        for (const finding of rhythmFindings(result)) {
          expect(finding.kind).toBe('narrow');
          expect(explainNote(result, finding.note)!.margin).toBeLessThan(NARROW);
          expect(finding.instead.moment !== finding.at.moment || finding.by >= 0).toBe(true);
        }
        for (const id of result.readings[0]!.notes.keys()) {
          const reading = explainNote(result, id)!;
          expect(reading.end.moment).toBeGreaterThanOrEqual(reading.start.moment);
          for (const other of reading.alternatives)
            expect(other.moment !== reading.start.moment || other.grace !== reading.grace).toBe(true);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('decisions about single notes', () => {
  const line: [number, number, number][] = Array.from({ length: 16 }, (_, at) => [
    at * 480 + ((at * 13) % 25),
    400,
    60 + at,
  ]);
  const before = written(line, 'Oboe');
  const ids = [...before.readings[0]!.notes.keys()];
  const after = (arrangement: Parameters<typeof rearrange>[2], index = 5, like?: number) => {
    const brief = withDirectives(EMPTY_BRIEF, rearrange(before, [ids[index]!], arrangement, like));
    const result = written(line, 'Oboe', brief);
    return { brief, result, note: result.readings[0]!.notes.get(ids[index]!)! };
  };

  it('move a note by a slot, and back', () => {
    expect(before.readings[0]!.notes.get(ids[5]!)!.start).toBe(5 * QUARTER);
    const { brief, note } = after('later');
    expect(note.start).toBe(5.25 * QUARTER);
    const undone = withDirectives(brief, rearrange(before, [ids[5]!], 'as-found'));
    expect(written(line, 'Oboe', undone).score).toEqual(before.score);
    expect(after('earlier').note.start).toBe(4.75 * QUARTER);
  });

  it('set where a note ends', () => {
    expect(after('to-next').note.end).toBe(6 * QUARTER);
    const { end } = before.readings[0]!.notes.get(ids[5]!)!;
    expect(after('shorter').note.end).toBe(end - QUARTER / 4);
    expect(after('longer').note.end).toBe(Math.min(end + QUARTER / 4, 6 * QUARTER));
    expect(after('to-beat').note.end).toBe(6 * QUARTER);
    expect(after('as-played').note.end).toBe(5.75 * QUARTER);
  });

  it('leave the rest of the part, and all other parts, as they were', () => {
    const smf = madeFile(
      madeTrack('Oboe', 0, toStrokes(line)),
      madeTrack('Clarinet', 1, toStrokes(line.map(([on, length, key]) => [on + 7, length, key]))),
    );
    const performance = readPerformance(smf);
    const workings = new Graph();
    const first = transcribeNow(performance, EMPTY_BRIEF, workings);
    const id = [...first.readings[0]!.notes.keys()][3]!;
    const brief = withDirectives(EMPTY_BRIEF, rearrange(first, [id], 'later'));
    const second = transcribeNow(performance, brief, workings);
    expect(second.score.parts[1]!.bars).toBe(first.score.parts[1]!.bars);
    const others = (result: typeof first) =>
      [...result.readings[0]!.notes]
        .filter(([each]) => each !== id)
        .map(([each, note]) => [each, note.start]);
    expect(others(second)).toEqual(others(first));
  });

  it('take over the rhythm of another part', () => {
    const late = line.map(([on, length, key]): [number, number, number] => [on + 190, length, key]);
    const smf = madeFile(madeTrack('Oboe', 0, toStrokes(line)), madeTrack('Horn', 1, toStrokes(late)));
    const performance = readPerformance(smf);
    const first = transcribeNow(performance, EMPTY_BRIEF);
    const horn = first.plans.findIndex((plan) => plan.name.startsWith('Horn'));
    const note = [...first.readings[horn]!.notes.keys()][4]!;
    const brief = withDirectives(EMPTY_BRIEF, rearrange(first, [note], 'like-part', 1 - horn));
    const second = transcribeNow(performance, brief);
    expect(second.readings[horn]!.notes.get(note)!.start).toBe(4 * QUARTER);
  });

  it('set lead, smallest value and gaps, for a part or a passage', () => {
    const eighths = Array.from({ length: 32 }, (_, at): [number, number, number] => [at * 240 + 3, 100, 60]);
    const coarse = written(
      eighths,
      'Oboe',
      withDirectives(EMPTY_BRIEF, [
        { kind: 'grid', smallest: 'quarter', triplets: false, from: 0, to: 1920 },
        { kind: 'offset', ticks: 0 },
        { kind: 'lead', strand: '1/t1c1', milliseconds: 0 },
      ]),
    );
    const starts = [...coarse.readings[0]!.notes.values()].map((note) => note.start / QUARTER);
    expect(starts.filter((start) => start < 4).every(Number.isInteger)).toBe(true);
    expect(starts.filter((start) => start >= 4).some((start) => !Number.isInteger(start))).toBe(true);
    const rests = (closing: number) =>
      written(
        eighths,
        'Oboe',
        withDirectives(EMPTY_BRIEF, [
          { kind: 'offset', ticks: 0 },
          { kind: 'lengths', closing },
        ]),
      )
        .score.parts[0]!.bars.flatMap((bar) => bar.voices[0]!.items)
        .filter((item) => item.kind === 'rest').length;
    expect(rests(0)).toBeGreaterThan(rests(4));
  });

  it('are written as exact fractions', () => {
    expect(textOfMoment(13 * QUARTER)).toBe('13');
    expect(textOfMoment((40 * QUARTER) / 3)).toBe('40/3');
    expect(textOfMoment((7 * QUARTER) / 20)).toBe('7/20');
  });
});
