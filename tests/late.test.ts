import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { tidyFile } from '@/core/demo/tidy';
import { QUARTER } from '@/core/model/time';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow } from '@/core/transcribe';
import { interlinear } from '@/core/workbench/interlinear';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { layOutFile } from './helpers/desk';
import { madeFile, madeTrack, type Stroke } from './helpers/made-file';

const tidy = readSmf(tidyFile());

/** The tidy demo with all its notes so many ticks later. */
function late(ticks: number): Uint8Array {
  return writeSmf({
    ...tidy,
    tracks: tidy.tracks.map(({ events }) => ({
      events: events
        .map((event) =>
          event.kind === 'noteOn' || event.kind === 'noteOff' || event.kind === 'endOfTrack'
            ? { ...event, tick: event.tick + ticks }
            : event,
        )
        .sort((a, b) => a.tick - b.tick),
    })),
  });
}

function job(bytes: Uint8Array, ...directives: PlainDirective[]) {
  const bench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
  const state = bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { inventory } = finished(stockOf(state));
  const written = finished(bench.write(1));
  return { ...written, oddities: inventory.oddities, document: writeMusicXml(written.transcription.score) };
}

const quarter = tidy.division.kind === 'quarter' ? tidy.division.ticks : 0;
const straight = job(tidyFile());

describe('a file that is late as a whole', () => {
  it('is written as if it were not, whatever the delay, and says how late it is', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: Math.floor(0.2 * quarter) }), (ticks) => {
        const { transcription, document } = job(late(ticks));
        expect(transcription.offset).toBe(ticks);
        // Ids say which event of its track a note was, and nothing else may differ.
        expect(document).toBe(straight.document);
      }),
      { numRuns: 6 },
    );
  });

  it('is one oddity with one mend, after which it is on the beat for the sequencer too', () => {
    const ticks = Math.round(quarter / 10);
    const found = job(late(ticks)).oddities.filter(({ kind }) => kind === 'offset');
    expect(found).toHaveLength(1);
    expect(found[0]!.what).toContain('behind the beat, drums included');
    const mended = job(late(ticks), ...found[0]!.mend.directives);
    expect(mended.transcription.offset).toBe(0);
    expect(mended.oddities.some(({ kind }) => kind === 'offset')).toBe(false);
    const onsets = (bytes: Uint8Array) =>
      readPerformance(readSmf(bytes))
        .strands.flatMap(({ notes }) => notes.map(({ on, key }) => `${on} ${key}`))
        .sort();
    expect(onsets(deliverMidi(mended.desk))).toEqual(onsets(deliverMidi(straight.desk)));
  });

  it('shows what was played where it was played', () => {
    const ticks = Math.round(quarter / 10);
    const { transcription, desk } = job(late(ticks));
    const [part] = transcription.plans;
    const shown = interlinear(transcription, desk.decisions, new Set([part!.id]), 0, 8);
    const [note] = shown!.rows[0]!.notes;
    expect(note!.playedStart).toBeGreaterThan(note!.start);
    const decided = job(late(ticks), { kind: 'offset', ticks: 0 });
    expect(decided.transcription.offset).toBe(0);
  });
});

it('a file that is played ahead has no rest before the first note, which cannot sound before the file begins', () => {
  const ahead = (strand: number, at: number) => 38 + ((at * 7 + strand * 5) % 9);
  const made = Array.from({ length: 8 }, (_, strand) =>
    madeTrack(
      `Violin ${strand + 1}`,
      strand,
      Array.from({ length: 64 }, (__, at): Stroke => {
        const on = Math.max(strand % 3, at * 480 - ahead(strand, at));
        return [on, at * 480 + 360, 60 + (at % 7)];
      }),
    ),
  );
  const { score, offset, readings } = transcribeNow(
    layOutFile(madeFile(...made), EMPTY_BRIEF).performance,
    EMPTY_BRIEF,
  );
  expect(offset).toBeLessThan(0);
  for (const { bars } of score.parts) {
    const [first] = bars[0]!.voices[0]!.items;
    expect([first!.kind, first!.onset, first!.duration]).toEqual(['chord', 0, QUARTER]);
  }
  expect(Math.min(...readings.flatMap(({ notes }) => [...notes.values()].map(({ on }) => on)))).toBe(0);
});
