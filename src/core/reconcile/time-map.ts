import { lastAtOrBefore } from '../basics/search';
import { type Moment, QUARTER } from '../model/time';
import type { Unit, UnitPair } from './align-bars';

/** Notes this much before a bar line may belong to the bar after it: they were played early. */
const EARLY = QUARTER / 8;

/** A stretch of one reading and where it lies in the other; null where that has none. */
interface Stretch {
  from: Moment;
  to: Moment;
  in: { from: Moment; to: Moment } | null;
}

/** From moments of the one reading to moments of the other. */
export interface TimeMap {
  /** Null where the other reading has nothing for it. */
  at: (moment: Moment) => Moment | null;
  /** The same; where the other reading has nothing for it, the next place that it has. */
  near: (moment: Moment) => Moment;
  /** How much longer the other reading is there; 1 where both count the same beats. */
  scale: (moment: Moment) => number;
}

/** Each bar or beat by itself. */
const unitByUnit = (
  pairs: readonly UnitPair[],
  units: readonly [readonly Unit[], readonly Unit[]],
): Stretch[] =>
  pairs.flatMap(({ one, two }): Stretch[] => {
    const own = one === null ? null : units[0][one]!;
    const other = two === null ? null : units[1][two]!;
    return own
      ? [
          {
            from: own.start,
            to: own.start + own.length,
            in: other && { from: other.start, to: other.start + other.length },
          },
        ]
      : [];
  });

/** From each attack that both have to the next that both have: what lies between has its share of the time. */
function betweenAnchors(
  pairs: readonly UnitPair[],
  units: readonly [readonly Unit[], readonly Unit[]],
): Stretch[] {
  const anchors = pairs.flatMap(({ one, two }) =>
    one === null || two === null ? [] : [{ here: units[0][one]!, there: units[1][two]! }],
  );
  return anchors.map(({ here, there }, index): Stretch => {
    const next = anchors[index + 1];
    return {
      from: index === 0 ? 0 : here.start,
      to: next?.here.start ?? here.start + here.length,
      in: {
        from: index === 0 ? there.start - here.start : there.start,
        to: next?.there.start ?? there.start + there.length,
      },
    };
  });
}

/** The way from the first reading's time to the second's, unit by unit. */
export function timeMap(
  pairs: readonly UnitPair[],
  units: readonly [readonly Unit[], readonly Unit[]],
): TimeMap {
  const timeless = units[0][0]?.timeless ?? false;
  const stretches = timeless ? betweenAnchors(pairs, units) : unitByUnit(pairs, units);
  const stretchAt = (moment: Moment): Stretch | undefined => {
    const index = lastAtOrBefore(stretches, moment, ({ from }) => from);
    const own = stretches[index];
    const next = stretches[index + 1];
    return own && !own.in && next?.in && next.from - moment <= EARLY ? next : own;
  };
  const scaleOf = ({ from, to, in: other }: Stretch): number =>
    timeless && other && to > from ? (other.to - other.from) / (to - from) : 1;
  return {
    at: (moment) => {
      const own = stretchAt(moment);
      return own?.in ? own.in.from + (moment - own.from) * scaleOf(own) : null;
    },
    near: (moment) => {
      const index = lastAtOrBefore(stretches, moment, ({ from }) => from);
      const own = stretches[index];
      if (own?.in) return own.in.from + (moment - own.from) * scaleOf(own);
      const next = stretches.slice(index).find((each) => each.in)?.in;
      const last = stretches.slice(0, index).findLast((each) => each.in)?.in;
      return next?.from ?? last?.to ?? moment;
    },
    scale: (moment) => {
      const own = stretchAt(moment);
      return own ? scaleOf(own) : 1;
    },
  };
}
