import { barSpan, binarySpan, equalSpan, type MeterSpan } from '../model/meter';
import { type Bar, type Tuplet, tupletsFrom } from '../model/score';
import {
  type Moment,
  NOTE_TYPES,
  type NoteType,
  QUARTER,
  type Span,
  singleValue,
  typeSpan,
  type Value,
  valueSpan,
  WHOLE,
} from '../model/time';

/** One stretch of a voice in a bar: notes or a rest. Times from the start of the full bar. */
export interface Stretch<T> {
  start: Moment;
  end: Moment;
  /** Absent for a rest. */
  content?: T;
}

/** A stretch, or a part of one, as a single written value. */
export interface WrittenPiece<T> {
  onset: Moment;
  duration: Span;
  value: Value;
  tuplet?: Tuplet;
  content?: T;
  /** The piece begins, or ends, its stretch. */
  first: boolean;
  last: boolean;
}

/** How many dots a note has at most. */
export type Dots = 0 | 1 | 2;
const MOST_DOTS = 2;

/** Notes start and end on these without a tuplet. */
const PLAIN = QUARTER / 64;
const isPlain = (offset: number): boolean => Number.isInteger(offset / PLAIN);

/**
 * Writes one voice of a bar: cuts stretches into values that show the meter,
 * ties where one value will not do, rests by rule, complete tuplets.
 *
 * Rules (common practice, as in engraving handbooks): a value may cross a
 * beat where it starts on a stronger one, fills the rest of its span, or sits
 * evenly across the middle of a pair; the middle of a bar in four stays
 * visible except under such values; rests never obscure a beat.
 *
 * @param stretches contiguous, covering the bar from `bar.missing` for `bar.length`
 * @param dots of a note at most; a beat of three and a whole bar have one all the same
 */
export function writeBar<T>(
  bar: Pick<Bar, 'meter' | 'groups' | 'missing' | 'length'>,
  stretches: readonly Stretch<T>[],
  dots: Dots = 1,
): WrittenPiece<T>[] {
  const tree = barSpan(bar);
  const cuts = [...new Set(stretches.flatMap((stretch) => [stretch.start, stretch.end]))].sort(
    (a, b) => a - b,
  );
  const regions = planTuplets(tree, cuts, stretches).sort((a, b) => a.start - b.start);
  if (regions.length === 0)
    return stretches.flatMap((stretch) => plainly(tree, stretch.start, stretch.end, stretch, dots));
  const pieces: WrittenPiece<T>[] = [];
  for (const stretch of stretches) {
    let at = stretch.start;
    while (at < stretch.end) {
      const region = regions.find((each) => each.start + each.length > at && each.start < stretch.end);
      if (region && region.start <= at) {
        const end = Math.min(stretch.end, region.start + region.length);
        pieces.push(...inTuplet(region, at, end, stretch, dots));
        at = end;
      } else {
        const end = region ? Math.min(region.start, stretch.end) : stretch.end;
        pieces.push(...plainly(tree, at, end, stretch, dots));
        at = end;
      }
    }
  }
  markEdges(pieces, regions);
  return pieces;
}

interface Region {
  start: Moment;
  length: Span;
  actual: number;
  normal: number;
  unit: NoteType;
}

/** Finds the stretches of the bar that must be written as tuplets, the largest that a note crosses first. */
function planTuplets(
  span: MeterSpan,
  cuts: readonly Moment[],
  stretches: readonly Stretch<unknown>[],
): Region[] {
  const inside = cuts.filter((cut) => cut > span.start && cut < span.start + span.length);
  if (inside.every(isPlain) || span.children.length === 0) return [];
  const recurse = () => span.children.flatMap((child) => planTuplets(child, cuts, stretches));
  if (span.kind !== 'pair') {
    const pairs = span.kind === 'triple' || span.children.length > 2 ? adjacentPairs(span) : [];
    for (const pair of pairs) {
      const region = tupletOverBeats(pair, cuts, stretches);
      if (region)
        return [
          region,
          ...span.children
            .filter((child) => child.start < pair.start || child.start >= pair.start + pair.length)
            .flatMap((child) => planTuplets(child, cuts, stretches)),
        ];
    }
    return recurse();
  }
  if (!span.withinBeat && span.length > QUARTER) {
    const region = tupletOverBeats(span, cuts, stretches);
    return region ? [region] : recurse();
  }
  const middle = span.start + span.length / 2;
  const halfPlain = (from: Moment, to: Moment) =>
    inside.filter((cut) => cut > from && cut < to).every(isPlain);
  const oneHalfPlain = halfPlain(span.start, middle) !== halfPlain(middle, span.start + span.length);
  if (cuts.includes(middle) && oneHalfPlain) return recurse();
  const region = tupletOver(span, cuts);
  return region ? [region] : recurse();
}

/** In a bar of three beats, a tuplet may lie over the first two or the last two. */
function adjacentPairs(span: MeterSpan): MeterSpan[] {
  const pairs: MeterSpan[] = [];
  span.children.forEach((child, index) => {
    const next = span.children[index + 1];
    if (next && next.length === child.length && child.kind === 'pair' && child.length >= QUARTER)
      pairs.push(binarySpan(child.start, child.length * 2, false));
  });
  return pairs;
}

/**
 * A tuplet over several beats, where the notes really divide these together:
 * one sounds over the middle, and what begins or ends inside does so on the
 * tuplet's own places, of three on both unless it is the bar's only one, of
 * more on half of them. Otherwise each beat has its own, which shows where it
 * begins (common practice).
 */
function tupletOverBeats(
  span: MeterSpan,
  cuts: readonly Moment[],
  stretches: readonly Stretch<unknown>[],
): Region | null {
  const region = crossesMiddle(span, stretches) ? tupletOver(span, cuts) : null;
  if (!region) return null;
  const place = span.length / region.actual;
  const inside = cuts.filter((cut) => cut > span.start && cut < span.start + span.length);
  const isOwn = inside.every((cut) => Number.isInteger((cut - span.start) / place));
  const isAlone = cuts.every((cut) => isPlain(cut) || inside.includes(cut));
  const fewest = region.actual > 3 ? region.actual / 2 : isAlone ? 1 : 2;
  return isOwn && inside.length >= fewest ? region : null;
}

/** Some note sounds over the middle of the span and begins or ends off the plain grid. */
function crossesMiddle(span: MeterSpan, stretches: readonly Stretch<unknown>[]): boolean {
  const middle = span.start + span.length / 2;
  return stretches.some(
    (stretch) =>
      stretch.content !== undefined &&
      stretch.start < middle &&
      stretch.end > middle &&
      ((stretch.start >= span.start && !isPlain(stretch.start)) ||
        (stretch.end <= span.start + span.length && !isPlain(stretch.end))),
  );
}

/** The simplest tuplet of the span on whose places all cuts inside it fall. */
function tupletOver(span: MeterSpan, cuts: readonly Moment[]): Region | null {
  const inside = cuts
    .filter((cut) => cut > span.start && cut < span.start + span.length)
    .map((cut) => cut - span.start);
  for (const [actual, normal] of [
    [3, 2],
    [5, 4],
    [7, 4],
    [9, 8],
    [11, 8],
    [13, 8],
  ] as const) {
    const place = span.length / actual;
    if (!inside.every((cut) => Number.isInteger((cut / place) * 4))) continue;
    const unit = singleValue(span.length / normal);
    if (!unit || unit.dots > 0) continue;
    const sixes =
      actual === 3 && inside.length === 5 && inside.every((cut) => Number.isInteger((cut / place) * 2));
    if (!sixes) return { start: span.start, length: span.length, actual, normal, unit: unit.type };
    const half = NOTE_TYPES[NOTE_TYPES.indexOf(unit.type) + 1]!;
    return { start: span.start, length: span.length, actual: 6, normal: 4, unit: half };
  }
  return null;
}

const TUPLET_TREES = new Map<string, MeterSpan>();

/** How a tuplet divides inside; built once for each kind. */
function tupletTree(actual: number, unit: Span): MeterSpan {
  const name = `${actual} ${unit}`;
  const known = TUPLET_TREES.get(name);
  if (known) return known;
  const made = actual === 6 ? equalSpan(0, 2 * unit, 3) : equalSpan(0, unit, actual);
  TUPLET_TREES.set(name, made);
  return made;
}

function inTuplet<T>(
  region: Region,
  from: Moment,
  to: Moment,
  stretch: Stretch<T>,
  dots: Dots,
): WrittenPiece<T>[] {
  const { actual, normal, unit, start } = region;
  const inner = (moment: Moment) => ((moment - start) * actual) / normal;
  const outer = (span: Span) => (span * normal) / actual;
  const tree = tupletTree(actual, typeSpan(unit));
  const spans = cutStretch(tree, inner(from), inner(to), stretch, dots);
  return spans.map(([a, b]) =>
    piece(start + outer(a), outer(b - a), singleValue(b - a, MOST_DOTS), stretch, { actual, normal, unit }),
  );
}

const plainly = <T>(
  tree: MeterSpan,
  from: Moment,
  to: Moment,
  stretch: Stretch<T>,
  dots: Dots,
): WrittenPiece<T>[] =>
  cutStretch(tree, from, to, stretch, dots).map(([a, b]) =>
    piece(a, b - a, singleValue(b - a, MOST_DOTS), stretch),
  );

function cutStretch(
  tree: MeterSpan,
  from: Moment,
  to: Moment,
  { content }: Stretch<unknown>,
  dots: Dots,
): [Moment, Moment][] {
  const spans: [Moment, Moment][] = [];
  if (content === undefined) cutRest(tree, from, to, spans);
  else cutNote(tree, from, to, dots, spans);
  return spans;
}

function piece<T>(
  onset: Moment,
  duration: Span,
  value: Value | undefined,
  stretch: Stretch<T>,
  tuplet?: Tuplet,
): WrittenPiece<T> {
  const made: WrittenPiece<T> = {
    onset,
    duration,
    value: value ?? { type: '256th', dots: 0 },
    first: onset === stretch.start,
    last: onset + duration === stretch.end,
  };
  if (tuplet) made.tuplet = tuplet;
  if (stretch.content !== undefined) made.content = stretch.content;
  return made;
}

/** Cuts [from, to) into the values in which a note of that length is written and ties them. */
function cutNote(span: MeterSpan, from: Moment, to: Moment, dots: Dots, out: [Moment, Moment][]): void {
  const end = span.start + span.length;
  const single = singleValue(to - from, dots) !== undefined;
  if (from === span.start && to === end && singleValue(to - from)) {
    out.push([from, to]);
    return;
  }
  const child = span.children.find((each) => from >= each.start && to <= each.start + each.length);
  if (child) return cutNote(child, from, to, dots, out);
  if (span.children.length === 0 || (single && mayCross(span, from, to))) {
    out.push([from, to]);
    return;
  }
  const boundaries = span.children.slice(1).map((each) => each.start);
  const between = boundaries.filter((boundary) => boundary > from && boundary < to);
  const onBoundary = from === span.start || boundaries.includes(from);
  const whole = onBoundary
    ? between.filter((boundary) => singleValue(boundary - from, dots) !== undefined)
    : [];
  const at = whole.at(-1) ?? between[0]!;
  cutNote(span, from, at, dots, out);
  cutNote(span, at, to, dots, out);
}

/** Whether one value may hide the inner boundaries of the span that it crosses. */
function mayCross(span: MeterSpan, from: Moment, to: Moment): boolean {
  const end = span.start + span.length;
  const starts = [...span.children.map((child) => child.start), end];
  if (starts.includes(from) && starts.includes(to)) return span.kind !== 'pair' || from === span.start;
  const [first] = span.children;
  if (span.kind === 'groups' || !first || first.kind !== 'pair') return false;
  const half = first.length / 2;
  // Double-dotted: all but the last eighth of the span.
  if (from === span.start && to - from === 1.75 * first.length) return true;
  const onHalves = Number.isInteger((from - span.start) / half) && Number.isInteger((to - span.start) / half);
  if (!onHalves) return false;
  const length = to - from;
  if (length === first.length) return true;
  // Dotted: 1½ children from the start, or to the end unless that hides the middle of a bar in four.
  const hidesMiddle = span.kind === 'pair' && !span.withinBeat && span.length >= WHOLE;
  return length === 1.5 * first.length && (from === span.start || (to === end && !hidesMiddle));
}

/** Cuts a rest so that every beat stays visible. */
function cutRest(span: MeterSpan, from: Moment, to: Moment, out: [Moment, Moment][]): void {
  const end = span.start + span.length;
  const value = singleValue(to - from);
  const whole = from === span.start && to === end;
  const dottedBeat = span.kind === 'triple' && span.withinBeat;
  const dottedPair = span.kind === 'pair' && span.children[0]?.kind === 'triple';
  if (value && whole && (value.dots === 0 || dottedBeat || dottedPair)) {
    out.push([from, to]);
    return;
  }
  const child = span.children.find((each) => from >= each.start && to <= each.start + each.length);
  if (child) return cutRest(child, from, to, out);
  if (span.children.length === 0) {
    out.push([from, to]);
    return;
  }
  // The first two of three eighths make a quarter rest; the last two stay apart.
  const [first] = span.children;
  if (dottedBeat && from === span.start && to >= from + 2 * first!.length) {
    out.push([from, from + 2 * first!.length]);
    if (to > from + 2 * first!.length) cutRest(span, from + 2 * first!.length, to, out);
    return;
  }
  const next = span.children.map((each) => each.start).find((boundary) => boundary > from && boundary < to)!;
  cutRest(span, from, next, out);
  cutRest(span, next, to, out);
}

function markEdges(pieces: WrittenPiece<unknown>[], regions: readonly Region[]): void {
  for (const region of regions) {
    const members = pieces.filter(
      (each) => each.tuplet && each.onset >= region.start && each.onset < region.start + region.length,
    );
    const first = members[0];
    const last = members.at(-1);
    if (first?.tuplet) first.tuplet = { ...first.tuplet, edge: 'start' };
    if (last?.tuplet && last !== first) last.tuplet = { ...last.tuplet, edge: 'stop' };
  }
}

/** Length in score time of a written item, tuplet included. */
export const itemSpan = (value: Value, tuplet?: Tuplet): Span =>
  [...tupletsFrom(tuplet)].reduce((span, { actual, normal }) => (span * normal) / actual, valueSpan(value));
