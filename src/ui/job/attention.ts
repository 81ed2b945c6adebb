import { SURE } from '../../core/instruments/recognise';
import type { Session } from './control';
import type { StageId } from './stages';

/** More of a part out of its instrument's range than this wants a look at who plays it. */
const OUT_OF_RANGE = 0.05;

type Seen = Pick<Session, 'inventory' | 'decisions' | 'summary' | 'stock' | 'history' | 'failure'>;

/** How many things still want a look, per stage, null where it is not known; those of the proof are counted by its checks. */
export function attentionOf({
  inventory,
  decisions,
  summary,
  stock,
  history,
  failure,
}: Seen): Record<Exclude<StageId, 'proof'>, number | null> {
  if (failure !== null) return { sources: null, roster: null, time: null, notes: null, deliver: null };
  const unsure = inventory.strands.filter((strand) => {
    const decided = decisions.strands.get(strand.id);
    return !decided?.out && !decided?.instrument && !decided?.into && strand.guess.confidence < SURE;
  }).length;
  const names = new Map<string, number>();
  for (const part of summary?.parts ?? []) names.set(part.name, (names.get(part.name) ?? 0) + 1);
  const alike = [...names.values()].filter((count) => count > 1).length;
  const strained = (summary?.parts ?? []).filter(
    (part) => part.outOfRange > OUT_OF_RANGE * part.notes,
  ).length;
  const refused = stock.refusals.length + history.refused.length;
  return {
    sources: unsure + inventory.mends.length + inventory.oddities.length + refused,
    roster: alike + strained,
    time: (summary?.findings.length ?? 0) + (summary?.placedBeyond ?? 0),
    notes: (summary?.account.unwritable ?? 0) + (summary?.lostLyrics ?? 0),
    deliver: 0,
  };
}
