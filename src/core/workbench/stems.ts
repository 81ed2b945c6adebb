import { plansOf } from '../cast/written';
import type { Desk } from '../clean/desk';
import { FAMILY_NAMES } from '../instruments/families';
import type { Heard } from '../sound/events';
import type { Stem } from '../sound/stems';

/** What has a sound file of its own: each part, each family of instruments, or all together. */
export const STEMS_BY = ['part', 'family', 'all'] as const;
export type StemsBy = (typeof STEMS_BY)[number];

/**
 * The stems of a job, in the order of its score. Of the source as it came, strands that no part
 * has (those left out) are stems of their own.
 */
export function stemsOf(desk: Desk, heard: Heard, by: StemsBy): Stem[] {
  const { performance, decisions, source } = desk;
  const plans = plansOf(performance, decisions, desk.written?.score.parts ?? null);
  const parts = plans
    .filter(({ strands }) => strands.length > 0)
    .map(({ name, instrument, strands }) => ({ name, strands, family: FAMILY_NAMES[instrument.family] }));
  const cast = new Set(plans.flatMap(({ strands }) => strands));
  const others =
    heard === 'source'
      ? source.strands
          .filter(({ id }) => !cast.has(id))
          .map(({ id, name }) => ({ name: name || 'Without a name', strands: [id], family: 'Others' }))
      : [];
  const all = [...parts, ...others];
  if (by === 'all') return [{ name: '', strands: all.flatMap(({ strands }) => strands) }];
  if (by === 'part') return all.map(({ name, strands }) => ({ name, strands }));
  const families = new Set(all.map(({ family }) => family));
  return [...families].map((name) => ({
    name,
    strands: all.flatMap(({ family, strands }) => (family === name ? strands : [])),
  }));
}
