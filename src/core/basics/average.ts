/** The mean; 0 of nothing. */
export const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

/** The middle value, of an even number the upper of the two; 0 of nothing. */
export const medianOf = (values: readonly number[]): number =>
  values.toSorted((a, b) => a - b)[values.length >> 1] ?? 0;
