import { finished, type Steps } from '../basics/steps';
import { QUARTER, type Span } from '../model/time';
import { type Alignment, alignUnits, type Unit } from './align-bars';
import { compareBars } from './compare-bars';
import { compareNotes } from './compare-notes';
import type { BarPair, Ledger, LineMatch } from './ledger';
import { type LinePair, matchLines } from './match-lines';
import { matchNotes } from './match-notes';
import type { Side } from './reading';
import { timeMap } from './time-map';

/** Bars that have this much in common are the same bars; below it other ways are tried. */
const CLEAR = 0.5;
/** Pieces that have less in common are two pieces. */
const NOTHING = 0.08;
/** Another way must have so much more in common. */
const BETTER = 0.1;
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
  let laid = yield* layOver(one, two);
  if (laid.alignment.share < NOTHING) return null;
  let time = timeMap(laid.alignment.pairs, laid.units);
  let lines = matchLines(one, two, time);
  for (let times = 0; times < MOST_TIMES && lines.some(({ transposed }) => transposed !== 0); times++) {
    // What is known of single lines says more about where bars are.
    const higher = new Map(lines.map((pair) => [pair.one, pair.transposed]));
    const again = yield* laidBy(laid.by, one, two, laid.units, (line) => higher.get(line) ?? 0);
    if (again.alignment.share <= laid.alignment.share) break;
    laid = again;
    time = timeMap(laid.alignment.pairs, laid.units);
    lines = matchLines(one, two, time);
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
    units: { of: laid.units, pairs: laid.alignment.pairs },
  };
}

function* layOver(one: Side, two: Side): Steps<Laid> {
  const byBars = yield* laidBy('bars', one, two, [one.bars, two.bars]);
  if (byBars.alignment.share >= CLEAR) return byBars;
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

/** Quarter notes from the start of a reading to its end. */
function beatsOf({ bars }: Side): Unit[] {
  const last = bars.at(-1);
  const count = last ? Math.ceil((last.start + last.length) / QUARTER) : 0;
  return Array.from({ length: count }, (_, at) => ({ start: at * QUARTER, length: QUARTER }));
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
