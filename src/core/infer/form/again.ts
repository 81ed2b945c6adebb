import { playedAs } from '../../model/form';
import { type Frame, frameEnd } from '../../model/frame';
import type { EventId } from '../../model/ids';
import type { Bar, KeySignature, SwingMark } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import type { Moment, Span } from '../../model/time';
import { piecesOf } from '../lengths/pieces';
import { barKinds } from './alike';
import { findRepeats, findReturn, MOST_BARS, worthOf } from './repeats';
import { unitFrames, unitStart, upbeatOf } from './units';

/** A rest costs so many symbols beside its own. */
const REST = 3;

/** Where a note is to stand. */
export interface NotePlace {
  start: Moment;
  end: Moment;
}

/** Attacks of a part at one moment: what is struck there. */
interface Stroke {
  /** From where its unit begins: as written, and as played. */
  start: Span;
  at: Span;
  /** From low to high. */
  notes: SketchNote[];
}

/**
 * Music that is played again is read as one: of passages that have the same keys in the same order, each stroke is put
 * where it lies nearest to what was played every time, and each note lasts as it does plainest. Sections are found by
 * what is struck, not by how it was read.
 *
 * @param parts attacks of each part as they were read
 * @returns for each part the notes that are to stand elsewhere, or to last otherwise
 */
export function likeEachTime(
  parts: readonly (readonly Attack[])[],
  frame: Frame,
  swings: readonly SwingMark[],
): [EventId, NotePlace][][] {
  const { bars } = frame;
  const places = parts.map((): [EventId, NotePlace][] => []);
  if (bars.length > MOST_BARS) return places;
  const frames = unitFrames({ bars: [...bars], keys: [IN_C], swings: [...swings] });
  const begins = parts.flat().reduce((first, { start }) => Math.min(first, start), Number.POSITIVE_INFINITY);
  const upbeat = upbeatOf(bars, begins);
  const ways = [0, ...(upbeat > 0 ? [upbeat] : [])].map((ahead) => {
    const units = parts.map((attacks) => strokesOf(attacks, bars, ahead));
    const texts = units.map((own) => own.map((strokes) => strokes.map(keysOf).join(' ')));
    const kinds = barKinds([frames, ...texts]);
    const sounds = bars.map((_, unit) => units.some((own) => own[unit]!.length > 0));
    const repeats = findRepeats({ kinds, sounds });
    return { ahead, units, kinds, sounds, repeats, worth: worthOf(repeats, { kinds, sounds }) };
  });
  const best = ways.reduce((a, b) => (b.worth > a.worth ? b : a));
  const back = findReturn(best, best.repeats);
  const as = playedAs(bars.length, back?.repeats ?? best.repeats, back?.goesBack ?? null);
  const groups = new Map<number, number[]>();
  for (const [unit, first] of as.entries()) groups.set(first, [...(groups.get(first) ?? []), unit]);
  for (const [part, own] of best.units.entries())
    for (const units of groups.values())
      if (units.length > 1)
        agree(
          units.map((unit) => ({ strokes: own[unit]!, zero: unitStart(bars, best.ahead, unit) })),
          frame,
          places[part]!,
        );
  return places;
}

/** Keys tell by themselves whether they are the same: a signature says no more. */
const IN_C: KeySignature = { bar: 0, fifths: 0, minor: false };

/** The strokes of a part from unit to unit, in order. */
function strokesOf(attacks: readonly Attack[], bars: readonly Bar[], ahead: Span): Stroke[][] {
  const units = bars.map((): Stroke[] => []);
  const starts = bars.map((_, unit) => unitStart(bars, ahead, unit));
  let unit = 0;
  const ordered = attacks.filter(({ grace }) => !grace).sort((a, b) => a.start - b.start || a.at - b.at);
  for (const { start, at, notes } of ordered) {
    while (unit + 1 < starts.length && starts[unit + 1]! <= start) unit++;
    const zero = starts[unit]!;
    const last = units[unit]!.at(-1);
    if (last?.start === start - zero) last.notes.push(...notes);
    else units[unit]!.push({ start: start - zero, at: at - zero, notes: [...notes] });
  }
  for (const own of units) for (const { notes } of own) notes.sort((a, b) => a.key - b.key);
  return units;
}

const keysOf = ({ notes }: Stroke): string => notes.map(({ key }) => key).join('+');

interface Pass {
  strokes: readonly Stroke[];
  /** Where it begins in the piece. */
  zero: Moment;
}

/** Puts the strokes of passages with the same keys where they all agree best. */
function agree(passes: readonly Pass[], frame: Frame, out: [EventId, NotePlace][]): void {
  const [first] = passes as [Pass, ...Pass[]];
  const starts = first.strokes.map((_, index) => nearestToAll(passes.map(({ strokes }) => strokes[index]!)));
  // Where each by itself would upset the order, they stay as they were read.
  if (starts.some((start, index) => index > 0 && start <= starts[index - 1]!)) return;
  first.strokes.forEach((stroke, index) => {
    const start = starts[index]!;
    const next = starts[index + 1];
    stroke.notes.forEach((_, note) => {
      const lengths = passes.map(({ strokes }) => {
        const own = strokes[index]!.notes[note]!;
        return own.end - own.start;
      });
      const length = plainest(
        [...new Set(lengths)],
        first.zero + start,
        next === undefined ? null : next - start,
        frame,
      );
      for (const { strokes, zero } of passes) {
        const own = strokes[index]!.notes[note]!;
        const place = { start: zero + start, end: Math.min(zero + start + length, frameEnd(frame)) };
        if (own.start === place.start && own.end === place.end) continue;
        for (const id of own.sources.slice(0, 1)) out.push([id, place]);
      }
    });
  });
}

/** The place, of those at which a stroke was read, that is nearest to all times that it was played. */
function nearestToAll(strokes: readonly Stroke[]): Span {
  const away = (start: Span) => strokes.reduce((sum, { at }) => sum + (at - start) ** 2, 0);
  return strokes.map(({ start }) => start).reduce((a, b) => (away(b) < away(a) ? b : a));
}

/** The length of fewest symbols, with the rest that it leaves before the next. */
function plainest(lengths: readonly Span[], start: Moment, next: Span | null, frame: Frame): Span {
  const cost = (length: Span) =>
    piecesOf(frame, start, start + length) +
    (next !== null && length < next ? REST + piecesOf(frame, start + length, start + next) : 0);
  return lengths.reduce((a, b) => (cost(b) < cost(a) ? b : a));
}
