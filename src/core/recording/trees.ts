/**
 * A tree of questions, by its nodes: which of what is seen is asked for (−1 where nothing is), the least with which one
 * goes to the second of two next nodes, the first of those, and what the node says: log-odds.
 */
export interface Tree {
  of: readonly number[];
  at: readonly number[];
  next: readonly number[];
  says: readonly number[];
}

/** All trees of a round, whose words are summed, and what holds without any: log-odds. */
export interface Weights {
  bias: number;
  trees: readonly Tree[];
}

/**
 * What all trees say of what is seen: log-odds.
 * @param told each step that a question makes on the way, by what was asked for; with the bias and what trees begin with they are the sum
 */
export function asked(
  { bias, trees }: Weights,
  seen: readonly number[],
  told: (of: number, step: number) => void = () => {},
): number {
  let all = bias;
  for (const { of, at, next, says } of trees) {
    let node = 0;
    while (of[node]! >= 0) {
      const to = next[node]! + (seen[of[node]!]! < at[node]! ? 0 : 1);
      told(of[node]!, says[to]! - says[node]!);
      node = to;
    }
    all += says[node]!;
  }
  return all;
}
