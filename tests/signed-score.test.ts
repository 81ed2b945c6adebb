import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { type EventId, eventOfNote } from '@/core/model/ids';
import type { Anchor } from '@/core/model/marks';
import type { Part, Score } from '@/core/model/score';
import { DYNAMIC_SIGNS, isSpanning, isWorded, SIGNS, type Sign } from '@/core/model/signs';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { Workbench } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from './helpers/schema';

const SCORE = writeMusicXml(lanternFerry());
const bench = new Workbench([
  { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(SCORE) },
]);
let revision = 0;
function job(...directives: PlainDirective[]) {
  const { desk } = bench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
  const { transcription } = finished(bench.write(revision));
  const { score } = transcription;
  const document = new TextDecoder().decode(deliverScore(desk, score, 'musicxml'));
  return { desk, score, document };
}
const plain = job();
/** The first notes of a part, tied ones once. */
const notesOf = ({ bars }: Part): EventId[] =>
  [
    ...new Set(
      bars.flatMap(({ voices }) =>
        voices.flatMap(({ items }) =>
          items.flatMap((item) =>
            item.kind === 'chord' ? item.notes.flatMap(({ id }) => eventOfNote(id) ?? []) : [],
          ),
        ),
      ),
    ),
  ].slice(0, 30);
/** Of the flute, and of the harp on its two staves. */
const harp = plain.score.parts.findIndex(({ name }) => name === 'Harp');
const notes: EventId[] = [plain.score.parts[0]!, plain.score.parts[harp]!].flatMap(notesOf);
const allSigns = ({ parts }: Score) => [0, harp].map((index) => signsOf(parts[index]!));
const put = (sign: Sign, at: number, more: { until?: number; text?: string; put?: boolean | null } = {}) =>
  ({
    kind: 'sign',
    note: notes[at]!,
    sign,
    put: more.put === undefined ? true : more.put,
    ...(more.until !== undefined && { until: notes[more.until] }),
    ...(more.text !== undefined && { text: more.text }),
  }) as PlainDirective;

/** What stands in a part beside its notes, by places alone. */
function signsOf(part: Part): string[] {
  const places = new Map<string, string>();
  const out: string[] = [];
  part.bars.forEach(({ voices, marks = [] }, bar) => {
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        for (const note of item.notes) {
          places.set(note.id, `${bar}@${item.onset} ${note.key}`);
          if (note.ghost || note.ringsOn)
            out.push(`${bar}@${item.onset} ${note.key} ${note.ghost} ${note.ringsOn}`);
        }
        const own = (item.marks ?? [])
          .map((mark) => mark.kind + ('name' in mark ? ` ${mark.name}` : ''))
          .sort();
        if (own.length > 0) out.push(`${bar}@${item.onset} ${own.join()}`);
        if (item.lyrics) out.push(`${bar}@${item.onset} ${JSON.stringify(item.lyrics)}`);
      }
    for (const mark of marks)
      if (mark.kind === 'dynamic' || mark.kind === 'words')
        out.push(`${bar}@${mark.at} ${mark.kind} ${mark.kind === 'words' ? mark.text : mark.dynamic}`);
  });
  const placeOf = (end: Anchor) => ('note' in end ? places.get(end.note) : `${end.bar}@${end.at}`);
  for (const { kind, from, to } of part.spanners ?? [])
    out.push(`${kind} ${placeOf(from)} to ${placeOf(to)}`);
  return out.sort();
}
const readAgain = (document: string): Score => readMusicXml(new TextEncoder().encode(document)).score;

describe('signs at notes of a score that was read', () => {
  it('are written into its text, each at its place, and nothing else changes', () => {
    const signed = job(
      put('tenuto', 2),
      put('mordent', 3),
      put('fermata', 5),
      put('words', 6, { text: 'dolce' }),
      put('dynamic', 6, { text: 'sfz' }),
    );
    expect(schemaFaults(parseXml(signed.document))).toEqual([]);
    for (const name of ['<tenuto/>', '<mordent/>', 'dolce', '<sfz/>'])
      expect(signed.document.split(name).length - SCORE.split(name).length).toBe(1);
    expect(signsOf(readAgain(signed.document).parts[0]!)).toEqual(signsOf(signed.score.parts[0]!));
    // Take what was put in out again: the rest is the text as it came.
    const lines = new Set(SCORE.split('\n').map((line) => line.trim()));
    const more = signed.document.split('\n').filter((line) => !lines.has(line.trim()));
    expect(more.length).toBeLessThanOrEqual(5);
  });

  it('are slurs and hairpins from note to note, and those that stand there are taken off', () => {
    const signed = job(put('slur', 0, { until: 3 }), put('crescendo', 4, { until: 6 }));
    expect(schemaFaults(parseXml(signed.document))).toEqual([]);
    expect(signsOf(readAgain(signed.document).parts[0]!)).toEqual(signsOf(signed.score.parts[0]!));
    // The same document with its slur and hairpin, which are taken off again.
    const other = new Workbench([
      { id: '1', version: 1, name: 'y.musicxml', bytes: new TextEncoder().encode(signed.document) },
    ]);
    const off = [put('slur', 0, { put: false }), put('crescendo', 4, { put: false })];
    const { desk } = other.layOut(1, withDirectives(EMPTY_BRIEF, off));
    const { transcription } = finished(other.write(1));
    const document = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(signsOf(readAgain(document).parts[0]!)).toEqual(signsOf(plain.score.parts[0]!));
  });

  it('are heard: what is staccato is shorter, what is accented louder', () => {
    const strandOf = (result: ReturnType<typeof job>) => result.desk.performance.strands[0]!.notes;
    const signed = job(put('staccato', 2), put('accent', 3));
    const [before, after] = [strandOf(plain), strandOf(signed)];
    expect(after[2]!.off - after[2]!.on).toBeLessThan(before[2]!.off - before[2]!.on);
    expect(after[3]!.velocity).toBeGreaterThan(before[3]!.velocity);
    expect(after.map(({ on, key }) => [on, key])).toEqual(before.map(({ on, key }) => [on, key]));
  });

  it('of any kind say in the text what the score says, and taken back leave it byte for byte', () => {
    const sign = fc
      .record({
        sign: fc.constantFrom(...SIGNS.filter((name) => name !== 'beam')),
        note: fc.nat(notes.length - 1),
        until: fc.nat(notes.length - 1),
        dynamic: fc.constantFrom(...DYNAMIC_SIGNS),
        put: fc.boolean(),
      })
      .map(({ sign: name, note, until, dynamic, put: on }) =>
        put(name, note, {
          put: on,
          ...(isSpanning(name) && { until }),
          ...(isWorded(name) && { text: name === 'dynamic' ? dynamic : 'così-' }),
        }),
      );
    fc.assert(
      fc.property(fc.array(sign, { maxLength: 6 }), (edits) => {
        const signed = job(...edits);
        expect(schemaFaults(parseXml(signed.document))).toEqual([]);
        expect(allSigns(readAgain(signed.document))).toEqual(allSigns(signed.score));
        const back = edits.map((each) => ({ ...each, put: null }) as PlainDirective);
        expect(job(...edits, ...back).document === SCORE).toBe(true);
      }),
      { numRuns: 25 },
    );
  });
});
