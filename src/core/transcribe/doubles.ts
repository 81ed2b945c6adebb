import type { PartPlan } from '../cast/route';
import type { TechniqueText } from '../infer/marks/techniques';
import type { Instrument } from '../instruments/catalogue';
import type { Frame } from '../model/frame';
import { barIndexOf, type PartChange } from '../model/score';
import type { SketchNote } from '../model/sketch';

/** Bars that are read on one instrument. */
export interface Stretch {
  from: number;
  /** Not included. */
  to: number;
  instrument: Instrument;
}

/**
 * Which bars a player reads on which instrument: a bar belongs to the one that
 * alone begins notes in it, if none is held into it; any other is read as the
 * bar before.
 */
export function stretchesOf(
  notes: readonly SketchNote[],
  { instrument, doubles }: Pick<PartPlan, 'instrument' | 'doubles'>,
  { bars }: Frame,
): Stretch[] {
  if (doubles.length === 0) return [{ from: 0, to: bars.length, instrument }];
  const begun = bars.map(() => new Set<Instrument>());
  const entered = new Set<number>();
  for (const { start, end, strike } of notes) {
    const bar = barIndexOf(bars, start);
    begun[bar]!.add(doubles[strike.strand] ?? instrument);
    for (let next = bar + 1; next < bars.length && bars[next]!.start < end; next++) entered.add(next);
  }
  const stretches: Stretch[] = [];
  for (const [bar, own] of begun.entries()) {
    const [only] = own;
    const before = stretches.at(-1);
    const isClear = own.size === 1 && only !== undefined && !entered.has(bar);
    const now = isClear ? only : (before?.instrument ?? instrument);
    if (before?.instrument === now) before.to = bar + 1;
    else stretches.push({ from: bar, to: bar + 1, instrument: now });
  }
  return stretches;
}

/** What the part says where another stretch begins. @param fifthsIn the part's written signature of a bar */
export function changesBetween(
  stretches: readonly Stretch[],
  fifthsIn: (bar: number) => { fifths: number; minor: boolean },
): PartChange[] {
  return stretches.flatMap(({ from, to, instrument }, index): PartChange[] => {
    const before = stretches[index - 1];
    if (!before) return [];
    const at = { bar: from, at: 0 };
    const [own, old] = [instrument.transposition, before.instrument.transposition];
    const isSame = own.chromatic === old.chromatic && own.diatonic === old.diatonic;
    const keys: PartChange[] = [];
    for (let bar = from; bar < to; bar++) {
      const [now, last] = [fifthsIn(bar), fifthsIn(bar - 1)];
      if (now.fifths !== last.fifths) keys.push({ kind: 'key', bar, at: 0, ...now });
    }
    return [
      { kind: 'instrument', ...at, instrument: instrument.id },
      ...(isSame ? [] : [{ kind: 'transposition' as const, ...at, transposition: own }]),
      ...keys,
    ];
  });
}

/** "To Picc." where the last note before a change ends, and the instrument's name at the first note after it (common practice). */
export function doublingTexts(
  stretches: readonly Stretch[],
  notes: readonly SketchNote[],
  { bars }: Frame,
): TechniqueText[] {
  return stretches.slice(1).flatMap(({ from, to, instrument }): TechniqueText[] => {
    const change = bars[from]!.start;
    const within = notes.filter(({ start }) => start >= change && start < (bars[to]?.start ?? Infinity));
    const first = within.reduce((least, { start }) => Math.min(least, start), Infinity);
    const last = notes.reduce((most, { start, end }) => (start < change ? Math.max(most, end) : most), 0);
    return [
      ...(last < change ? [{ at: last, text: `To ${instrument.abbreviation}` }] : []),
      { at: first === Infinity ? change : first, text: instrument.name },
    ];
  });
}
