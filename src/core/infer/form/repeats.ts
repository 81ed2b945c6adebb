import { type Repeat, type Return, repeatEnd, straightBars } from '../../model/form';

/** Bars as they are played. */
export interface PlayedBars {
  /** The same number for bars that read alike. */
  kinds: readonly number[];
  /** Bars in which anything sounds: only those count. */
  sounds: readonly boolean[];
  /** Bars into which something is tied: no ending and no coda begins there, since a tie has one beginning. */
  tied?: readonly boolean[];
  /** Bars at which something begins: a rehearsal mark, a key, a meter. */
  begins?: ReadonlySet<number>;
}

/** Signs pay where they spare more bars than these (common practice: nobody folds two bars). */
const COST = 3;
/** Endings are read less easily. */
const ENDINGS_COST = 1;
/** Before endings stand so many bars at least, and twice as many as in an ending. */
const BEFORE_ENDINGS = 4;
const LONGEST_ENDING = 8;
/** A single bar that goes on is no section. */
const SHORTEST = 2;
/** Longer sections, and longer pieces, are not looked for: the table of what agrees would not fit. */
const LONGEST = 1024;
export const MOST_BARS = 2000;
/** What leads back is looked for over so many bars at least. */
const SHORTEST_RETURN = 8;
/** D.C., D.S. and codas send the eye over pages. */
const RETURN_COST = 5;
/** Of two ways that spare the same, the one that begins where something begins. */
const BEGINS = 0.25;
const SQUARE = 0.1;

/**
 * Sections that are played again at once, with endings where the last time has
 * another: the set of sections side by side that spares most bars (dynamic
 * programming over the table of what agrees at each distance, as for tandem repeats).
 */
export function findRepeats(played: PlayedBars): Repeat[] {
  const { kinds } = played;
  const count = kinds.length;
  if (count < 2 * SHORTEST || count > MOST_BARS) return [];
  const agrees = agreement(kinds);
  const spared = sums(played.sounds);
  // From each bar on: how much can be spared at best, and by which section first.
  const best = new Float64Array(count + 1);
  const first = new Array<Repeat | null>(count + 1).fill(null);
  for (let from = count - 1; from >= 0; from--) {
    best[from] = best[from + 1]!;
    for (const repeat of sectionsAt(from, played, agrees)) {
      const value = worth(repeat, spared, played.begins) + best[repeatEnd(repeat)]!;
      if (value <= best[from]! + 1e-9) continue;
      best[from] = value;
      first[from] = repeat;
    }
  }
  const found: Repeat[] = [];
  for (let at = 0; at < count; ) {
    const repeat = first[at];
    if (repeat) found.push(repeat);
    at = repeat ? repeatEnd(repeat) : at + 1;
  }
  return found;
}

/** What some sections that stand side by side are worth: the bars that they spare beyond what their signs cost. */
export const worthOf = (repeats: readonly Repeat[], { sounds, begins }: PlayedBars): number => {
  const spared = sums(sounds);
  return repeats.reduce((sum, repeat) => sum + worth(repeat, spared, begins), 0);
};

/** How many bars agree from `from` and from `length` later on. */
type Agreement = (from: number, length: number) => number;

function agreement(kinds: readonly number[]): Agreement {
  const count = kinds.length;
  const width = Math.min(count, LONGEST + 1);
  const table = new Uint16Array((count + 1) * width);
  for (let from = count - 2; from >= 0; from--)
    for (let length = 1; length < width && from + length < count; length++)
      if (kinds[from] === kinds[from + length])
        table[from * width + length] = 1 + table[(from + 1) * width + length]!;
  return (from, length) => table[from * width + length] ?? 0;
}

/** Sounding bars before each bar. */
function sums(sounds: readonly boolean[]): number[] {
  const out = [0];
  for (const sound of sounds) out.push(out.at(-1)! + Number(sound));
  return out;
}

function* sectionsAt(
  from: number,
  { kinds: { length: count }, tied }: PlayedBars,
  agrees: Agreement,
): Generator<Repeat> {
  const longest = Math.min(LONGEST, Math.floor((count - from) / 2) + LONGEST_ENDING);
  for (let length = SHORTEST; length <= longest; length++) {
    const all = agrees(from, length);
    if (all === 0 || agrees(from, 1) >= length - 1) continue;
    // Whole passes beyond the first, and what the one after them has in common.
    const again = Math.floor(all / length);
    for (let passes = 2; passes <= 1 + again; passes++)
      yield { from, length, passes, ending: 0, lastEnding: 0 };
    const passes = 1 + again;
    let shared = all - again * length;
    while (shared > 0 && (tied?.[from + shared] || tied?.[from + passes * length + shared])) shared--;
    const ending = length - shared;
    if (ending > LONGEST_ENDING || shared < BEFORE_ENDINGS || shared < 2 * ending) continue;
    const after = from + length * passes + shared;
    for (let last = Math.min(ending, count - after); last >= 1; last--)
      yield { from, length, passes, ending, lastEnding: last };
  }
}

function worth(repeat: Repeat, spared: readonly number[], begins: ReadonlySet<number> | undefined): number {
  const { from, length, ending, lastEnding } = repeat;
  const bars = spared[repeatEnd(repeat) - lastEnding]! - spared[from + length]!;
  const bonus = (from === 0 || begins?.has(from) ? BEGINS : 0) + (length % 4 === 0 ? SQUARE : 0);
  // Signs stand by the number of bars; a longer last ending by itself is no gain.
  const cost = COST + (lastEnding > 0 ? ENDINGS_COST + Math.abs(ending - lastEnding) * 0.01 : 0);
  return bars - cost + (bars > cost ? bonus : 0);
}

/**
 * Music that comes back after something else, to the end of the piece or to a
 * coda: the one return (common practice: one D.C. or D.S. a piece) that spares
 * most bars beyond the repeats, which are not played again in it.
 *
 * @returns it, with the repeats that stand before it; null where none pays
 */
export function findReturn(
  { kinds, sounds, tied }: PlayedBars,
  repeats: readonly Repeat[],
): { goesBack: Return; repeats: Repeat[] } | null {
  const count = kinds.length;
  if (count > MOST_BARS) return null;
  const spared = sums(sounds);
  const sparedBy = (some: readonly Repeat[]) =>
    some.reduce((sum, repeat) => sum + worth(repeat, spared, undefined), 0);
  const sparedByAll = sparedBy(repeats);
  let best: { goesBack: Return; repeats: Repeat[]; value: number } | null = null;
  for (let at = SHORTEST_RETURN; at + SHORTEST_RETURN <= count; at++) {
    const before = repeats.filter((repeat) => repeatEnd(repeat) <= at);
    // A section that goes on over this bar is folded, or comes back: not both.
    const lost = sparedByAll - sparedBy(before);
    if (spared[count]! - spared[at]! - lost <= RETURN_COST) continue;
    const way = straightBars(at, before);
    for (let start = 0; start < way.length; start++) {
      if (kinds[way[start]!] !== kinds[at]) continue;
      // What agrees a bar earlier, too, is looked at there.
      if (start > 0 && kinds[way[start - 1]!] === kinds[at - 1]) continue;
      let length = 0;
      while (start + length < way.length && kinds[way[start + length]!] === kinds[at + length]) length++;
      while (at + length < count && tied?.[at + length]) length--;
      if (length < SHORTEST_RETURN) continue;
      const value = spared[at + length]! - spared[at]! - RETURN_COST - lost;
      if (value <= (best?.value ?? 0) + 1e-9) continue;
      const goesBack: Return = {
        at,
        to: way[start]!,
        length,
        last: way[start + length - 1]!,
        fine: at + length === count,
      };
      best = { goesBack, repeats: before, value };
    }
  }
  return best && { goesBack: best.goesBack, repeats: best.repeats };
}
