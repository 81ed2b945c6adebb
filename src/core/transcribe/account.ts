import type { Performance, Strand } from '../model/performance';
import type { Hearing } from './hear';
import type { HeadCounts } from './write-part';

/**
 * What happened to the notes of the cleaned performance. Each class is counted
 * where it comes about, so that the sum can fail; it is checked by `unaccounted`.
 */
export interface Account {
  notes: number;
  /** Became a written note of their own. */
  written: number;
  /** Became a grace note. */
  graces: number;
  /** Struck together with an equal key of the same part, so they share its note. */
  merged: number;
  /** Turned into a mark: strokes of a tremolo or a trill beyond the note that is written for them. */
  marks: number;
  /** In strands that are left out. */
  leftOut: number;
  /** Too low or too high for any staff (MusicXML writes octaves 0 to 9), as key switches are. */
  unwritable: number;
  /** Past the point to which the source's time can be believed. */
  beyond: number;
}

/** Notes of which the account does not know what became of them: any but 0 is a fault of this program. */
export const unaccounted = ({ notes, ...classes }: Account): number =>
  notes - Object.values(classes).reduce((sum, count) => sum + count, 0);

/** What became of all notes. @param used the strands that the parts are made of */
export function accountFor(
  performance: Performance,
  used: readonly Strand[],
  hearings: readonly Hearing[],
  counts: readonly HeadCounts[],
): Account {
  const count = (strands: readonly Strand[]) => strands.reduce((sum, { notes }) => sum + notes.length, 0);
  const taken = new Set(used);
  const account: Account = {
    notes: count(performance.strands) + performance.beyond,
    written: 0,
    graces: 0,
    merged: 0,
    marks: 0,
    leftOut: count(performance.strands.filter((strand) => !taken.has(strand))),
    unwritable: hearings.reduce((sum, hearing) => sum + hearing.unwritable.length, 0),
    beyond: performance.beyond,
  };
  for (const { written, graces, merged, marks } of counts) {
    account.written += written;
    account.graces += graces;
    account.merged += merged;
    account.marks += marks;
  }
  return account;
}
