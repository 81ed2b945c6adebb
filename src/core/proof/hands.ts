import { counted } from '../basics/words';
import { barIndexOf } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Semitones of a major tenth: a hand reaches no further (common practice). */
const TENTH = 16;
/** Fingers of a hand at a keyboard; harpists do not use the little one (common practice). */
const FINGERS = 5;
const HARP_FINGERS = 4;

/** Chords that a hand cannot take, at keyboards and harps, and on what has frets or strings. */
export const checkHands: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument }, part): Found[] => {
    const isHarp = instrument.id === 'harp';
    if (instrument.family === 'keyboard' || isHarp) {
      const fingers = isHarp ? HARP_FINGERS : FINGERS;
      const hands = result.score.parts[part]!.clefs.length > 1 ? 1 : 2;
      return sounded[part]!.flatMap(({ notes, chord, start }): Found[] => {
        const isBroken = chord.marks?.some(({ kind }) => kind === 'arpeggio');
        const keys = notes.map(({ key }) => key);
        const span = Math.max(...keys) - Math.min(...keys);
        if (keys.length > fingers * hands)
          return [
            {
              weight: 'wrong',
              part,
              at: start,
              notes: eventsOf(notes),
              what: `${counted(keys.length, 'note')} in ${hands === 1 ? 'one hand, which has' : 'two hands, which have'} ${fingers * hands} fingers for them.`,
            },
          ];
        if (hands > 1 || isBroken || span <= TENTH) return [];
        return [
          {
            weight: 'doubtful',
            part,
            at: start,
            notes: eventsOf(notes),
            what: `A stretch of ${span} semitones in one hand: more than a tenth has to be broken.`,
          },
        ];
      });
    }
    if (instrument.family === 'strings' && instrument.tuning) {
      const strings = [...instrument.tuning];
      return sounded[part]!.flatMap(({ notes, start }): Found[] => {
        const keys = notes.map(({ key }) => key).sort((a, b) => a - b);
        if (keys.length < 2 || canStop(keys, strings)) return [];
        return [
          {
            weight: 'doubtful',
            part,
            at: start,
            notes: eventsOf(notes),
            what: `${counted(keys.length, 'note')} that one player cannot stop at once: divisi, or another voicing.`,
          },
        ];
      });
    }
    return result.readings[part]!.unplayable.map((at): Found => {
      const own = sounded[part]!.find(
        ({ start, bar }) => start === at && bar === barIndexOf(result.frame.bars, at),
      );
      return {
        weight: 'wrong',
        part,
        at,
        notes: own ? eventsOf(own.notes) : [],
        what: 'A chord that no hand can stop on these strings.',
      };
    });
  });

/** Semitones from the lowest to the highest stopped place on the strings that a hand on a bowed instrument covers: an octave on two strings (common practice). */
const HAND = 6;

/** Whether each note has a string of its own, next to each other, under one hand. */
function canStop(keys: readonly number[], strings: readonly number[]): boolean {
  for (let first = 0; first + keys.length <= strings.length; first++) {
    const places = keys.map((key, index) => key - strings[first + index]!);
    if (places.some((place) => place < 0)) continue;
    const stopped = places.filter((place) => place > 0);
    if (stopped.length === 0 || Math.max(...stopped) - Math.min(...stopped) <= HAND) return true;
  }
  return false;
}
