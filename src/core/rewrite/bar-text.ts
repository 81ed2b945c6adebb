import { type Moment, QUARTER, type Span } from '../model/time';
import { child, numberOf, textOf, type XmlElement } from '../sources/musicxml/elements';

/** Notes that are struck together, a rest, or time in which nothing is printed. Moments in units from the start of the bar. */
export interface Cell {
  kind: 'chord' | 'rest' | 'space';
  onset: Moment;
  duration: Span;
  /** The notes of a chord in their order; the one rest or `forward`. */
  elements: readonly XmlElement[];
}

/** What takes no time: directions, signatures, grace notes … */
export interface Aside {
  kind: 'aside';
  at: Moment;
  element: XmlElement;
}

/** Elements of a bar that follow each other in time, up to where the music goes back. */
export interface Run {
  start: Moment;
  end: Moment;
  pieces: (Cell | Aside)[];
  /** The `backup` after it. */
  back: XmlElement | null;
}

/** The text of a bar as what is played in it one after the other. */
export interface BarText {
  measure: XmlElement;
  runs: Run[];
  /** Divisions of a quarter, the same in all of the bar. */
  divisions: number;
}

/** Why the text of a bar cannot be changed: the end of a sentence. */
export class UnclearBarError extends Error {
  override name = 'UnclearBarError';
}

const TIMED = new Set(['note', 'backup', 'forward']);

/**
 * Reads the text of a bar.
 *
 * @param divisions that hold where it begins; 0 for none
 * @throws UnclearBarError where it cannot be told when something in it is played
 */
export function barText(measure: XmlElement, divisions: number): BarText {
  const begun = measure.children.findIndex(({ name }) => TIMED.has(name));
  const said = measure.children.flatMap((each, index) => {
    const own = each.name === 'attributes' ? numberOf(each, 'divisions') : undefined;
    return own === undefined ? [] : [{ own, isLate: begun >= 0 && index > begun && own !== divisions }];
  });
  if (said.length > 1 || said.some(({ isLate }) => isLate))
    throw new UnclearBarError('it changes its divisions halfway');
  const own = said[0]?.own ?? divisions;
  if (!(own > 0)) throw new UnclearBarError('nothing says how long a division is');
  const spanOf = (element: XmlElement): Span => {
    const duration = numberOf(element, 'duration');
    if (duration === undefined || duration < 0) throw new UnclearBarError('a duration is missing');
    return Math.round((duration * QUARTER) / own);
  };
  let at: Moment = 0;
  let run: Run = { start: 0, end: 0, pieces: [], back: null };
  const runs = [run];
  let last: Cell | null = null;
  const take = (kind: Cell['kind'], element: XmlElement) => {
    last = { kind, onset: at, duration: spanOf(element), elements: [element] };
    run.pieces.push(last);
    at += last.duration;
    run.end = Math.max(run.end, at);
  };
  for (const element of measure.children) {
    if (element.name === 'backup') {
      run.back = element;
      at = Math.max(0, at - spanOf(element));
      run = { start: at, end: at, pieces: [], back: null };
      runs.push(run);
      last = null;
    } else if (element.name === 'forward') take('space', element);
    else if (element.name !== 'note' || child(element, 'grace'))
      run.pieces.push({ kind: 'aside', at, element });
    else if (child(element, 'chord') && (last as Cell | null)?.kind === 'chord') {
      const chord = last as unknown as Cell;
      chord.elements = [...chord.elements, element];
    } else take(child(element, 'rest') ? 'rest' : 'chord', element);
  }
  return { measure, runs, divisions: own };
}

/** The staff of a note, from 1. */
export const staffOf = (note: XmlElement): number => numberOf(note, 'staff') ?? 1;

/** The voice of a note as its document names it. */
export const voiceOf = (note: XmlElement): string => textOf(note, 'voice') ?? '1';

export const isCell = (piece: Cell | Aside): piece is Cell => piece.kind !== 'aside';

/** Cells that are part of a tuplet. */
export const isInTuplet = ({ elements }: Cell): boolean =>
  child(elements[0], 'time-modification') !== undefined;
