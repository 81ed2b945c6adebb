import { counted } from '../basics/words';
import type { Check, Found } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** Bars in which a lower voice of a staff sounds above the upper one: stems and heads collide. */
export const checkCrossing: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument }, part): Found[] => {
    if (instrument.unpitched) return [];
    const bars = new Map<number, Sounded[]>();
    for (const each of sounded[part]!) bars.set(each.bar, [...(bars.get(each.bar) ?? []), each]);
    return [...bars].flatMap(([bar, own]): Found[] => {
      const crossed = own.filter(
        (upper) =>
          upper.voice === 1 &&
          own.some(
            (lower) =>
              lower.voice === 2 &&
              lower.staff === upper.staff &&
              lower.start < upper.end &&
              lower.end > upper.start &&
              Math.max(...lower.notes.map(({ key }) => key)) > Math.max(...upper.notes.map(({ key }) => key)),
          ),
      );
      if (crossed.length === 0) return [];
      return [
        {
          weight: 'remark',
          part,
          at: crossed[0]!.start,
          notes: eventsOf(crossed.flatMap(({ notes }) => notes)),
          about: `bar ${bar}`,
          what: `The second voice lies above the first at ${counted(crossed.length, 'place')} of the bar.`,
        },
      ];
    });
  });
