import type { StrandId } from '../model/ids';
import { laneName, laneOf, laneValue, MIXER_LANES } from '../model/lanes';
import type { Performance } from '../model/performance';
import { type Place, placeAt } from './place';

/** One kind of controller, bend or pressure in one strand. */
export interface LaneUse {
  strand: StrandId;
  lane: string;
  name: string;
  count: number;
  first: number;
  lowest: number;
  highest: number;
  from: Place;
  to: Place;
  /** Sets the mixer of whoever receives it: volume, pan, sends … */
  mixer: boolean;
  /** How often it sends a value that already holds. */
  repeats: number;
}

/** Every lane of every strand. */
export function listControllers({ strands, clock }: Performance): LaneUse[] {
  return strands.flatMap((strand) => {
    const uses = new Map<string, LaneUse & { last: number }>();
    for (const { event } of strand.shaping) {
      const lane = laneOf(event);
      if (lane === null) continue;
      const value = laneValue(event);
      const use = uses.get(lane);
      if (!use) {
        const place = placeAt(clock, event.tick);
        uses.set(lane, {
          strand: strand.id,
          lane,
          name: laneName(lane),
          count: 1,
          first: value,
          lowest: value,
          highest: value,
          from: place,
          to: place,
          mixer: MIXER_LANES.includes(lane),
          repeats: 0,
          last: value,
        });
        continue;
      }
      use.count++;
      use.lowest = Math.min(use.lowest, value);
      use.highest = Math.max(use.highest, value);
      if (value === use.last) use.repeats++;
      use.last = value;
      use.to = placeAt(clock, event.tick);
    }
    return [...uses.values()].map(({ last: _, ...use }) => use);
  });
}
