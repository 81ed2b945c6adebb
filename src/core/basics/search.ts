/** Index of the last item at or before `value` (0 where there is none), by binary search; items ascend by `key`. */
export function lastAtOrBefore<T>(items: ArrayLike<T>, value: number, key: (item: T) => number): number {
  let low = 0;
  let high = items.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (key(items[middle]!) <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}
