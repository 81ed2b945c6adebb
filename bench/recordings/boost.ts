import type { Tree } from '../../src/core/recording/trees';

/** Rows of numbers, one after the other. */
export interface Rows {
  values: Float32Array;
  size: number;
  count: number;
}

const TREES = 160;
const LEAVES = 14;
const RATE = 0.1;
/** What a leaf needs at least: rows, and weight of them (its second derivative). */
const LEAST_ROWS = 60;
const LEAST_WEIGHT = 4;
const RIDGE = 2;
const BINS = 64;

/** Sums of slope, of bend and of rows in every bin of every column, one after the other. */
type Sums = Float64Array;

interface Leaf {
  node: number;
  rows: Int32Array;
  sums: Sums;
  gain: number;
  column: number;
  bin: number;
}

/** Edges of bins that hold as many rows each. */
function edgesOf({ values, size, count }: Rows, column: number): Float32Array {
  const step = Math.max(1, Math.floor(count / 20_000));
  const some = new Float32Array(Math.floor((count - 1) / step) + 1);
  for (let at = 0; at < some.length; at++) some[at] = values[at * step * size + column]!;
  some.sort();
  const edges = new Set<number>();
  for (let bin = 1; bin < BINS; bin++) edges.add(some[Math.floor((bin * some.length) / BINS)]!);
  return Float32Array.from([...edges].sort((a, b) => a - b));
}

/**
 * Trees that tell rows that are from rows that are not: gradient boosting with logistic loss, leaf by leaf, on bins.
 * Sources: "Greedy function approximation: a gradient boosting machine" (Annals of Statistics, 2001); growth by the best
 * leaf and bins as in G. Ke and others, "LightGBM" (2017); both from memory.
 *
 * @returns log-odds are the bias and what each tree says
 */
export function boosted(rows: Rows, isOne: Uint8Array): { bias: number; trees: Tree[] } {
  const { values, size, count } = rows;
  const edges = Array.from({ length: size }, (_, column) => edgesOf(rows, column));
  const bins = new Uint8Array(count * size);
  for (let at = 0; at < bins.length; at++) {
    const own = edges[at % size]!;
    let [low, high] = [0, own.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (values[at]! < own[middle]!) high = middle;
      else low = middle + 1;
    }
    bins[at] = low;
  }
  const ones = isOne.reduce((sum, value) => sum + value, 0);
  const bias = Math.log(ones / (count - ones));
  const odds = new Float64Array(count).fill(bias);
  const [slope, bend] = [new Float64Array(count), new Float64Array(count)];
  const sumsOf = (own: Int32Array): Sums => {
    const sums = new Float64Array(size * BINS * 3);
    for (let index = 0; index < own.length; index++) {
      const at = own[index]!;
      const [s, b] = [slope[at]!, bend[at]!];
      for (let column = 0; column < size; column++) {
        const bin = 3 * (column * BINS + bins[at * size + column]!);
        sums[bin]! += s;
        sums[bin + 1]! += b;
        sums[bin + 2]!++;
      }
    }
    return sums;
  };
  /** Slope, bend and rows of a leaf, by the bins of its first column. */
  const total = (sums: Sums) => {
    const all = [0, 0, 0];
    for (let at = 0; at < 3 * BINS; at++) all[at % 3]! += sums[at]!;
    return all as [number, number, number];
  };
  const score = (s: number, b: number) => (s * s) / (b + RIDGE);
  const bestOf = (node: number, own: Int32Array, sums: Sums): Leaf => {
    const best: Leaf = { node, rows: own, sums, gain: 0, column: -1, bin: 0 };
    const [allSlope, allBend, all] = total(sums);
    for (let column = 0; column < size; column++) {
      let [leftSlope, leftBend, left] = [0, 0, 0];
      for (let bin = 0; bin < edges[column]!.length; bin++) {
        const at = 3 * (column * BINS + bin);
        leftSlope += sums[at]!;
        leftBend += sums[at + 1]!;
        left += sums[at + 2]!;
        if (left < LEAST_ROWS || leftBend < LEAST_WEIGHT) continue;
        if (all - left < LEAST_ROWS || allBend - leftBend < LEAST_WEIGHT) break;
        const gain =
          score(leftSlope, leftBend) +
          score(allSlope - leftSlope, allBend - leftBend) -
          score(allSlope, allBend);
        if (gain > best.gain) Object.assign(best, { gain, column, bin });
      }
    }
    return best;
  };
  const says = (sums: Sums) => {
    const [s, b] = total(sums);
    return (-RATE * s) / (b + RIDGE);
  };
  const trees: Tree[] = [];
  const everything = Int32Array.from({ length: count }, (_, at) => at);
  for (let index = 0; index < TREES; index++) {
    for (let at = 0; at < count; at++) {
      const share = 1 / (1 + Math.exp(-odds[at]!));
      slope[at] = share - isOne[at]!;
      bend[at] = share * (1 - share);
    }
    const all = sumsOf(everything);
    const tree = { of: [-1], at: [0], next: [0], says: [says(all)] };
    const leaves = [bestOf(0, everything, all)];
    while (leaves.length < LEAVES) {
      const best = leaves.reduce((most, leaf) => (leaf.gain > most.gain ? leaf : most));
      const { column, bin, node, sums } = best;
      if (column < 0) break;
      const left = best.rows.filter((at) => bins[at * size + column]! <= bin);
      const right = best.rows.filter((at) => bins[at * size + column]! > bin);
      // The fewer are counted, the others are what is left.
      const fewer = sumsOf(left.length < right.length ? left : right);
      const others = sums.map((sum, at) => sum - fewer[at]!);
      const children = left.length < right.length ? [fewer, others] : [others, fewer];
      const first = tree.of.length;
      tree.of[node] = column;
      tree.at[node] = edges[column]![bin]!;
      tree.next[node] = first;
      for (const child of children) {
        tree.of.push(-1);
        tree.at.push(0);
        tree.next.push(0);
        tree.says.push(says(child));
      }
      leaves.splice(
        leaves.indexOf(best),
        1,
        bestOf(first, left, children[0]!),
        bestOf(first + 1, right, children[1]!),
      );
    }
    for (const { node, rows: own } of leaves) for (const at of own) odds[at]! += tree.says[node]!;
    trees.push(tree);
  }
  const round = (value: number) => Math.round(value * 1e4) / 1e4;
  return {
    bias: round(bias),
    trees: trees.map(({ of, at, next, says }) => ({
      of,
      // Five figures tell what is seen well apart.
      at: at.map((edge) => Number(edge.toPrecision(5))),
      next,
      says: says.map(round),
    })),
  };
}
