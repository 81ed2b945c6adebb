import type { PartPlan } from '../cast/route';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import type { Strand } from '../model/performance';
import type { HandOverSource } from './source';

/** Something that the source has and the hand-over has not, and why. */
export interface Omission {
  what: string;
  count: number;
  why: string;
}

/** What is left out, counted by kind and reason. */
export class Omissions {
  private readonly counts = new Map<string, Omission>();

  add(what: string, why: string, count = 1): void {
    const known = this.counts.get(`${what} ${why}`) ?? { what, why, count: 0 };
    known.count += count;
    this.counts.set(`${what} ${why}`, known);
  }

  /** Notes of strands that are not in the file. */
  countStrands(
    { source, performance, plans }: HandOverSource,
    wanted: readonly PartPlan[],
    choice: HandOverChoice,
  ): void {
    const notesOf = (strands: readonly Strand[]) =>
      strands.reduce((sum, strand) => sum + strand.notes.length, 0);
    const among = (chosen: readonly PartPlan[]) => {
      const ids = new Set(chosen.flatMap((plan) => plan.strands));
      return notesOf(performance.strands.filter((strand) => ids.has(strand.id)));
    };
    const all = notesOf(performance.strands);
    const cleaned = notesOf(source.strands) - all;
    const out = all - among(plans);
    const unwanted = among(plans) - among(wanted);
    if (cleaned > 0) this.add('notes', 'taken out by cleaning', cleaned);
    if (out > 0) this.add('notes', 'in strands that are left out', out);
    if (unwanted > 0)
      this.add(
        'notes',
        choice.form === 'clock' ? 'as only the clock goes out' : 'in parts that were not chosen',
        unwanted,
      );
  }

  all(): Omission[] {
    return [...this.counts.values()];
  }
}
