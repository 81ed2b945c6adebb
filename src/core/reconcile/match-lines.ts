import type { Steps } from '../basics/steps';
import { type Moment, QUARTER } from '../model/time';
import type { ReadNote, Side } from './reading';
import type { TimeMap } from './time-map';

/** Notes this near each other attack together. */
const TOGETHER = QUARTER / 8;
/** Lines further apart than this in pitch are not the same one transposed. */
const FURTHEST = 36;
/** Share of their notes that two lines must have in common to be one; of the smaller's to be a part of it. */
const ONE = 0.25;
const WITHIN = 0.6;
/** A line is thought to be transposed only where it agrees far better so, and so many notes say it. */
const FAR_BETTER = 2;
const FEWEST = 6;
/** What it counts that two lines have the same name, and that they stand at the same place. */
const SAME_NAME = 0.15;
const SAME_PLACE = 0.05;

/** And that it would have to be transposed, against another that would not. */
const MOVED = 0.2;

/** A line of the one reading and one of the other that have notes in common. */
export interface LinePair {
  one: number;
  two: number;
  /** Semitones that the other sounds higher. */
  transposed: number;
  /** Notes that attack together with the same key, the transposition taken out. */
  common: number;
  /** They are one line; else the smaller is contained in the larger. */
  whole: boolean;
}

/**
 * Which lines of two readings are the same: each pair that has most in common,
 * names and places deciding between unisons; then what is left and sounds
 * within another, as when tracks were merged or split.
 */
export function* matchLines(one: Side, two: Side, time: TimeMap): Steps<LinePair[]> {
  const counts = yield* countCommon(one, two, time);
  const sizes = [sizesOf(one), sizesOf(two)] as const;
  const candidates: (LinePair & { worth: number })[] = [];
  const consider = (a: number, b: number, own: Common) => {
    const { transposed, common } = bestShift(own);
    const smaller = Math.min(sizes[0][a]!, sizes[1][b]!);
    const share = (2 * common) / (sizes[0][a]! + sizes[1][b]!);
    const isNamed = nameOf(one.lines[a]!.name) === nameOf(two.lines[b]!.name);
    const apart = Math.abs(a / one.lines.length - b / two.lines.length);
    const worth =
      share + (isNamed ? SAME_NAME : 0) + SAME_PLACE * (1 - apart) - (transposed === 0 ? 0 : MOVED);
    if (share >= ONE || common >= WITHIN * smaller)
      candidates.push({ one: a, two: b, transposed, common, whole: share >= ONE, worth });
  };
  for (const [a, row] of counts.entries()) for (const [b, own] of row.entries()) if (own) consider(a, b, own);
  candidates.sort((x, y) => y.worth - x.worth || x.one - y.one || x.two - y.two);
  const used = [new Set<number>(), new Set<number>()] as const;
  const pairs: LinePair[] = [];
  for (const { worth: _, ...pair } of candidates)
    if (pair.whole && !used[0].has(pair.one) && !used[1].has(pair.two)) {
      used[0].add(pair.one);
      used[1].add(pair.two);
      pairs.push(pair);
    }
  const left = candidates.filter(
    ({ one: a, two: b, transposed, common }) =>
      transposed === 0 &&
      ((!used[0].has(a) && common >= WITHIN * sizes[0][a]!) ||
        (!used[1].has(b) && common >= WITHIN * sizes[1][b]!)),
  );
  for (const { worth: _, ...pair } of left) {
    if (used[0].has(pair.one) && used[1].has(pair.two)) continue;
    used[0].add(pair.one);
    used[1].add(pair.two);
    pairs.push({ ...pair, whole: false });
  }
  return pairs;
}

const nameOf = (name: string): string => name.toLowerCase().replace(/\s+/g, ' ').trim();

const sizesOf = ({ lines }: Side): number[] => lines.map(({ notes }) => Math.max(1, notes.length));

/** How many notes two lines have in common when the other sounds so much higher, from `FURTHEST` lower on. */
type Common = Int32Array;

/** Notes that are looked at without giving way. */
const NOTES_AT_A_TIME = 512;

/** For each two lines that ever attack together how many notes do, by how much higher the other's are. */
function* countCommon(one: Side, two: Side, time: TimeMap): Steps<(Common | undefined)[][]> {
  const there = two.lines.flatMap(({ notes }) => notes.filter(({ grace }) => !grace));
  there.sort((a, b) => a.start - b.start);
  // Each note of a large ensemble meets many: columns are quicker to go through than notes.
  const starts = Float64Array.from(there, ({ start }) => start);
  const keys = Int32Array.from(there, ({ key }) => key);
  const lines = Int32Array.from(there, ({ line }) => line);
  const counts = one.lines.map((): (Common | undefined)[] => new Array(two.lines.length));
  const here = one.lines
    .flatMap(({ notes }) => notes.filter(({ grace }) => !grace))
    .flatMap((note): { note: ReadNote; at: Moment }[] => {
      const at = time.at(note.start);
      return at === null ? [] : [{ note, at }];
    })
    .sort((a, b) => a.at - b.at);
  let low = 0;
  for (const [number, { note, at }] of here.entries()) {
    if (number % NOTES_AT_A_TIME === 0) yield;
    const own = counts[note.line]!;
    while (low < starts.length && starts[low]! < at - TOGETHER) low++;
    for (let index = low; index < starts.length && starts[index]! <= at + TOGETHER; index++) {
      const apart = keys[index]! - note.key;
      if (apart > FURTHEST || apart < -FURTHEST) continue;
      const line = lines[index]!;
      const common = own[line] ?? new Int32Array(2 * FURTHEST + 1);
      own[line] = common;
      common[FURTHEST + apart]!++;
    }
  }
  return counts;
}

/** How much higher the other line sounds: not at all, unless it agrees far better otherwise. */
function bestShift(counts: Common): { transposed: number; common: number } {
  const plain = counts[FURTHEST]!;
  let best = { transposed: 0, common: plain };
  counts.forEach((common, at) => {
    const transposed = at - FURTHEST;
    if (common > best.common || (common === best.common && Math.abs(transposed) < Math.abs(best.transposed)))
      best = { transposed, common };
  });
  return best.common >= FEWEST && best.common > FAR_BETTER * plain ? best : { transposed: 0, common: plain };
}
