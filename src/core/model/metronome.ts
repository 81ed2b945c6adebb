import type { Meter } from './clock';
import { isCompound } from './meter';

/** What a metronome mark counts, and how many of them are in a minute. */
export interface MetronomeFigure {
  unit: 'half' | 'quarter' | 'eighth' | '16th';
  dotted: boolean;
  perMinute: number;
}

/** Quarters in each unit. */
const QUARTERS = { half: 2, quarter: 1, eighth: 1 / 2, '16th': 1 / 4 } as const;

/**
 * What is counted in a meter, larger units first (common practice): the beat of the meter where
 * it is not too slow to be counted in, else its parts.
 */
function unitsOf(meter: Meter): Omit<MetronomeFigure, 'perMinute'>[] {
  const { denominator } = meter;
  const plain = (unit: MetronomeFigure['unit']) => ({ unit, dotted: false });
  const dotted = (unit: MetronomeFigure['unit']) => ({ unit, dotted: true });
  if (denominator <= 2) return [plain('half'), plain('quarter')];
  if (denominator === 4) return isCompound(meter) ? [dotted('half'), plain('quarter')] : [plain('quarter')];
  if (denominator === 8)
    return isCompound(meter) ? [dotted('quarter'), plain('eighth')] : [plain('quarter'), plain('eighth')];
  return isCompound(meter) ? [dotted('eighth'), plain('16th')] : [plain('eighth'), plain('16th')];
}

/** Slower beats are counted in their parts (common practice: the slowest mark of a metronome). */
const SLOWEST = 40;

/** Quarters in one unit of a figure. */
export const quartersOf = ({ unit, dotted }: Omit<MetronomeFigure, 'perMinute'>): number =>
  QUARTERS[unit] * (dotted ? 1.5 : 1);

/** How a tempo is printed in a meter. @param quartersPerMinute more than 0 */
export function metronomeOf(meter: Meter, quartersPerMinute: number): MetronomeFigure {
  const figures = unitsOf(meter).map((each) => ({
    ...each,
    perMinute: Math.round(quartersPerMinute / quartersOf(each)),
  }));
  const last = figures.at(-1);
  const found = figures.find(({ perMinute }) => perMinute >= SLOWEST) ?? last;
  return found ?? { unit: 'quarter', dotted: false, perMinute: Math.round(quartersPerMinute) };
}
