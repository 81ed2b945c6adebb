import { rearrange } from '../edit/rearrange';
import { QUARTER } from '../model/time';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Shorter than a 32nd is hardly ever meant, alone (common practice). */
const SHORT = QUARTER / 8;

/** Very short notes, and rests that an early release leaves: no player counts a 64th rest. */
export const checkSpecks: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index) => [
    ...sounded[index]!.flatMap(({ chord, notes, start, end }): Found[] =>
      end - start >= SHORT || chord.tuplet || notes.length === 0
        ? []
        : [
            {
              weight: 'doubtful',
              part: index,
              at: start,
              notes: eventsOf(notes),
              what: `A note shorter than a 32nd.`,
              mends: [
                { label: 'To the next note', directives: rearrange(result, eventsOf(notes), 'to-next') },
              ],
            },
          ],
    ),
    ...part.bars.flatMap(({ voices }, bar) =>
      voices.flatMap(({ items, staff }): Found[] => {
        if (staff > 1 && part.clefs[staff - 1] === 'tab') return [];
        return items.flatMap((item, at): Found[] => {
          const before = items[at - 1];
          if (item.kind !== 'rest' || item.hidden || item.tuplet || item.duration >= SHORT) return [];
          const notes = before?.kind === 'chord' ? eventsOf(before.notes) : [];
          return [
            {
              weight: 'doubtful',
              part: index,
              at: result.frame.bars[bar]!.start + item.onset,
              notes,
              about: `rest ${bar} ${staff} ${item.onset}`,
              what: 'A rest shorter than a 32nd.',
              mends:
                notes.length > 0
                  ? [{ label: 'Hold the note before', directives: rearrange(result, notes, 'to-next') }]
                  : [],
            },
          ];
        });
      }),
    ),
  ]);
