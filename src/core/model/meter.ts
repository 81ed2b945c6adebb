import type { Meter } from './clock';
import type { Bar } from './score';
import { type Moment, QUARTER, type Span, WHOLE } from './time';

/**
 * A stretch of a bar and how it divides. Leaves are halved further as needed.
 * `kind`: two equal halves, three equal thirds, or unequal groups.
 */
export interface MeterSpan {
  start: Moment;
  length: Span;
  kind: 'pair' | 'triple' | 'groups';
  children: MeterSpan[];
  /** The span is one beat of the meter or lies inside one. */
  withinBeat: boolean;
}

/** Sixteenth of a 128th: nothing is halved below. */
const SMALLEST = QUARTER / 128;

/** How long a full bar of a meter is. */
export const fullLength = ({ numerator, denominator }: Meter): Span => (WHOLE * numerator) / denominator;

/** A compound meter counts in dotted beats (6/8, 9/8, 12/8, 6/4, also 3/8 in one). */
export const isCompound = (meter: Meter): boolean =>
  meter.numerator % 3 === 0 && (meter.numerator > 3 || meter.denominator >= 8);

/**
 * Lengths of the beats of a full bar: equal ones, or for 5, 7, 8, 10, 11 …
 * over eighths or shorter groups of two and three (usual grouping: threes
 * first in five, last in seven).
 */
export function beatGroups(meter: Meter): Span[] {
  const unit = WHOLE / meter.denominator;
  const { numerator } = meter;
  if (isCompound(meter)) return new Array<Span>(numerator / 3).fill(3 * unit);
  if (meter.denominator <= 4) {
    if (numerator === 5) return [3 * unit, 2 * unit];
    if (numerator === 7) return [2 * unit, 2 * unit, 3 * unit];
    return new Array<Span>(numerator).fill(unit);
  }
  if (numerator === 5) return [3 * unit, 2 * unit];
  if (numerator === 8) return [3 * unit, 3 * unit, 2 * unit];
  const groups: Span[] = [];
  let rest = numerator;
  for (; rest > 3; rest -= 2) groups.push(2 * unit);
  return [...groups, rest * unit];
}

function node(
  start: Moment,
  length: Span,
  kind: MeterSpan['kind'],
  withinBeat: boolean,
  children: () => MeterSpan[],
): MeterSpan {
  let made: MeterSpan[] | undefined;
  return {
    start,
    length,
    kind,
    withinBeat,
    get children() {
      made ??= children();
      return made;
    },
  };
}

/** A span that halves all the way down. */
export function binarySpan(start: Moment, length: Span, withinBeat = true): MeterSpan {
  return node(start, length, 'pair', withinBeat, () =>
    length / 2 < SMALLEST
      ? []
      : [
          binarySpan(start, length / 2, withinBeat || length <= QUARTER),
          binarySpan(start + length / 2, length / 2, withinBeat || length <= QUARTER),
        ],
  );
}

/** `count` equal units, each halving further. */
export function equalSpan(start: Moment, unit: Span, count: number, withinBeat = true): MeterSpan {
  return node(start, unit * count, count === 3 ? 'triple' : 'groups', withinBeat, () =>
    Array.from({ length: count }, (_, index) => binarySpan(start + index * unit, unit)),
  );
}

const isPowerOfTwo = (value: number): boolean => Number.isInteger(Math.log2(value));

/** One beat or group: a group of three units divides in three, others halve. */
function groupSpan(start: Moment, length: Span, unit: Span): MeterSpan {
  const count = length / unit;
  if (count === 3) return equalSpan(start, unit, 3);
  return isPowerOfTwo(count) ? binarySpan(start, length) : equalSpan(start, unit, count);
}

function joined(children: MeterSpan[]): MeterSpan {
  const [first] = children;
  if (children.length === 1) return first!;
  const length = children.reduce((sum, child) => sum + child.length, 0);
  const equal = children.every((child) => child.length === first!.length);
  const kind = !equal
    ? 'groups'
    : children.length === 2
      ? 'pair'
      : children.length === 3
        ? 'triple'
        : 'groups';
  return node(first!.start, length, kind, false, () => children);
}

/**
 * The whole bar as a tree. Times are from the start of the (full) bar; in an
 * upbeat the notes stand at its end, so their times begin at `bar.missing`.
 */
export function barSpan(bar: Pick<Bar, 'meter' | 'groups'>): MeterSpan {
  const { meter, groups } = bar;
  const name = `${meter.numerator}/${meter.denominator} ${groups.join(' ')}`;
  const known = TREES.get(name);
  if (known) return known;
  const made = makeTree(meter, groups);
  TREES.set(name, made);
  return made;
}

/** A piece has few meters and many bars: each tree is built once. */
const TREES = new Map<string, MeterSpan>();

function makeTree(meter: Meter, groups: readonly Span[]): MeterSpan {
  const unit = WHOLE / meter.denominator;
  let at = 0;
  const beats = groups.map((length) => {
    const beat =
      isCompound(meter) || meter.denominator > 4 ? groupSpan(at, length, unit) : simpleBeat(at, length, unit);
    at += length;
    return beat;
  });
  if (beats.length === 4 && beats.every((beat) => beat.length === beats[0]!.length))
    return joined([joined(beats.slice(0, 2)), joined(beats.slice(2))]);
  return joined(beats);
}

/** A beat of a simple meter, or a group of several beats in 5/4 and 7/4. */
function simpleBeat(start: Moment, length: Span, unit: Span): MeterSpan {
  const count = length / unit;
  if (count === 1) return binarySpan(start, length);
  const beats = Array.from({ length: count }, (_, index) => binarySpan(start + index * unit, unit));
  return joined(beats);
}

interface BarBeat {
  /** From the start of the full bar. */
  start: Moment;
  length: Span;
}

/** Asked for so often that each bar's are laid out once. */
const BEATS = new WeakMap<object, readonly BarBeat[]>();

/** Beats of a bar. */
export function beatsOf(bar: Pick<Bar, 'meter' | 'groups'>): readonly BarBeat[] {
  const known = BEATS.get(bar);
  if (known) return known;
  const unit = WHOLE / bar.meter.denominator;
  const single = isCompound(bar.meter) || bar.meter.denominator > 4;
  const beats: BarBeat[] = [];
  let at = 0;
  for (const group of bar.groups) {
    const size = single ? group : unit;
    for (let end = at + group; at < end; at += size) beats.push({ start: at, length: size });
  }
  BEATS.set(bar, beats);
  return beats;
}
