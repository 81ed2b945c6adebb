import { VELOCITIES } from '../../model/marks';
import { type Moment, QUARTER } from '../../model/time';
import type { Accent } from './accents';
import { type DynamicStep, FEWEST, type Hairpin, LEAST_RANGE, LONG_REST, restBefore } from './dynamics';
import type { StruckAttack } from './loudness';

/** What a machine set: dynamics by their names, hairpins as straight lines, accents as single louder attacks. */
export interface Programmed {
  steps: DynamicStep[];
  hairpins: Hairpin[];
  accents: Accent[];
  /** Their velocities are those that programs write. */
  isUsual: boolean;
}

/** Whole velocities round what was meant by so much, at an attack and at the one that it is measured from. */
const ROUNDED = 1;
/** A passage has so many attacks on average: nobody plays so many alike. */
const ATTACKS_A_PASSAGE = 5;
/** A line has so many attacks, and goes over so much. */
const FEWEST_IN_LINE = 3;
const LEAST_WAY = 6;
const MOST_IN_LINE = 128;
/** A line costs more than one passage, and less than two. */
const PASSAGE = 1;
const LINE = 1.4;
/** An accent is so much louder than both of its neighbours; these differ by so much of it at most. */
const LOUDER = 8;
const NEIGHBOURS = 0.5;
/** Where more of the attacks than this stand out, it is a pattern. */
const MOST_ACCENTS = 0.12;
/** Velocities of dynamics that programs write: fifteen and sixteen apart (common practice). */
const TABLES: readonly (readonly [name: string, velocity: number])[][] = [
  (['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'] as const).map((name) => [name, VELOCITIES[name]!]),
  [
    ['ppp', 16],
    ['pp', 33],
    ['p', 49],
    ['mp', 64],
    ['mf', 80],
    ['f', 96],
    ['ff', 112],
    ['fff', 126],
  ],
];
/** A table is used where so much of what is heard stands in it, to the unit. */
const IN_TABLE = 0.9;

/** Attacks `from` … `to` (exclusive) of one loudness, or on a straight line. */
interface Piece {
  from: number;
  to: number;
  isLine: boolean;
}

/**
 * Reads dynamics that no player made: loudness in long even passages and straight lines, to the unit, as notation
 * programs write it into their files. It is cut into as few of them as there can be (dynamic programming), single
 * louder attacks apart.
 *
 * @param nameOf the dynamic of a loudness, where it is in no table
 * @returns null where a player may have made it, or nothing changes; also where it is in no table and has no names
 */
export function readProgrammed(
  all: readonly StruckAttack[],
  nameOf?: (loudness: number) => string,
): Programmed | null {
  if (all.length < FEWEST) return null;
  const heard = all.map(({ struck }) => struck);
  const isAccent = heard.map((_, at) => standsOut(heard, at));
  const even = all.filter((_, at) => !isAccent[at]);
  if (all.length - even.length > MOST_ACCENTS * all.length) return null;
  const levels = even.map(({ struck }) => struck);
  const [low, high] = levels.reduce(([a, b], each) => [Math.min(a, each), Math.max(b, each)], [127, 0]);
  const hasAccents = even.length < all.length;
  if (high! - low! < LEAST_RANGE && !hasAccents) return null;
  const pieces = fewest(even);
  if (pieces.length * ATTACKS_A_PASSAGE > even.length) return null;
  const usual = tableOf(pieces, levels);
  const name = usual ?? nameOf;
  if (!name) return null;
  return { ...readPieces(pieces, even, name), accents: accentsOf(all, isAccent), isUsual: usual !== null };
}

function standsOut(heard: readonly number[], at: number): boolean {
  const [before, own, after] = [heard[at - 1], heard[at]!, heard[at + 1]];
  if (before === undefined || after === undefined) return false;
  const more = own - Math.max(before, after);
  return more >= LOUDER && Math.abs(before - after) <= NEIGHBOURS * more;
}

/** Attacks cut into the fewest passages and lines: of what ends at an attack the longest is best, since none costs by its length. */
function fewest(all: readonly StruckAttack[]): Piece[] {
  const costs = new Float64Array(all.length + 1);
  const last: Piece[] = [];
  let flat = 0;
  for (let to = 1; to <= all.length; to++) {
    flat = Math.max(flat, flatFrom(all, flat, to));
    const line = lineFrom(all, to);
    const asLine = line === null ? Number.POSITIVE_INFINITY : costs[line]! + LINE;
    const asFlat = costs[flat]! + PASSAGE;
    costs[to] = Math.min(asFlat, asLine);
    last[to] = asFlat <= asLine ? { from: flat, to, isLine: false } : { from: line!, to, isLine: true };
  }
  const out: Piece[] = [];
  for (let to = all.length; to > 0; to = last[to]!.from) out.push(last[to]!);
  return out.reverse();
}

/** The first attack from which on all are alike, up to `to`, given that it is not before `from`. */
function flatFrom(all: readonly StruckAttack[], from: number, to: number): number {
  let [low, high] = [all[to - 1]!.struck, all[to - 1]!.struck];
  let at = to - 1;
  while (at > from) {
    const own = all[at - 1]!.struck;
    [low, high] = [Math.min(low, own), Math.max(high, own)];
    if (high - low > ROUNDED) break;
    at--;
  }
  return at;
}

/** The first attack from which on all lie on a line, up to `to`; null where there is none. Slopes that each allows are narrowed to those that all do. */
function lineFrom(all: readonly StruckAttack[], to: number): number | null {
  const end = all[to - 1]!;
  let [least, most] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
  let from = to - 1;
  for (let at = to - 2; at >= Math.max(0, to - MOST_IN_LINE); at--) {
    const { at: moment, struck } = all[at]!;
    const time = (end.at - moment) / QUARTER;
    least = Math.max(least, (end.struck - struck - ROUNDED) / time);
    most = Math.min(most, (end.struck - struck + ROUNDED) / time);
    if (least > most) break;
    from = at;
  }
  const isLine = to - from >= FEWEST_IN_LINE && Math.abs(end.struck - all[from]!.struck) >= LEAST_WAY;
  return isLine ? from : null;
}

/** The names of a table that has nearly all of what is heard. */
function tableOf(pieces: readonly Piece[], levels: readonly number[]): ((loudness: number) => string) | null {
  const flats = pieces.filter(({ isLine }) => !isLine);
  const count = flats.reduce((sum, { from, to }) => sum + to - from, 0);
  for (const table of TABLES) {
    const nearest = (loudness: number) =>
      table.reduce((best, each) =>
        Math.abs(each[1] - loudness) < Math.abs(best[1] - loudness) ? each : best,
      );
    const inTable = flats.reduce(
      (sum, { from, to }) =>
        sum + (Math.abs(nearest(levels[from]!)[1] - levels[from]!) <= ROUNDED ? to - from : 0),
      0,
    );
    if (inTable >= IN_TABLE * count) return (loudness) => nearest(loudness)[0];
  }
  return null;
}

function readPieces(
  pieces: readonly Piece[],
  all: readonly StruckAttack[],
  nameOf: (loudness: number) => string,
): Pick<Programmed, 'steps' | 'hairpins'> {
  const steps: DynamicStep[] = [];
  const hairpins: Hairpin[] = [];
  let said: string | null = null;
  const say = (at: Moment, heard: number) => {
    said = nameOf(heard);
    steps.push({ at, dynamic: said, heard, margin: Number.POSITIVE_INFINITY });
  };
  pieces.forEach(({ from, to, isLine }, index) => {
    const [first, last] = [all[from]!, all[to - 1]!];
    const before = pieces[index - 1];
    if (isLine) {
      // Where a passage goes on into it, its last attack is where it begins.
      const begins = before && !before.isLine && isOn(all, from - 1, from, to) ? all[from - 1]! : first;
      if (said === null) say(begins.at, begins.struck);
      const goal = all[to] ?? last;
      hairpins.push({
        from: begins.at,
        to: Math.max(goal.at, last.at),
        opens: last.struck > begins.struck,
        heard: [begins.struck, last.struck],
        margin: Number.POSITIVE_INFINITY,
      });
      return;
    }
    const heard = first.struck;
    if (nameOf(heard) !== said || before?.isLine) say(first.at, heard);
    for (let each = from + 1; each < to; each++)
      if (restBefore(all, each) >= LONG_REST) say(all[each]!.at, heard);
  });
  return { steps, hairpins };
}

/** Whether an attack lies on the line through others. */
function isOn(all: readonly StruckAttack[], at: number, from: number, to: number): boolean {
  const [own, first, last] = [all[at]!, all[from]!, all[to - 1]!];
  const slope = (last.struck - first.struck) / (last.at - first.at);
  return Math.abs(first.struck - slope * (first.at - own.at) - own.struck) <= 2 * ROUNDED;
}

const accentsOf = (all: readonly StruckAttack[], isAccent: readonly boolean[]): Accent[] =>
  all.flatMap(({ at, struck }, index): Accent[] => {
    if (!isAccent[index]) return [];
    const around = Math.max(all[index - 1]!.struck, all[index + 1]!.struck);
    return [{ at, heard: [struck, around], margin: Number.POSITIVE_INFINITY }];
  });
