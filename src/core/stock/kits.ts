import type { Desk } from '../clean/desk';
import { decidedFor } from '../decisions/decisions';
import { instrumentOf } from '../instruments/catalogue';
import { proposeShift, type ShiftProposal } from '../instruments/kit-map';
import { recogniseInstrument } from '../instruments/recognise';
import type { StrandId } from '../model/ids';

/** How often a key of a drum strand is struck, and what it is translated to. MIDI keys. */
export interface KitKey {
  key: number;
  count: number;
  to: number;
}

export interface KitUse {
  strand: StrandId;
  name: string;
  keys: KitKey[];
  proposal: ShiftProposal | null;
}

/** The drum strands, with the keys of the source and those that they are translated to. */
export function listKits({ source, performance, decisions }: Desk): KitUse[] {
  return performance.strands
    .filter((strand) => {
      const chosen = decidedFor(decisions, strand.id).instrument;
      return (chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument).unpitched;
    })
    .map((strand) => {
      const own = new Set(strand.notes.map((note) => note.id));
      const played = source.strands
        .filter((each) => each.track === strand.track)
        .flatMap((each) => each.notes.filter((note) => own.has(note.id)));
      const target = new Map((decidedFor(decisions, strand.id).kit ?? []).map(({ from, to }) => [from, to]));
      const counts = new Map<number, number>();
      for (const { key } of played) counts.set(key, (counts.get(key) ?? 0) + 1);
      return {
        strand: strand.id,
        name: strand.name,
        keys: [...counts]
          .sort((a, b) => a[0] - b[0])
          .map(([key, count]) => ({ key, count, to: target.get(key) ?? key })),
        proposal: proposeShift(played, performance.clock),
      };
    });
}
