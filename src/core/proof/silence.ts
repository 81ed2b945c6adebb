import { counted } from '../basics/words';
import { decidedFor } from '../decisions/decisions';
import type { Strand } from '../model/performance';
import type { Check, Found } from './finding';

/** Channel volume and expression (MIDI 1.0). */
const VOLUMES = [7, 11];

/** Parts that never sound, strands that are in no part though nobody said so, and strands that are turned down all the way. */
export const checkSilence: Check = ({ desk, result, sounded }) => {
  const used = new Set(result.plans.flatMap(({ strands }) => strands));
  const partOf = new Map(result.plans.flatMap(({ strands }, part) => strands.map((id) => [id, part])));
  return [
    ...result.plans.flatMap((_, part): Found[] =>
      sounded[part]!.length === 0
        ? [{ weight: 'remark', part, about: 'part', what: 'It rests from beginning to end.' }]
        : [],
    ),
    ...desk.performance.strands.flatMap((strand): Found[] => {
      const { id, name, notes } = strand;
      if (!used.has(id))
        return decidedFor(desk.decisions, id).out
          ? []
          : [
              {
                weight: 'doubtful',
                about: `strand ${id}`,
                what: `${name || 'A strand'} with ${counted(notes.length, 'note')} is in no part.`,
              },
            ];
      return isMuted(strand)
        ? [
            {
              weight: 'doubtful',
              part: partOf.get(id)!,
              about: `muted ${id}`,
              what: `${name || 'A strand'} is turned down all the way in the source: was it to be left out?`,
              mends: [{ label: 'Leave it out', directives: [{ kind: 'leave-out', strand: id, out: true }] }],
            },
          ]
        : [];
    }),
  ];
};

/** It is set to no volume before its first note, and never to any. */
const isMuted = ({ shaping }: Strand): boolean =>
  VOLUMES.some((controller) => {
    const values = shaping.flatMap(({ event }) =>
      event.kind === 'control' && event.controller === controller ? [event.value] : [],
    );
    return values.length > 0 && values.every((value) => value === 0);
  });
