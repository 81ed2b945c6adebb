import { barOf } from '../model/clock';
import type { Chord, VoiceLine } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** From this share of its bar on a note is held under moving ones, which is what second voices are for (common practice). */
const HELD = 0.5;

const chordsOf = ({ items }: VoiceLine): Chord[] =>
  items.filter((item): item is Chord => item.kind === 'chord' && !item.cue);

/** Whether a chord neither goes on from one before nor into one after. */
const isAlone = ({ notes }: Chord): boolean => notes.every(({ tieStart, tieStop }) => !tieStart && !tieStop);

/** Second voices that a bar has for one short note: a player reads two lines there for the sake of it. */
export const checkLoneVoice: Check = ({ desk, result }) => {
  // A document has the voices that it has.
  if (desk.written) return [];
  const { bars } = result.frame;
  const { clock } = desk.performance;
  return result.score.parts.flatMap((part, index) => {
    const plan = result.plans[index];
    if (!plan || plan.instrument.unpitched) return [];
    return part.bars.flatMap(({ voices }, at): Found[] => {
      const bar = bars[at];
      if (!bar || voices.length < 2) return [];
      return voices.flatMap((line): Found[] => {
        if (part.clefs[line.staff - 1] === 'tab') return [];
        const [only, ...more] = chordsOf(line);
        const isSecond = voices.some(
          (other) => other !== line && other.staff === line.staff && chordsOf(other).length > 1,
        );
        if (!only || more.length > 0 || !isSecond || !isAlone(only)) return [];
        if (only.duration >= HELD * bar.length) return [];
        const { start, length } = barOf(clock, bar.index);
        return [
          {
            weight: 'doubtful',
            part: index,
            at: bar.start + only.onset,
            notes: eventsOf(only.notes),
            what: 'A second voice for one short note.',
            mends: [
              {
                label: 'One voice in this bar',
                directives: plan.strands.map((strand) => ({
                  kind: 'voices',
                  strand,
                  most: 1,
                  from: Math.round(start),
                  to: Math.round(start + length),
                })),
              },
            ],
          },
        ];
      });
    });
  });
};
