import { counted } from '../../basics/words';
import { techniqueOf } from '../../cast/route';
import { decidedFor } from '../../decisions/decisions';
import { hasText } from '../../infer/marks/techniques';
import { type InstrumentGuess, recogniseInstrument } from '../../instruments/recognise';
import type { PlayedNote, Strand } from '../../model/performance';
import { placeAt } from '../place';
import type { Finder, Oddity } from './oddity';

/** Strands of one section take turns; where more of the notes sound together they are two parts. */
const TOGETHER = 0.1;

/** Strands that are one section in several techniques: on paper one part, with a text at each change. */
export const findTechniques: Finder = ({ strands, clock }, decisions) => {
  const sections = new Map<string, { strand: Strand; guess: InstrumentGuess }[]>();
  for (const strand of strands) {
    const decided = decidedFor(decisions, strand.id);
    if (decided.out || decided.into) continue;
    const guess = { ...recogniseInstrument(strand), technique: techniqueOf(strand, decisions) };
    if (guess.words === null || guess.instrument.unpitched) continue;
    const id = decided.instrument ?? guess.instrument.id;
    const name = `${id} ${guess.players.join('+')}`;
    sections.set(name, [...(sections.get(name) ?? []), { strand, guess }]);
  }
  return [...sections.values()].flatMap((members): Oddity[] => {
    const [lead] = members.toSorted(
      (a, b) => Number(hasText(a.guess.technique)) - Number(hasText(b.guess.technique)),
    );
    return members.flatMap(({ strand, guess }): Oddity[] => {
      if (!lead || strand === lead.strand || !hasText(guess.technique)) return [];
      if (guess.technique === lead.guess.technique || together(strand.notes, lead.strand.notes) > TOGETHER)
        return [];
      return [
        {
          id: `technique ${strand.id}`,
          kind: 'technique',
          strand: strand.id,
          place: placeAt(clock, strand.notes[0]!.on),
          count: strand.notes.length,
          sure: 0.9,
          harm: { takes: 'sounds', notes: strand.notes.length },
          what: `“${strand.name}” is “${lead.strand.name}” played ${guess.technique}: the two take turns. On paper that is one part, with a text at each change.`,
          mend: {
            label: `Make it one part with ${lead.strand.name || counted(lead.strand.notes.length, 'note')}`,
            directives: [{ kind: 'join', strand: strand.id, into: lead.strand.id }],
          },
        },
      ];
    });
  });
};

/** The share of the notes that begin while one of the others sounds. */
function together(notes: readonly PlayedNote[], others: readonly PlayedNote[]): number {
  let at = 0;
  let until = -1;
  let count = 0;
  for (const { on, off } of notes) {
    while (at < others.length && others[at]!.on < off) {
      // What ends as this begins is over.
      if (others[at]!.off > on) until = Math.max(until, others[at]!.off);
      at++;
    }
    // A release that hangs over by less than a quarter of the note is no playing along.
    if (until > on + (off - on) / 4) count++;
  }
  return count / Math.max(1, notes.length);
}
