import { finished, type Steps } from '../basics/steps';
import { QUARTER, type Span } from '../model/time';
import { type Alignment, alignUnits, type Unit, type UnitPair } from './align-bars';
import { compareBars } from './compare-bars';
import { compareNotes } from './compare-notes';
import type { BarPair, Difference, Ledger, LineMatch } from './ledger';
import { type LinePair, matchLines } from './match-lines';
import { matchNotes } from './match-notes';
import type { Side } from './reading';
import { timeMap } from './time-map';

/** Bars that have this much in common are the same bars; below it other ways are tried. */
const CLEAR = 0.5;
/** From here on nothing else is tried. */
const SURE = 0.9;
/** Pieces that have less in common are two pieces. */
const NOTHING = 0.08;
/** Another way must have so much more in common. */
const BETTER = 0.1;
/** Differences of notes that are in both, at the same place and key. */
const ONLY_HELD: ReadonlySet<Difference> = new Set<Difference>(['length', 'spelling', 'voice', 'part']);
/** So many times the notes must agree by their order to be taken for freely played. */
const FREER = 1.05;
/** Bars are laid over each other anew so often, at most. */
const MOST_TIMES = 2;
/** Attacks this near each other are one chord. */
const CHORD: Span = QUARTER / 16;
/** Transpositions of the whole that are thought of, in semitones. */
const SHIFTS = Array.from({ length: 25 }, (_, at) => at - 12).filter((each) => each !== 0);

/** How two readings were laid over each other. */
interface Laid {
  by: Ledger['by'];
  units: readonly [Unit[], Unit[]];
  alignment: Alignment;
}

/**
 * Ledger = reconcile(any, any): what agrees, note by note, between two readings
 * whose notes do not know each other. Bars are laid over each other by what
 * sounds in them, then lines, then notes; where bars are not the same in both,
 * beats are, however the bar lines stand; where the beats are not, attacks in their
 * order. Null where they have nothing in common.
 */
export function* reconcileInSteps(one: Side, two: Side): Steps<Ledger | null> {
  const laid = yield* layOver(one, two);
  if (laid.alignment.share < NOTHING) return null;
  const ledger = yield* ledgerOf(one, two, laid);
  if (!mayBeFree(one, two, laid)) return ledger;
  // Beats that are alike by chance: the other one may have none, and its attacks only follow each other.
  const byOrder = yield* laidBy('order', one, two, [attacksOf(one), attacksOf(two)]);
  if (byOrder.alignment.share < CLEAR) return ledger;
  const free = yield* ledgerOf(one, two, byOrder);
  return countInPlace(free) > FREER * countInPlace(ledger) ? free : ledger;
}

/** Notes that both have at the same place, however long. */
const countInPlace = ({ entries }: Ledger): number =>
  entries.reduce((sum, { differs }) => sum + (differs.some((each) => !ONLY_HELD.has(each)) ? 0 : 1), 0);

/** Whether one of them may have been played without the beats of the other though its bars or beats are laid over that. */
const mayBeFree = (one: Side, two: Side, { by, alignment: { share } }: Laid): boolean =>
  by !== 'order' &&
  share < SURE &&
  (one.kind === 'performance' || two.kind === 'performance') &&
  Math.max(countBeats(one), countBeats(two)) <= MOST_BEATS;

/** What two readings come to that are laid over each other. */
function* ledgerOf(one: Side, two: Side, first: Laid): Steps<Ledger> {
  let laid = first;
  let laying = yield* closer(one, two, laid);
  let time = timeMap(laying.pairs, laying.of);
  let lines = yield* matchLines(one, two, time);
  for (let times = 0; times < MOST_TIMES && lines.some(({ transposed }) => transposed !== 0); times++) {
    // What is known of single lines says more about where bars are.
    const higher = new Map(lines.map((pair) => [pair.one, pair.transposed]));
    const again = yield* laidBy(laid.by, one, two, laid.units, (line) => higher.get(line) ?? 0);
    if (again.alignment.share <= laid.alignment.share) break;
    laid = again;
    laying = yield* closer(one, two, laid);
    time = timeMap(laying.pairs, laying.of);
    lines = yield* matchLines(one, two, time);
    yield;
  }
  yield;
  const entries = compareNotes(matchNotes(one, two, lines, time), one, two, laid.by === 'order');
  const bars = laid.by === 'bars' ? laid.alignment.pairs : barPairs(one, two, time);
  return {
    entries,
    lines: allLines(lines, one, two),
    bars,
    clock: compareBars(bars, one, two),
    by: laid.by,
    units: laying,
  };
}

/** No music has so many beats: where a file says so, its bars are all there is to go by. */
const MOST_BEATS = 40_000;

function* layOver(one: Side, two: Side): Steps<Laid> {
  const byBars = yield* laidBy('bars', one, two, [one.bars, two.bars]);
  if (byBars.alignment.share >= SURE) return byBars;
  if (Math.max(countBeats(one), countBeats(two)) > MOST_BEATS) return byBars;
  // A beat may have come or gone within a bar.
  const byBeats = yield* laidBy('beats', one, two, [beatsOf(one), beatsOf(two)]);
  const beaten = byBeats.alignment.share > byBars.alignment.share + BETTER ? byBeats : byBars;
  if (beaten.alignment.share >= CLEAR) return beaten;
  // Played without the beats of the other: what follows what is all there is.
  const byOrder = yield* laidBy('order', one, two, [attacksOf(one), attacksOf(two)]);
  const best = byOrder.alignment.share > 2 * beaten.alignment.share ? byOrder : beaten;
  if (best.alignment.share >= CLEAR) return best;
  // The whole may sound higher or lower.
  let found = best;
  for (const shift of SHIFTS) {
    const shifted = yield* laidBy(best.by, one, two, best.units, () => shift);
    if (shifted.alignment.share > found.alignment.share + BETTER) found = shifted;
  }
  return found;
}

function* laidBy(
  by: Ledger['by'],
  one: Side,
  two: Side,
  units: readonly [Unit[], Unit[]],
  transposed?: (line: number) => number,
): Steps<Laid> {
  return { by, units, alignment: yield* alignUnits(one, two, units, transposed) };
}

/** The two readings and their times laid over each other, both ways. */
export function reconcileWith(one: Side, two: Side) {
  const ledger = reconcile(one, two);
  const pairs = ledger?.units.pairs ?? [];
  const [first, second] = ledger?.units.of ?? [[], []];
  const turned = pairs.map(({ one: a, two: b }) => ({ one: b, two: a }));
  return { ledger, toTwo: timeMap(pairs, [first, second]), toOne: timeMap(turned, [second, first]) };
}

/** The same without a pause. */
export const reconcile = (one: Side, two: Side): Ledger | null => finished(reconcileInSteps(one, two));

/** Bars that are this much alike were cut at their bar lines. */
const WHOLE = 0.85;
/** Bars beside a cut are looked at so many to each side. */
const BESIDE = 1;

/**
 * Where bars were cut or put in, the music need not begin again at a bar line: there
 * the bars beside it are laid over each other beat by beat.
 */
function* closer(one: Side, two: Side, { by, units, alignment }: Laid): Steps<Ledger['units']> {
  const { pairs } = alignment;
  if (by !== 'bars' || pairs.every(({ one: a, two: b }) => a !== null && b !== null))
    return { of: units, pairs };
  const isNear = pairs.map((_, at) =>
    pairs
      .slice(Math.max(0, at - BESIDE), at + BESIDE + 1)
      .some(({ one: a, two: b }) => a === null || b === null),
  );
  const made: { of: [Unit[], Unit[]]; pairs: UnitPair[] } = { of: [[], []], pairs: [] };
  const put = (side: 0 | 1, unit: Unit | undefined): number | null =>
    unit ? made.of[side].push(unit) - 1 : null;
  const putBars = (stretch: readonly UnitPair[]) => {
    for (const { one: a, two: b } of stretch)
      made.pairs.push({
        one: a === null ? null : put(0, units[0][a]),
        two: b === null ? null : put(1, units[1][b]),
      });
  };
  for (let from = 0; from < pairs.length; ) {
    if (!isNear[from]) {
      putBars(pairs.slice(from, ++from));
      continue;
    }
    let to = from;
    while (to < pairs.length && isNear[to]) to++;
    const stretch = pairs.slice(from, to);
    from = to;
    if (stretch.every(({ alike = 1 }) => alike >= WHOLE)) {
      putBars(stretch);
      continue;
    }
    const bars = [
      stretch.flatMap(({ one: a }) => (a === null ? [] : [units[0][a]!])),
      stretch.flatMap(({ two: b }) => (b === null ? [] : [units[1][b]!])),
    ] as const;
    const beats: [Unit[], Unit[]] = [bars[0].flatMap(inBeats), bars[1].flatMap(inBeats)];
    const own = yield* alignUnits(within(one, bars[0]), within(two, bars[1]), beats);
    for (const { one: a, two: b } of own.pairs)
      made.pairs.push({
        one: a === null ? null : put(0, beats[0][a]),
        two: b === null ? null : put(1, beats[1][b]),
      });
  }
  return made;
}

/** The quarter notes of a bar. */
const inBeats = ({ start, length }: Unit): Unit[] =>
  Array.from({ length: Math.ceil(length / QUARTER) }, (_, at) => ({
    start: start + at * QUARTER,
    length: Math.min(QUARTER, length - at * QUARTER),
  }));

/** What a reading has in some bars that follow each other. */
function within(side: Side, bars: readonly Unit[]): Side {
  const first = bars[0];
  const last = bars.at(-1);
  if (!first || !last) return { ...side, lines: side.lines.map((line) => ({ ...line, notes: [] })) };
  const end = last.start + last.length;
  const lines = side.lines.map((line) => ({
    ...line,
    notes: line.notes.filter(({ start }) => start >= first.start && start < end),
  }));
  return { ...side, lines };
}

/** Quarter notes from the start of a reading to its end. */
function countBeats({ bars }: Side): number {
  const last = bars.at(-1);
  return last ? Math.ceil((last.start + last.length) / QUARTER) : 0;
}

function beatsOf(side: Side): Unit[] {
  return Array.from({ length: countBeats(side) }, (_, at) => ({ start: at * QUARTER, length: QUARTER }));
}

/** From each attack to the next. */
function attacksOf({ lines, bars }: Side): Unit[] {
  const starts = lines.flatMap(({ notes }) => notes.map(({ start }) => start)).sort((a, b) => a - b);
  const firsts = starts.filter((start, index) => index === 0 || start - starts[index - 1]! > CHORD);
  const last = bars.at(-1);
  return firsts.map((start, index) => ({
    start,
    length: (firsts[index + 1] ?? Math.max(start + 1, last ? last.start + last.length : 0)) - start,
    timeless: true,
  }));
}

/** Bars of two readings whose beginnings are one moment; the others have no partner. */
function barPairs(one: Side, two: Side, time: ReturnType<typeof timeMap>): BarPair[] {
  const starts = new Map(two.bars.map(({ start }, index) => [Math.round(start / (QUARTER / 8)), index]));
  const pairs: BarPair[] = [];
  let next = 0;
  one.bars.forEach(({ start }, index) => {
    const at = time.at(start);
    const found = at === null ? undefined : starts.get(Math.round(at / (QUARTER / 8)));
    if (found === undefined || found < next) {
      pairs.push({ one: index, two: null });
      return;
    }
    for (; next < found; next++) pairs.push({ one: null, two: next });
    pairs.push({ one: index, two: found });
    next = found + 1;
  });
  for (; next < two.bars.length; next++) pairs.push({ one: null, two: next });
  return pairs;
}

/** The pairs of lines, and those that have no partner. */
function allLines(pairs: readonly LinePair[], one: Side, two: Side): LineMatch[] {
  const has = { one: new Set(pairs.map((pair) => pair.one)), two: new Set(pairs.map((pair) => pair.two)) };
  const alone = (side: 'one' | 'two', count: number) =>
    Array.from({ length: count }, (_, index) => index)
      .filter((index) => !has[side].has(index))
      .map((index): LineMatch => ({ one: null, two: null, [side]: index, transposed: 0, whole: true }));
  return [
    ...pairs.map(({ one: a, two: b, transposed, whole }) => ({ one: a, two: b, transposed, whole })),
    ...alone('one', one.lines.length),
    ...alone('two', two.lines.length),
  ];
}
