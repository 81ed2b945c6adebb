import { beatsOf } from '../model/meter';
import type { Bar, Item, PartBar, Score } from '../model/score';
import { QUARTER, singleValue } from '../model/time';

/** The middle line of a staff, as a treble clef reads it. */
const MIDDLE = { step: 'B', alter: 0, octave: 4 } as const;

/** A score whose slashes stand as notes: on the middle line, one for each beat, for an engraver that makes none itself. */
export const withSlashes = (score: Score): Score =>
  score.parts.some(({ bars }) => bars.some(({ shown }) => shown === 'slashes'))
    ? {
        ...score,
        parts: score.parts.map((part) => ({
          ...part,
          bars: part.bars.map((bar, index) =>
            bar.shown === 'slashes' ? slashed(bar, score.bars[index]!, `${part.id} ${index}`) : bar,
          ),
        })),
      }
    : score;

function slashed({ shown: _, ...bar }: PartBar, of: Bar, id: string): PartBar {
  const items = beatsOf(of)
    .filter(({ start }) => start >= of.missing)
    .map(
      ({ start, length }, index): Item => ({
        kind: 'chord',
        onset: start - of.missing,
        duration: length,
        value: singleValue(length) ?? singleValue(QUARTER)!,
        stemless: true,
        notes: [
          {
            id: `slash-${id.replaceAll(/[^\w]/g, '-')}-${index}`,
            key: 71,
            pitch: MIDDLE,
            head: 'slash',
            sources: [],
          },
        ],
      }),
    );
  return { ...bar, voices: [{ voice: 1, staff: 1, items }] };
}

/** A score with all its notes, whatever it is written short as. */
export const inFull = (score: Score): Score =>
  score.parts.some(({ bars }) => bars.some(({ shown }) => shown))
    ? {
        ...score,
        parts: score.parts.map((part) => ({ ...part, bars: part.bars.map(({ shown: _, ...bar }) => bar) })),
      }
    : score;
