import type { Barline } from './score';
import type { Moment } from './time';

/** What stands at a bar for all parts: at its start, but for `bar-line` and `repeat-to`, which end it. */
export const BAR_SIGNS = [
  'rehearsal',
  'tempo',
  'key',
  'bar-line',
  'repeat-from',
  'repeat-to',
  'ending',
] as const;
export type BarSign = (typeof BAR_SIGNS)[number];

/** How a bar may end, in MusicXML's words (`bar-style`). */
export const BAR_LINES = [
  'regular',
  'light-light',
  'light-heavy',
  'heavy',
  'dashed',
  'dotted',
  'none',
] as const;
export type BarLine = (typeof BAR_LINES)[number];

/** One sign that is to stand at a bar, or not. */
export interface BarSignChoice {
  /** Where the bar begins, from the start of the piece. */
  at: Moment;
  what: BarSign;
  put: boolean;
  /** A rehearsal mark, the words of a tempo, or the numbers of an ending as `1, 2`. */
  text?: string;
  /** Of a tempo, 10–600. */
  quartersPerMinute?: number;
  /** Of a key, in concert pitch: sharps, or flats where below 0, −7 to 7. */
  fifths?: number;
  minor?: boolean;
  /** Of a bar line. */
  style?: BarLine;
  /** How often a repeat is played; twice where absent. */
  times?: number;
  /** Bars that an ending goes over, from 1. */
  bars?: number;
}

/** What is heard twice is not told: a repeat without a number. */
const USUAL_TIMES = 2;

/** The numbers of an ending, from its text. */
export const endingNumbers = (text: string): number[] =>
  text.split(',').map((each) => Number.parseInt(each, 10));

/** A bar's left line as it is wanted. */
export function leftLine(before: Barline | undefined, choices: readonly BarSignChoice[]): Barline {
  let line = before ?? {};
  for (const { what, put, text = '1' } of choices) {
    if (what === 'repeat-from') {
      const { repeat: _, style: __, ...others } = line;
      line = put ? { ...others, style: 'heavy-light', repeat: { direction: 'forward' } } : others;
    }
    if (what === 'ending') {
      const { ending: _, ...others } = line;
      line = put ? { ...others, ending: { numbers: endingNumbers(text), type: 'start' } } : others;
    }
  }
  return line;
}

/** A bar's right line as it is wanted, but for endings, which stop at other bars than they begin. */
export function rightLine(before: Barline | undefined, choices: readonly BarSignChoice[]): Barline {
  let line = before ?? {};
  for (const { what, put, style, times = USUAL_TIMES } of choices) {
    if (what === 'bar-line') {
      const { style: _, ...others } = line;
      line = put && style ? { ...others, style } : others;
    }
    if (what === 'repeat-to') {
      const { repeat: _, style: __, ...others } = line;
      const more = times === USUAL_TIMES ? {} : { times };
      line = put ? { ...others, style: 'light-heavy', repeat: { direction: 'backward', ...more } } : others;
    }
  }
  return line;
}
