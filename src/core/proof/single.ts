import { counted } from '../basics/words';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Chords in the part of one player of an instrument that has one note at a time. */
export const checkSingle: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument, players, name }, part): Found[] => {
    if (!instrument.singleLine || instrument.unpitched || isSeveral(name, players)) return [];
    const chords = sounded[part]!.filter(({ notes }) => notes.length > 1);
    if (chords.length === 0) return [];
    return [
      {
        weight: 'doubtful',
        part,
        at: chords[0]!.start,
        notes: chords.flatMap(({ notes }) => eventsOf(notes)),
        about: 'chords',
        what: `${counted(chords.length, 'chord')} for one ${instrument.name}: more players, or one note of each.`,
      },
    ];
  });

/** The part of a section, of numbered players, or of several. */
const isSeveral = (name: string, players: readonly number[]): boolean =>
  players.length > 1 || /\d\s*[+.,/&–-]\s*\d|(^|\s)(I|1)\W+(II|2)|s$/i.test(name.trim());
