import type { Part } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Ties that lead to nothing, and lines over no time. */
export const checkEnds: Check = ({ result: { score, frame } }) =>
  score.parts.flatMap((part, index) => [
    ...openTies(part, index, frame.bars),
    ...emptyLines(part, index, frame.bars),
  ]);

function openTies(part: Part, index: number, bars: readonly { start: number }[]): Found[] {
  const goesOn = new Set<string>();
  const each = part.bars.flatMap(({ voices }, bar) =>
    voices.flatMap(({ items, staff }) =>
      items.flatMap((item) =>
        item.kind === 'chord' && !(staff > 1 && part.clefs[staff - 1] === 'tab')
          ? [{ item, start: bars[bar]!.start + item.onset }]
          : [],
      ),
    ),
  );
  for (const { item, start } of each)
    for (const { key, tieStop } of item.notes) if (tieStop) goesOn.add(`${key} ${start}`);
  return each.flatMap(({ item, start }) =>
    item.notes
      .filter(
        ({ key, tieStart, ringsOn }) =>
          tieStart && !ringsOn && !goesOn.has(`${key} ${start + item.duration}`),
      )
      .map(
        (note): Found => ({
          weight: 'doubtful',
          part: index,
          at: start,
          notes: eventsOf([note]),
          about: `tie ${note.id}`,
          what: 'A tie that leads to no note.',
        }),
      ),
  );
}

const NAMES: Readonly<Record<string, string>> = {
  wedge: 'hairpin',
  slur: 'slur',
  pedal: 'pedal line',
  octave: 'octave line',
};

function emptyLines(part: Part, index: number, bars: readonly { start: number }[]): Found[] {
  return (part.spanners ?? []).flatMap(({ id, kind, from, to }): Found[] => {
    const name = NAMES[kind];
    if (!name || !('bar' in from) || !('bar' in to)) return [];
    const [start, end] = [from, to].map(({ bar, at }) => (bars[bar]?.start ?? 0) + at) as [number, number];
    if (end > start) return [];
    return [
      {
        weight: 'doubtful',
        part: index,
        at: start,
        about: `line ${id}`,
        what: `A ${name} that ends where it begins.`,
      },
    ];
  });
}
