/** How much the places of attacks within a period tell, in bits: nothing where all are struck alike. */
export function informationOf(places: readonly number[], period: number): number {
  const counts = countsOf(places, period);
  let entropy = 0;
  for (const count of counts)
    if (count > 0) entropy -= (count / places.length) * Math.log2(count / places.length);
  return Math.log2(period) - entropy;
}

/** How many fall on each place of a period; places count from 0. */
export function countsOf(places: readonly number[], period: number): number[] {
  const counts = new Array<number>(period).fill(0);
  for (const place of places) counts[place % period]!++;
  return counts;
}
