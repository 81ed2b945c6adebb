import { beatGroups, fullLength } from '../model/meter';
import { type Bar, type Beam, type Chord, type Item, tupletsFrom } from '../model/score';
import {
  type Moment,
  NOTE_TYPES,
  type NoteType,
  QUARTER,
  type Span,
  singleValue,
  type Value,
  WHOLE,
} from '../model/time';
import { beamVoice } from '../notate/beams';
import { barRests } from '../notate/rests';
import { type Stretch, type WrittenPiece, writeBar } from '../notate/rhythm';
import { child, childrenOf, numberOf, textOf, type XmlElement } from '../sources/musicxml/elements';
import { type Cell, isCell, isInTuplet, type Run } from './bar-text';
import { type Content, notationsIn } from './note-text';

/** A note that is to stand in a bar, or a stretch of one that is tied over bar lines. Moments in units from the bar's start. */
export interface Added {
  start: Moment;
  end: Moment;
  /** What the first, and what each later of its values says. */
  first: Content;
  later: Content;
  /** What stands in the `notations` of its last value besides. */
  last: readonly string[];
  tieStart: boolean;
  tieStop: boolean;
  /** Grace notes before, and after it. */
  graces: readonly { text: string; name: Named | null }[];
  gracesAfter: Added['graces'];
  /** What it is called from now on; null for what a tie goes on to. */
  name: Named | null;
}

/** A note as it was read, or the number of one that is new. */
export type Named = { read: string } | { number: number };

/** A stretch of a voice: what stays in it of what the document has, and what is put in. */
interface Slot {
  onset: Moment;
  duration: Span;
  /** What the document has there. */
  cell: Cell | null;
  kept: readonly XmlElement[];
  added: readonly Added[];
  isTouched: boolean;
  isSpace: boolean;
}

/** A chord, rest or space of the run as it is to be written. */
export interface Written {
  onset: Moment;
  duration: Span;
  /** Stays to the character. */
  asItWas: Cell | null;
  /** Of a chord whose notes are not all the same: those that stay. */
  kept: readonly XmlElement[];
  added: readonly Added[];
  kind: Cell['kind'];
  value: Value;
  /** The element whose tuplet it is in, or the one that is made. */
  within: XmlElement | WrittenPiece<unknown>['tuplet'] | null;
  isWholeBar: boolean;
  /** It is the first, the last value of what is put in. */
  isFirst: boolean;
  isLast: boolean;
  /** Where they are to be said anew. */
  beams: readonly Beam[] | null;
}

/** The slots of a run, without the notes that go. */
function slotsOf({ pieces }: Run, gone: ReadonlySet<XmlElement>): Slot[] {
  return pieces.filter(isCell).map((cell): Slot => {
    const kept = cell.kind === 'chord' ? cell.elements.filter((each) => !gone.has(each)) : [];
    return {
      onset: cell.onset,
      duration: cell.duration,
      cell,
      kept,
      added: [],
      isTouched: cell.kind === 'chord' && kept.length < cell.elements.length,
      isSpace: cell.kind === 'space',
    };
  });
}

const endOf = ({ onset, duration }: { onset: Moment; duration: Span }): Moment => onset + duration;
const sounds = ({ kept, added }: Slot): boolean => kept.length + added.length > 0;
const isTuplet = ({ cell }: Slot): boolean => cell !== null && cell.kind !== 'space' && isInTuplet(cell);
const silence = (onset: Moment, end: Moment, isSpace: boolean): Slot => ({
  onset,
  duration: end - onset,
  cell: null,
  kept: [],
  added: [],
  isTouched: true,
  isSpace,
});

/** The slots with one note more; null where others are in its way. */
function withNote(slots: readonly Slot[], note: Added, runStart: Moment): Slot[] | null {
  const { start, end } = note;
  if (start < runStart) return null;
  const over = slots.filter((slot) => slot.onset < end && endOf(slot) > start && slot.duration > 0);
  const [only] = over;
  if (over.length === 1 && only && sounds(only) && only.onset === start && endOf(only) === end)
    return slots.map((slot) =>
      slot === only ? { ...slot, added: [...slot.added, note], isTouched: true } : slot,
    );
  if (over.some(sounds)) return null;
  if (over.some((slot) => isTuplet(slot) && (slot.onset < start || endOf(slot) > end))) return null;
  const last = slots.at(-1);
  const runEnd = last ? endOf(last) : runStart;
  const free = [...over];
  if (end > runEnd) free.push(silence(Math.max(runEnd, runStart), end, true));
  const made: Slot[] = [];
  /** Stretches of the note that are written apart: each tuplet's rest, and all that lies between these. */
  const stretches: { onset: Moment; end: Moment; slot: Slot | null }[] = [];
  for (const slot of free) {
    const [from, to] = [Math.max(start, slot.onset), Math.min(end, endOf(slot))];
    if (slot.onset < start) made.push(silence(slot.onset, start, slot.isSpace));
    const before = stretches.at(-1);
    if (from < to) {
      if (isTuplet(slot)) stretches.push({ onset: from, end: to, slot });
      else if (before && !before.slot && before.end === from) before.end = to;
      else stretches.push({ onset: from, end: to, slot: null });
    }
    if (endOf(slot) > end) made.push(silence(end, endOf(slot), slot.isSpace));
  }
  stretches.forEach(({ onset, end: to, slot }, index) => {
    const isFirst = index === 0;
    const isLast = index === stretches.length - 1;
    const piece: Added = {
      ...note,
      start: onset,
      end: to,
      first: isFirst ? note.first : note.later,
      last: isLast ? note.last : [],
      tieStop: isFirst ? note.tieStop : true,
      tieStart: isLast ? note.tieStart : true,
      name: isFirst ? note.name : null,
      graces: isFirst ? note.graces : [],
      gracesAfter: isLast ? note.gracesAfter : [],
    };
    made.push(
      slot
        ? { ...slot, kept: [], added: [piece], isTouched: true }
        : { ...silence(onset, to, false), added: [piece] },
    );
  });
  return [...slots.filter((slot) => !over.includes(slot)), ...made].sort((a, b) => a.onset - b.onset);
}

/**
 * A run without the notes that go and with those that are put in: what does not change stays as it is
 * written, what is new is cut into values by the meter, and rests come and go; null where a note has no
 * room among the others.
 */
export function rewrittenRun(
  run: Run,
  asRead: Bar,
  gone: ReadonlySet<XmlElement>,
  added: readonly Added[],
  hasBeams: boolean,
): Written[] | null {
  const bar = measured(asRead);
  let slots: Slot[] = run.pieces.length > 0 ? slotsOf(run, gone) : [silence(0, bar.length, true)];
  for (const note of added) {
    const next = withNote(slots, note, run.start);
    if (!next) return null;
    slots = next;
  }
  const isEmpty = !slots.some(sounds) && slots.some(({ isTouched }) => isTouched);
  const isAll = run.start === 0 && slots.reduce((sum, { duration }) => sum + duration, 0) === bar.length;
  if (isEmpty && isAll && !slots.some(isTuplet)) return barRests(bar).map(restAs);
  const written = inValues(slots, bar);
  if (written && hasBeams) beamed(written, run, bar, slots);
  return written;
}

/** A bar that is longer than its meter is divided as one that is as long as it. */
function measured(bar: Bar): Bar {
  if (bar.missing + bar.length <= fullLength(bar.meter)) return bar;
  const unit = bar.length % QUARTER === 0 ? 4 : 16;
  const meter = { numerator: Math.ceil((bar.length * unit) / WHOLE), denominator: unit };
  return { ...bar, meter, groups: beatGroups(meter), missing: 0 };
}

const restAs = ({ onset, duration, value, wholeBar }: ReturnType<typeof barRests>[number]): Written => ({
  ...NOTHING,
  onset,
  duration,
  value,
  isWholeBar: wholeBar === true,
});

const NOTHING: Omit<Written, 'onset' | 'duration'> = {
  asItWas: null,
  kept: [],
  added: [],
  kind: 'rest',
  value: { type: 'quarter', dots: 0 },
  within: null,
  isWholeBar: false,
  isFirst: true,
  isLast: true,
  beams: null,
};

/** Stretches of slots that are written together: those that stay by themselves, tuplets whole, rests joined. */
function inValues(slots: readonly Slot[], bar: Bar): Written[] | null {
  const stretches: Stretch<Slot[]>[] = [];
  const put = (start: Moment, end: Moment, content?: Slot[]) =>
    stretches.push({ start: start + bar.missing, end: end + bar.missing, ...(content && { content }) });
  let at: Moment = 0;
  for (let index = 0; index < slots.length; index++) {
    const slot = slots[index]!;
    if (slot.duration === 0) continue;
    // What a document plays twice at one moment is no line that can be written anew.
    if (slot.onset < at) return null;
    if (slot.onset > at) put(at, slot.onset, []);
    const together = [slot];
    const goesOn = isTuplet(slot) ? isTuplet : isPlainRest(slot) ? isPlainRest : null;
    while (goesOn && slots[index + 1] && goesOn(slots[index + 1]!)) together.push(slots[++index]!);
    const end = endOf(together.at(-1)!);
    const isFree =
      !sounds(slot) && !isTuplet(slot) && !slot.isSpace && together.some((each) => each.isTouched);
    put(slot.onset, end, isFree ? undefined : together);
    at = end;
  }
  if (at < bar.length) put(at, bar.length, []);
  if (at > bar.length) return null;
  const pieces = writeBar(bar, stretches);
  const written: Written[] = [];
  let isClear = true;
  let held: Slot[] | null = null;
  for (const piece of pieces) {
    const { content, onset, duration, value, tuplet } = piece;
    const place = { onset: onset - bar.missing, duration };
    if (!content) {
      written.push({ ...NOTHING, ...place, value, within: tuplet ?? null });
      continue;
    }
    const [first] = content;
    if (first && content.length === 1 && isMade(first)) {
      const isSpace = first.isSpace && !sounds(first);
      const before = written.at(-1);
      if (isSpace && !tuplet && before?.kind === 'space' && !before.asItWas && endOf(before) === place.onset)
        before.duration += duration;
      else
        written.push({
          ...NOTHING,
          ...place,
          kind: isSpace && !tuplet ? 'space' : sounds(first) ? 'chord' : 'rest',
          value,
          within: tuplet ?? null,
          added: first.added,
          isFirst: piece.first,
          isLast: piece.last,
        });
      continue;
    }
    // What stays keeps the values that it has: a tuplet that would reach into it has no room.
    if (tuplet) isClear = false;
    if (content !== held) for (const slot of content) written.push(asWritten(slot));
    held = content;
  }
  return isClear ? written : null;
}

const isPlainRest = (slot: Slot): boolean => !sounds(slot) && !isTuplet(slot) && !slot.isSpace;
/** New in a place of its own, or space that is left beside it. */
const isMade = ({ cell }: Slot): boolean => cell === null;

/** A slot that keeps its value. */
function asWritten(slot: Slot): Written {
  const { cell, onset, duration, kept, added, isTouched } = slot;
  const [element] = cell?.elements ?? [];
  const isChord = sounds(slot);
  return {
    ...NOTHING,
    onset,
    duration,
    asItWas: isTouched ? null : cell,
    kept,
    added,
    kind: isChord ? 'chord' : slot.isSpace ? 'space' : 'rest',
    value: writtenValue(element, duration),
    within: element && isTuplet(slot) ? element : null,
  };
}

function writtenValue(element: XmlElement | undefined, duration: Span): Value {
  const type = textOf(element, 'type') as NoteType | undefined;
  if (element && type && NOTE_TYPES.includes(type)) return { type, dots: childrenOf(element, 'dot').length };
  return singleValue(duration, 2) ?? { type: 'quarter', dots: 0 };
}

/** Beams anew for all that is beamed with what changes, or was. */
function beamed(written: Written[], run: Run, bar: Bar, slots: readonly Slot[]): void {
  const items = written.flatMap((each): { each: Written; item: Item }[] =>
    each.kind === 'space' ? [] : [{ each, item: itemOf(each) }],
  );
  beamVoice(
    items.map(({ item }) => item),
    bar,
  );
  const touched = new Set<Moment>(slots.filter((slot) => slot.isTouched).map(({ onset }) => onset));
  for (const each of written) if (!each.asItWas) touched.add(each.onset);
  const before = groupsOf(
    run.pieces.filter(isCell).map(({ onset, elements }) => ({
      onset,
      beam: elements[0] && textOf(elements[0], 'beam'),
    })),
  );
  const now = groupsOf(
    items.map(({ item }) => ({
      onset: item.onset,
      beam: item.kind === 'chord' ? item.beams?.[0] : undefined,
    })),
  );
  const anew = new Set<Moment>(touched);
  // A beam that reaches from what changes to what stays takes that along, and so on.
  for (let size = -1; size !== anew.size; ) {
    size = anew.size;
    for (const group of [...before, ...now])
      if (group.some((onset) => anew.has(onset))) for (const onset of group) anew.add(onset);
  }
  for (const { each, item } of items)
    if (item.kind === 'chord' && anew.has(item.onset)) each.beams = item.beams ?? [];
}

/** What is under one beam, by onsets. */
function groupsOf(all: readonly { onset: Moment; beam: string | undefined }[]): Moment[][] {
  const groups: Moment[][] = [];
  let open: Moment[] | null = null;
  for (const { onset, beam } of all) {
    if (beam === 'begin') {
      open = [onset];
      groups.push(open);
    } else if (open && (beam === 'continue' || beam === 'end')) open.push(onset);
    if (beam === 'end') open = null;
  }
  return groups;
}

function itemOf({ kind, onset, duration, value, within }: Written): Item {
  const tuplet = within && ('name' in within ? tupletOf(within) : within);
  const timed = { onset, duration, value, ...(tuplet && { tuplet }) };
  return kind === 'rest'
    ? { kind: 'rest', ...timed }
    : ({ kind: 'chord', ...timed, notes: [] } satisfies Chord);
}

function tupletOf(element: XmlElement): Item['tuplet'] {
  const ratio = child(element, 'time-modification');
  const type = (textOf(ratio, 'normal-type') ?? textOf(element, 'type')) as NoteType | undefined;
  const starts = notationsIn(element).some(
    ({ name, attributes }) => name === 'tuplet' && attributes.type === 'start',
  );
  return {
    actual: numberOf(ratio, 'actual-notes') ?? 3,
    normal: numberOf(ratio, 'normal-notes') ?? 2,
    unit: type && NOTE_TYPES.includes(type) ? type : 'eighth',
    ...(starts && { edge: 'start' as const }),
  };
}

/** The ratio and brackets of a tuplet that is made (MusicXML 4.0, `time-modification`, `tuplet`). */
export function tupletTexts(tuplet: NonNullable<Item['tuplet']>): { ratio: string; brackets: string[] } {
  const all = [...tupletsFrom(tuplet)];
  const [actual, normal] = all.reduce(([so, per], each) => [so * each.actual, per * each.normal], [1, 1] as [
    number,
    number,
  ]);
  return {
    ratio: `<time-modification><actual-notes>${actual}</actual-notes><normal-notes>${normal}</normal-notes><normal-type>${tuplet.unit}</normal-type></time-modification>`,
    brackets: tuplet.edge ? [`<tuplet type="${tuplet.edge}"/>`] : [],
  };
}
