import { fullLength } from '../../model/meter';
import { type Bar, type Chord, keyInBar, type Part, type Score } from '../../model/score';
import type { Moment, Span } from '../../model/time';

/**
 * A piece that begins with an upbeat may have each section begin with one: then music comes again from upbeat to
 * upbeat, and not from bar line to bar line. A unit goes from the upbeat of a bar to the next one's; the first
 * has the upbeat that the piece begins with, and no rests before it. There are as many units as bars, the last of which is an upbeat alone.
 */

/**
 * By how much units begin before the bar lines; 0 where the piece has no upbeat, or bars shorter than it. What stands
 * in a first bar that begins with rests may be one, too, as in files that begin with a whole bar.
 *
 * @param begins the moment at which the piece is first heard
 */
export function upbeatOf(bars: readonly Bar[], begins: Moment): Span {
  const [first, ...others] = bars;
  if (!first || (first.missing === 0 && begins <= first.start)) return 0;
  const upbeat = first.missing > 0 ? first.length : first.start + first.length - begins;
  return upbeat > 0 && others.every(({ length }) => length > upbeat) ? upbeat : 0;
}

/** Where the unit of an index begins, in moments of the piece: that of the last bar at its end, where it has no room for an upbeat. */
export const unitStart = (bars: readonly Bar[], upbeat: Span, unit: number): Moment => {
  const bar = bars[unit]!;
  if (upbeat === 0 || (unit === 0 && bar.missing > 0)) return bar.start;
  return bar.start + Math.min(bar.length, fullLength(bar.meter) - upbeat);
};

/** What is read of chords from upbeat to upbeat. */
export interface Units {
  /** A text for each unit, equal where the same chords stand at the same places. */
  texts: string[];
  /** Whether something sounds over the beginning of each unit. */
  crossed: boolean[];
}

/** The units of a part. */
export function unitsOf({ bars: own }: Pick<Part, 'bars'>, bars: readonly Bar[], upbeat: Span): Units {
  const starts = bars.map((_, unit) => unitStart(bars, upbeat, unit));
  const lines = bars.map(() => '');
  const crossed = bars.map(() => false);
  own.forEach(({ voices, shown }, index) => {
    const zero = bars[index]!.start;
    for (const { voice, staff, items } of voices)
      for (const item of items) {
        const at = zero + item.onset;
        // A bar's own upbeat belongs to the unit of its index, what is before it to the one before.
        const unit = at >= starts[index]! ? index : index - 1;
        const isOver = at + item.duration > (starts[unit + 1] ?? Number.POSITIVE_INFINITY);
        // A rest over it can be divided, but for one of a tuplet.
        if (isOver && (item.kind === 'chord' || item.tuplet)) crossed[unit + 1] = true;
        if (item.kind === 'rest') continue;
        if (at === starts[unit] && tiesIn(item)) crossed[unit] = true;
        lines[unit] += `${staff}.${voice} ${at - (bars[unit + 1]?.start ?? zero)} ${chordText(item)}|`;
      }
    if (shown) crossed[index] = true;
  });
  return { texts: lines, crossed };
}

const tiesIn = ({ notes }: Chord): boolean => notes.some(({ tieStop }) => tieStop);

/** Spelling follows what comes next, and is that of the first time. */
const chordText = ({ duration, notes, graces = [], gracesAfter = [] }: Chord): string =>
  [
    duration,
    ...[...graces, ...notes, ...gracesAfter].map(
      ({ key, tieStart, tieStop }) => `${key}${tieStart ? '>' : ''}${tieStop ? '<' : ''}`,
    ),
  ].join(' ');

/** How the bars of each unit are read: meter, key, and whether they are swung. */
export const unitFrames = ({
  bars,
  keys,
  swings = [],
}: Pick<Score, 'bars' | 'keys' | 'swings'>): string[] => {
  const frames = bars.map(({ meter }, index) => {
    const { fifths, minor } = keyInBar({ keys }, index);
    const swing = swings.find(({ from, to }) => from <= index && index < to);
    return `${meter.numerator}/${meter.denominator} ${fifths} ${minor} ${swing?.value} ${swing?.ratio}`;
  });
  return bars.map((_, unit) => `${frames[Math.max(1, unit)]} ${frames[unit + 1]}`);
};
