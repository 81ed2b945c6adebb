import { wordsOf } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { type TakenOver, takenName } from '../decisions/kinds/take';
import { barAt } from '../model/clock';
import { type EventId, isAddedNote, type SourceId, strandOf } from '../model/ids';
import type { PlayedNote, Strand } from '../model/performance';
import { keyName } from '../model/pitch';
import type { StrandChange } from '../reconcile/carry';
import type { State } from './workbench';

/** A decision about a note that is there no more, and the note that it could go to. */
export interface LostDecision {
  /** What was decided, in words, and about which note: its key, strand and bar in the version before. */
  what: string;
  about: string;
  directive: PlainDirective;
  /** The same decision about the nearest note of the strand; null where there is none. */
  again: PlainDirective | null;
  to: string;
}

/** What a new version of the leading source brought. */
export interface VersionNews {
  source: SourceId;
  version: number;
  name: string;
  /** Some of it can be taken; a score counts as a whole. */
  divides: boolean;
  strands: StrandChange[];
  /** Printed numbers of its bars, and of those of the version before. */
  numbers: number[];
  numbersBefore: number[];
  /** Bars that it has and the version before had not, by printed numbers, and the other way round. */
  inserted: number[];
  cut: number[];
  taken: TakenOver | null;
  lost: LostDecision[];
}

/** What the version that counts brought; null for the first one. */
export function newsOf({ desk }: State): VersionNews | null {
  const { carried, source, version, name, decisions, brief } = desk;
  if (!carried) return null;
  const { clock } = carried.performance;
  const numberOf = (tick: number) => barAt(clock, tick).number;
  const before = carried.before;
  const numbers = carried.barTicks.map(numberOf);
  const numbersBefore = carried.barTicksBefore.map((tick) => barAt(before.clock, tick).number);
  return {
    source: source.source,
    version,
    name,
    divides: desk.can.editsNotes,
    strands: carried.strands,
    numbers,
    numbersBefore,
    inserted: carried.bars.flatMap(({ one, two }) => (one === null && two !== null ? [numbers[two]!] : [])),
    cut: carried.bars.flatMap(({ one, two }) => (two === null && one !== null ? [numbersBefore[one]!] : [])),
    taken: decisions.taken.get(takenName(source.source, version)) ?? null,
    lost: lostOf(
      brief.directives,
      source.strands,
      before.strands,
      (tick) => barAt(before.clock, tick).number,
      carried.toNew,
    ),
  };
}

function lostOf(
  directives: readonly PlainDirective[],
  now: readonly Strand[],
  before: readonly Strand[],
  barBefore: (tick: number) => number,
  toNew: (tick: number) => number,
): LostDecision[] {
  const here = new Set<EventId>(now.flatMap(({ notes }) => notes.map(({ id }) => id)));
  const there = new Map(
    before.flatMap((strand) => strand.notes.map((note) => [note.id, { note, strand }] as const)),
  );
  return directives.flatMap((directive): LostDecision[] => {
    if (!('note' in directive)) return [];
    // The note that `meant` has is words.
    if (directive.kind === 'meant' || typeof directive.note !== 'string') return [];
    const id = directive.note as EventId;
    if (here.has(id) || isAddedNote(id)) return [];
    const old = there.get(id);
    const nearest =
      old &&
      nearestOf(
        old.note,
        now.find((strand) => strand.id === strandOf(id)),
        toNew,
      );
    return [
      {
        what: wordsOf(directive),
        about: old
          ? `${keyName(old.note.key)} of ${old.strand.name}, bar ${barBefore(old.note.on)}`
          : 'a note of an earlier version',
        directive,
        again: nearest ? ({ ...directive, note: nearest.id } as PlainDirective) : null,
        to: nearest ? keyName(nearest.key) : '',
      },
    ];
  });
}

/** A note this far away, in ticks, is no other than one that is a semitone away. */
const PER_SEMITONE = 60;

/** The note of a strand nearest in time and key. */
function nearestOf(
  { on, key }: PlayedNote,
  strand: Strand | undefined,
  toNew: (tick: number) => number,
): PlayedNote | undefined {
  const at = toNew(on);
  const away = (note: PlayedNote) => Math.abs(note.on - at) + PER_SEMITONE * Math.abs(note.key - key);
  return strand?.notes.reduce<PlayedNote | undefined>(
    (best, note) => (!best || away(note) < away(best) ? note : best),
    undefined,
  );
}
