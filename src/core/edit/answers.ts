import { lastAtOrBefore } from '../basics/search';
import type { PlainDirective } from '../decisions/kinds';
import { findReading } from '../explain/explain';
import { type EventId, eventOfNote, type StrandId, strandOf } from '../model/ids';
import { diatonicHeight } from '../model/pitch';
import { barIndexOf, keyInBar } from '../model/score';
import { type Moment, QUARTER, type Span, textOfMoment } from '../model/time';
import type { Difference, Entry, LineMatch } from '../reconcile/ledger';
import type { ReadBar, ReadNote, Side } from '../reconcile/reading';
import type { TimeMap } from '../reconcile/time-map';
import { type EditedScore, numbering, writeNote } from './in-score';
import { bySemitones } from './pitches';

/** What is to be in the score of notes in which another reading differs: that one's, or both. */
export const ANSWERS = ['theirs', 'both'] as const;
export type Answer = (typeof ANSWERS)[number];

/** A score that was read, and another reading laid over it; the score is the first of the two. */
export interface LaidOnScore extends EditedScore {
  score: Side;
  other: Side;
  lines: readonly LineMatch[];
  /** From moments of the other reading to those of the score as it is played. */
  toScore: TimeMap;
}

/** The decisions that some differences come to, and how many notes of them stay as they are. */
export interface Answered {
  directives: PlainDirective[];
  left: number;
}

/** A played note that begins this near an attack of the score begins with it. */
const NEAR: Span = QUARTER / 8;
/** What begins or ends by itself does so on a sixteenth, or on a third of a quarter where that is this much nearer. */
const GRID: Span = QUARTER / 4;
const THIRD: Span = QUARTER / 3;
const NEARER = 0.5;
/** A note held for this share of the time to the next attack of its part is as long as that on paper (common practice). */
const HELD = 0.4;

/**
 * The decisions that bring another reading's notes into a score that was read: what only that has is written in,
 * what only the score has is left out, and what is on another key, at another place or of another length is moved;
 * with both, what is there stays and the other note comes beside it. Played notes come to stand with attacks of
 * the score near them, or on sixteenths and triplets. Of a bar that is played several times the first time counts.
 */
export function answersTo(laid: LaidOnScore, entries: readonly Entry[], answer: Answer): Answered {
  const idIn = numbering(laid.written);
  const directives: PlainDirective[] = [];
  const done = new Set<string>();
  let left = 0;
  for (const entry of entries) {
    const name = subjectOf(laid, entry);
    if (name !== null && done.has(name)) continue;
    if (name !== null) done.add(name);
    const made = name === null ? [] : answerTo(laid, entry, answer, idIn);
    directives.push(...made);
    if (made.length === 0 && !(answer === 'both' && entry.one && !entry.two)) left++;
  }
  return { directives, left };
}

/** What an entry is about, the same for all times that it is played; null for what no decision can change. */
function subjectOf(laid: LaidOnScore, { one, two }: Entry): string | null {
  if (one) return eventOfNote(one.id);
  const at = two && writtenAt(laid, two);
  return at ? `${at.strand} ${at.start} ${two.key}` : null;
}

function answerTo(
  laid: LaidOnScore,
  { one, two, differs }: Entry,
  answer: Answer,
  idIn: (strand: StrandId) => EventId,
): PlainDirective[] {
  const event = one && eventOfNote(one.id);
  const own = event && findReading(laid.result, event)?.written;
  const at = two && writtenAt(laid, two);
  const put = (start: Moment, end: Moment, key: number, strand: StrandId, staff?: number): PlainDirective =>
    writeNote(idIn(strand), strand, { start, end, key, ...(staff !== undefined && { staff }) });
  if (!one) return at ? [put(at.start, at.end, at.key, at.strand)] : [];
  if (!event || !own) return [];
  const drop: PlainDirective = { kind: 'drop', note: event, out: true };
  if (!two) return answer === 'theirs' ? [drop] : [];
  if (!at) return [];
  const has = (kind: Difference) => differs.includes(kind);
  if (has('part')) {
    const beside = put(at.start, at.end, at.key, at.strand);
    return answer === 'theirs' ? [drop, beside] : [beside];
  }
  const start = has('onset') ? at.start : own.start;
  const end = has('length') ? Math.max(at.end, start + GRID) : start + own.end - own.start;
  const isElsewhere = start !== own.start || end !== own.end;
  const semitones = has('pitch') || has('octave') ? at.key - own.key : 0;
  if (answer === 'both')
    return isElsewhere || semitones !== 0
      ? [put(start, end, own.key + semitones, strandOf(event), own.staff)]
      : [];
  return [
    ...(isElsewhere
      ? [{ kind: 'place' as const, note: event, start: textOfMoment(start), end: textOfMoment(end) }]
      : []),
    ...(semitones !== 0 && one.pitch ? [moved(laid, event, one, semitones)] : []),
    ...(has('spelling') && one.pitch && two.pitch ? [moved(laid, event, one, 0, two)] : []),
  ];
}

/** Another pitch for a note, spelled by the signature, or as another reading spells it. */
function moved(
  { result, score }: LaidOnScore,
  note: EventId,
  one: ReadNote,
  semitones: number,
  as?: ReadNote,
): PlainDirective {
  const pitch = one.pitch!;
  if (as?.pitch) {
    const steps = diatonicHeight(as.pitch) - diatonicHeight(pitch);
    return { kind: 'pitch', note, steps, semitones };
  }
  const bar = barOfSide(score, one.start).written;
  const { diatonic, chromatic } = bySemitones(semitones, pitch, keyInBar(result.score, bar).fifths);
  return { kind: 'pitch', note, steps: diatonic, semitones: chromatic };
}

const barOfSide = ({ bars }: Side, moment: Moment): ReadBar =>
  bars[lastAtOrBefore(bars, moment, ({ start }) => start)]!;

/** Where a note of the other reading would be written, and on which key; null where it has no part or no bar in the score. */
function writtenAt(
  laid: LaidOnScore,
  { line, key, start, end }: ReadNote,
): { start: Moment; end: Moment; key: number; strand: StrandId } | null {
  const pair =
    laid.lines.find((each) => each.two === line && each.one !== null && each.whole) ??
    laid.lines.find((each) => each.two === line && each.one !== null);
  const played = laid.toScore.at(start);
  if (!pair || played === null) return null;
  const part = laid.result.score.parts[pair.one!]!;
  const bar = barOfSide(laid.score, played);
  const written = laid.result.score.bars[bar.written]!;
  // A bar may be entered in its middle.
  const from = written.start + bar.missing - written.missing - bar.start;
  const exact = laid.other.kind === 'score';
  const attacks = attacksIn(laid, bar.written, null);
  const first = exact ? played + from : snapped(played + from, written.start, attacks);
  const until = first + (end - start) * laid.toScore.scale(start);
  return {
    start: first,
    end: exact ? until : endOf(laid, first, until, pair.one!),
    key: key - pair.transposed,
    strand: part.id.slice(1) as StrandId,
  };
}

/** Moments of a bar at which something begins, in one part or in all, and its end. */
function attacksIn({ result: { score } }: LaidOnScore, index: number, part: number | null): Moment[] {
  const bar = score.bars[index]!;
  const moments = new Set([bar.start, bar.start + bar.length]);
  for (const { bars } of part === null ? score.parts : [score.parts[part]!])
    for (const { items } of bars[index]?.voices ?? [])
      for (const item of items) if (item.kind === 'chord') moments.add(bar.start + item.onset);
  return [...moments].sort((a, b) => a - b);
}

function snapped(moment: Moment, barStart: Moment, attacks: readonly Moment[]): Moment {
  const away = (each: Moment) => Math.abs(each - moment);
  const nearest = attacks.reduce((best, each) => (away(each) < away(best) ? each : best));
  if (away(nearest) <= NEAR) return nearest;
  const on = (grid: Span) => barStart + Math.max(0, Math.round((moment - barStart) / grid)) * grid;
  return away(on(THIRD)) < NEARER * away(on(GRID)) ? on(THIRD) : on(GRID);
}

/** Where a played note ends on paper: with the notes that begin with it in its part, at the next attack, or where it was let go. */
function endOf(laid: LaidOnScore, start: Moment, played: Moment, part: number): Moment {
  const { score } = laid.result;
  const index = barIndexOf(score.bars, start);
  const bar = score.bars[index]!;
  for (const { items } of score.parts[part]!.bars[index]?.voices ?? [])
    for (const item of items)
      if (item.kind === 'chord' && bar.start + item.onset === start) return start + item.duration;
  const next = attacksIn(laid, index, part).find((each) => each > start) ?? bar.start + bar.length;
  if (played >= start + HELD * (next - start) && played <= next + GRID) return next;
  return Math.max(start + GRID, bar.start + Math.round((played - bar.start) / GRID) * GRID);
}
