import type { Meter } from './clock';
import { beatGroups } from './meter';
import { type Span, WHOLE } from './time';

/** How the beats of an irregular bar group, in units of the meter's denominator: [2, 2, 3] in 7/8. */
export type Groups = readonly number[];

/** Lengths of beats in units of a meter's denominator. */
export const unitsOf = (lengths: readonly Span[], { denominator }: Meter): Groups =>
  lengths.map((length) => (length * denominator) / WHOLE);

/** No bar of more units than this is asked how it groups. */
const MOST_UNITS = 13;

/**
 * The ways in which a bar can group into twos and threes, the usual one first;
 * none where its beats are all alike and there is nothing to choose.
 */
export function groupings(meter: Meter): readonly Groups[] {
  const usual = unitsOf(beatGroups(meter), meter);
  if (usual.every((length) => length === usual[0]) || meter.numerator > MOST_UNITS) return [];
  const name = usual.join();
  return [usual, ...sumsOf(meter.numerator).filter((each) => each.join() !== name)];
}

/** All ways to write a number as a sum of twos and threes, in order. */
const sumsOf = (total: number): Groups[] =>
  total === 0
    ? [[]]
    : [2, 3].flatMap((part) => (part > total ? [] : sumsOf(total - part).map((rest) => [part, ...rest])));
