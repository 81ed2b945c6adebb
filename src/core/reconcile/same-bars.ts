/** Longer lists of bars without a partner are not laid over each other here. */
const MOST_LEFT = 2000;

/** Bars that hold the very same music in two readings. */
export interface SameBars {
  /** By the index of the first reading. */
  across: Map<number, number>;
  /** Every bar of the second reading in which something sounds is one of the first, or like one: nothing in it is new. */
  isAll: boolean;
}

/**
 * Bars of two readings that hold the very same music, wherever they stand: those that both have once, then their
 * neighbours, then what is left in order (patience comparison of texts, B. Cohen, from memory; longest common
 * subsequence).
 *
 * @param before what sounds in each bar of the first reading, as text; a bar in which nothing sounds has no figure in it
 */
export function sameBars(before: readonly string[], after: readonly string[]): SameBars {
  const across = new Map<number, number>();
  const taken = new Set<number>();
  const pair = (one: number, two: number): void => {
    across.set(one, two);
    taken.add(two);
  };
  const single = onceIn(after);
  for (const [music, one] of onceIn(before)) {
    const two = single.get(music);
    if (two !== undefined && SOUNDS.test(music)) pair(one, two);
  }
  for (const by of [1, -1])
    for (const one of [...across.keys()].sort((a, b) => by * (a - b))) {
      let [next, other] = [one + by, across.get(one)! + by];
      while (before[next] !== undefined && before[next] === after[other]) {
        if (across.has(next) || taken.has(other)) break;
        pair(next, other);
        next += by;
        other += by;
      }
    }
  const [left, right] = [
    before.flatMap((_, one) => (across.has(one) ? [] : [one])),
    after.flatMap((_, two) => (taken.has(two) ? [] : [two])),
  ];
  for (const [one, two] of inOrder(left, right, (a, b) => before[a] === after[b])) pair(one, two);
  const known = new Set(before);
  const isKnown = after.every((music) => !SOUNDS.test(music) || known.has(music));
  // A bar that went where another came may be that one, changed.
  const went = before.some((music, one) => SOUNDS.test(music) && !across.has(one));
  const came = after.some((music, two) => SOUNDS.test(music) && !taken.has(two));
  return { across, isAll: isKnown && !(went && came) };
}

const SOUNDS = /\d/;

/** Texts that a list has once, with where. */
function onceIn(texts: readonly string[]): Map<string, number> {
  const found = new Map<string, number | null>();
  texts.forEach((text, index) => {
    found.set(text, found.has(text) ? null : index);
  });
  return new Map([...found].flatMap(([text, index]) => (index === null ? [] : [[text, index]])));
}

/** The longest list of pairs in the order of both. */
function inOrder(
  left: readonly number[],
  right: readonly number[],
  isSame: (one: number, two: number) => boolean,
): [number, number][] {
  if (left.length === 0 || right.length === 0 || Math.max(left.length, right.length) > MOST_LEFT) return [];
  const width = right.length + 1;
  const longest = new Uint16Array((left.length + 1) * width);
  for (let at = left.length - 1; at >= 0; at--)
    for (let by = right.length - 1; by >= 0; by--)
      longest[at * width + by] = isSame(left[at]!, right[by]!)
        ? longest[(at + 1) * width + by + 1]! + 1
        : Math.max(longest[(at + 1) * width + by]!, longest[at * width + by + 1]!);
  const pairs: [number, number][] = [];
  for (let at = 0, by = 0; at < left.length && by < right.length; ) {
    if (isSame(left[at]!, right[by]!)) pairs.push([left[at++]!, right[by++]!]);
    else if (longest[(at + 1) * width + by]! >= longest[at * width + by + 1]!) at++;
    else by++;
  }
  return pairs;
}
