import { type EventId, eventId, strandOf } from '../../src/core/model/ids';
import type { Note, Score } from '../../src/core/model/score';
import { type Moment, QUARTER } from '../../src/core/model/time';
import type { ScoreEdits } from '../../src/core/rewrite';
import type { ScoreReading } from '../../src/core/sources/musicxml/source';
import { placesIn } from '../../src/core/sources/musicxml/splice';

/** A note as it stands in a score, with what is tied to it. */
export interface Stands {
  part: number;
  start: Moment;
  end: Moment;
  key: number;
  grace: boolean;
}

/** All notes of a score by the first event that is played of each. */
export function standing({ parts, bars }: Score): Map<EventId, Stands> {
  const found = new Map<EventId, Stands>();
  parts.forEach((part, index) => {
    part.bars.forEach(({ voices }, bar) => {
      for (const { items } of voices)
        for (const item of items) {
          if (item.kind !== 'chord') continue;
          const start = bars[bar]!.start + item.onset;
          const all = [
            ...[...(item.graces ?? []), ...(item.gracesAfter ?? [])].map((note) => ({ note, grace: true })),
            ...item.notes.map((note) => ({ note, grace: false })),
          ];
          for (const { note, grace } of all) {
            const [first] = note.sources;
            if (!first) continue;
            const known = found.get(first);
            if (known) known.end = Math.max(known.end, start + item.duration);
            else
              found.set(first, {
                part: index,
                start,
                end: grace ? start : start + item.duration,
                key: note.key,
                grace,
              });
          }
        }
    });
  });
  return found;
}

export const EDIT_KINDS = ['drop', 'shorter', 'longer', 'move', 'third', 'add', 'voice'] as const;
export type EditKind = (typeof EDIT_KINDS)[number];

const NONE: ScoreEdits = { dropped: new Set(), placed: new Map(), added: new Map(), lines: new Map() };

/** An edit of a note of a score; null where it comes to nothing. @param random 0 to 1 */
export function editOf(
  kind: EditKind,
  event: EventId,
  { start, end, grace, key, part }: Stands,
  score: Score,
): ScoreEdits | null {
  const last = score.bars.at(-1)!;
  const close = last.start + last.length;
  const place = (from: Moment, to: Moment): ScoreEdits | null =>
    grace || to > close || to <= from || (from === start && to === end)
      ? null
      : { ...NONE, placed: new Map([[event, { start: from, end: to }]]) };
  switch (kind) {
    case 'drop':
      return { ...NONE, dropped: new Set([event]) };
    case 'shorter':
      return place(start, start + Math.round((end - start) / 2));
    case 'longer':
      return place(start, end + QUARTER / 2);
    case 'move':
      return place(start + QUARTER / 2, end + QUARTER / 2);
    case 'voice':
      return grace ? null : { ...NONE, lines: new Map([[event, { voice: 2 }]]) };
    case 'third':
      return place(start, start + QUARTER / 3);
    case 'add': {
      if (grace || start + QUARTER / 2 > close) return null;
      const strand = strandOf(event);
      void part;
      return {
        ...NONE,
        added: new Map([
          [
            eventId(strand, 9_000_000),
            { strand, start, end: start + QUARTER / 2, key: key > 60 ? key - 4 : key + 4 },
          ],
        ]),
      };
    }
  }
}

/** What stands in the score after an edit that was carried out. */
export function expected(
  before: ReadonlyMap<EventId, Stands>,
  edits: ScoreEdits,
  score: Score,
): Map<EventId, Stands> {
  const after = new Map(before);
  for (const event of edits.dropped) after.delete(event);
  // Grace notes go with all of their chord, and along with it.
  for (const { chord, graces } of chordsWithGraces(score)) {
    const moved = chord.map((id) => edits.placed.get(id)?.start).find((start) => start !== undefined);
    const isGone = chord.every((id) => edits.dropped.has(id) || edits.placed.has(id));
    for (const id of graces) {
      const own = after.get(id);
      if (!own || !isGone) continue;
      if (moved === undefined) after.delete(id);
      else after.set(id, { ...own, start: moved, end: moved + own.end - own.start });
    }
  }
  for (const [event, { start, end }] of edits.placed) {
    const own = before.get(event)!;
    const from = start ?? own.start;
    after.set(event, { ...own, start: from, end: end ?? from + own.end - own.start });
  }
  for (const [event, { strand, start, end, key }] of edits.added)
    after.set(event, {
      part: score.parts.findIndex(({ id }) => id === `P${strand}`),
      start,
      end,
      key,
      grace: false,
    });
  return after;
}

/** Where two sets of notes differ. */
export const differing = (
  one: ReadonlyMap<EventId, Stands>,
  other: ReadonlyMap<EventId, Stands>,
): EventId[] =>
  [...new Set([...one.keys(), ...other.keys()])].filter(
    (id) => JSON.stringify(one.get(id)) !== JSON.stringify(other.get(id)),
  );

/** Bars of the parts whose text is another, by part and index, without those that were to be. */
export function otherBars(
  before: ScoreReading,
  after: ScoreReading,
  touched: ReadonlyMap<number, readonly number[]>,
): string[] {
  const found: string[] = [];
  before.document.order.forEach((id, part) => {
    const [one, two] = [before, after].map(({ document }) =>
      (placesIn(document, id)?.bars ?? []).map(({ from, to }) => document.text.slice(from, to)),
    ) as [string[], string[]];
    if (one.length !== two.length) found.push(`${id}: ${one.length} bars are ${two.length}`);
    one.forEach((text, bar) => {
      if (text !== two[bar] && !touched.get(part)?.includes(bar)) found.push(`${id} ${bar}`);
    });
  });
  return found;
}

function* chordsWithGraces({ parts }: Score): Generator<{ chord: EventId[]; graces: EventId[] }> {
  const events = (notes: readonly Note[]) => notes.flatMap(({ sources }) => sources.slice(0, 1));
  for (const { bars } of parts)
    for (const { voices } of bars)
      for (const { items } of voices)
        for (const item of items)
          if (item.kind === 'chord')
            yield {
              chord: events(item.notes),
              graces: events([...(item.graces ?? []), ...(item.gracesAfter ?? [])]),
            };
}
