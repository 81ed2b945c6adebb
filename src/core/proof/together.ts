import { rearrange } from '../edit/rearrange';
import { rhythmFindings } from '../explain/findings';
import { textOfMoment } from '../model/time';
import type { Check, Found } from './finding';

/** Parts that move together and are written apart at one place. */
export const checkTogether: Check = ({ result }) =>
  rhythmFindings(result).flatMap(({ kind, part, note, at, instead, by, other }): Found[] =>
    kind !== 'apart' || other === undefined
      ? []
      : [
          {
            weight: 'doubtful',
            part,
            at: at.moment,
            notes: [note],
            what: `${result.plans[other]!.name} moves with it and has ${instead.words}; played ${Math.round(by)} ms apart.`,
            mends: [
              {
                label: `Like ${result.plans[other]!.name}`,
                directives: rearrange(result, [note], 'like-part', other),
              },
            ],
          },
        ],
  );

/** Attacks whose place is settled only narrowly. */
export const checkNarrow: Check = ({ result }) =>
  rhythmFindings(result).flatMap(({ kind, part, note, at, instead, by }): Found[] =>
    kind !== 'narrow'
      ? []
      : [
          {
            weight: 'remark',
            part,
            at: at.moment,
            notes: [note],
            what: `It could as well stand at ${instead.words}: only ${Math.exp(Math.max(0, by)).toFixed(1)} times less likely.`,
            mends: [
              {
                label: 'Write it there',
                directives: [{ kind: 'place', note, start: textOfMoment(instead.moment), end: null }],
              },
            ],
          },
        ],
  );
