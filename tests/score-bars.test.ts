import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF, parseBrief } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { addedNoteId, type EventId, type StrandId, strandOf } from '@/core/model/ids';
import { textOfMoment, WHOLE } from '@/core/model/time';
import type { BarsEdit } from '@/core/rewrite/bar-order';
import { editBars } from '@/core/workbench/bars-edit';
import { Workbench, type Written } from '@/core/workbench/workbench';
import { madeQuartet } from './helpers/made-quartet';

/** A job with a quartet of 16 bars of 4/4, some decisions, and then an edit of its bars. */
function job(make: (written: Written) => PlainDirective[], text = madeQuartet(12)) {
  const bytes = new TextEncoder().encode(text);
  const bench = new Workbench([{ id: '1', version: 1, name: 'quartet.mxl', bytes }]);
  let revision = 0;
  let brief = EMPTY_BRIEF;
  const write = (): Written => {
    bench.layOut(++revision, brief);
    return finished(bench.write(revision));
  };
  const found = write();
  brief = withDirectives(brief, parseBrief({ ...EMPTY_BRIEF, directives: make(found) }).directives);
  const before = write();
  return {
    before,
    edit: (edit: BarsEdit) => {
      const made = editBars(bench, bench.at(revision), edit);
      brief = bench.decided(brief, [{ kind: 'version', source: '1', version: 2 }]);
      return { made, brief, after: write() };
    },
  };
}

/** The first note of a part in a bar (index), as the event that is played of it. */
function firstIn({ transcription }: Written, part: number, bar: number): { id: EventId; key: number } {
  for (const { items } of transcription.score.parts[part]!.bars[bar]!.voices)
    for (const item of items)
      if (item.kind === 'chord') return { id: item.notes[0]!.sources[0]!, key: item.notes[0]!.key };
  throw new Error('There is no note in this bar.');
}

const keysIn = ({ transcription }: Written, part: number, bar: number): number[] =>
  transcription.score.parts[part]!.bars[bar]!.voices.flatMap(({ items }) =>
    items.flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ key }) => key) : [])),
  );

/** A pitch in bar 10 (index 9), a note in bar 12 and a rehearsal mark at bar 8 are decided. */
function decided(written: Written): PlainDirective[] {
  const { id } = firstIn(written, 0, 9);
  const strand = strandOf(id) as StrandId;
  const start = 11 * WHOLE;
  return [
    { kind: 'pitch', note: id, steps: 0, semitones: 1 },
    { kind: 'bar-sign', at: textOfMoment(7 * WHOLE), what: 'rehearsal', put: true, text: 'B' },
    {
      kind: 'write',
      note: addedNoteId(strand, []),
      strand,
      start: textOfMoment(start),
      end: textOfMoment(start + WHOLE / 16),
      key: 100,
    },
  ];
}

describe('bars that are put in, taken out and moved', () => {
  it('take along what was decided of the music after them', () => {
    const { before, edit } = job(decided);
    const { after, made } = edit({ what: 'insert', at: 4, count: 2 });
    expect(made.name).toBe('quartet.musicxml');
    expect(after.transcription.score.bars).toHaveLength(18);
    for (const part of [0, 1, 2, 3])
      for (let bar = 0; bar < 16; bar++)
        expect(keysIn(after, part, bar < 4 ? bar : bar + 2)).toEqual(keysIn(before, part, bar));
    expect(keysIn(after, 0, 13)).toContain(100);
    const marked = after.transcription.score.parts[0]!.bars.flatMap(({ marks = [] }, bar) =>
      marks.some(({ kind }) => kind === 'rehearsal') ? [bar] : [],
    );
    expect(marked).toEqual([9]);
  });

  it('that go take along what was put into them, which is told', () => {
    const { before, edit } = job(decided);
    const { after, made, brief } = edit({ what: 'remove', from: 7, to: 12 });
    expect(made.told).toEqual([
      '1 note that you wrote into these bars went with them.',
      '1 sign that you put at these bars went with them.',
    ]);
    expect(brief.directives.map(({ kind }) => kind)).toEqual(['pitch', 'version']);
    expect(after.transcription.score.bars).toHaveLength(11);
    expect(keysIn(after, 2, 7)).toEqual(keysIn(before, 2, 12));
  });

  it('keep what was decided of them where they stand now', () => {
    const { before, edit } = job(decided);
    const raised = firstIn(before, 0, 9);
    const { after, made } = edit({ what: 'move', from: 9, to: 12, at: 2 });
    expect(made.told).toEqual([]);
    expect(after.transcription.score.bars).toHaveLength(16);
    const order = [0, 1, 9, 10, 11, 2, 3, 4, 5, 6, 7, 8, 12, 13, 14, 15];
    order.forEach((bar, place) => {
      for (const part of [0, 1, 2, 3]) expect(keysIn(after, part, place)).toEqual(keysIn(before, part, bar));
    });
    expect(firstIn(after, 0, 2)).toEqual(raised);
    expect(keysIn(after, 0, 4)).toContain(100);
  });

  it('of a score with repeats go by its pages, not by how it is played', () => {
    const repeated = madeQuartet(12).replaceAll(
      /(<measure number="8">.*?)<\/measure>/g,
      '$1<barline location="right"><repeat direction="backward"/></barline></measure>',
    );
    const { before, edit } = job(decided, repeated);
    expect(keysIn(before, 0, 11)).toContain(100);
    const { after } = edit({ what: 'insert', at: 10, count: 1 });
    expect(keysIn(after, 0, 12)).toContain(100);
    expect(keysIn(after, 0, 9)).toEqual(keysIn(before, 0, 9));
  });
});
