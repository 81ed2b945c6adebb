import { beatWords } from '../model/beat-words';
import { keyName } from '../model/pitch';
import { barIndexOf } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** Keys that one player strikes while he holds them: the other hand, or another voice, takes the key away. */
export const checkStruckHeld: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument }, part): Found[] => {
    const isOnePlayer = instrument.family === 'keyboard' || instrument.id === 'harp';
    if (!isOnePlayer) return [];
    const { bars } = result.frame;
    const held = new Map<number, Sounded>();
    return sounded[part]!.flatMap((own): Found[] =>
      own.notes.flatMap((note): Found[] => {
        const before = held.get(note.key);
        if (!before || own.end > before.end) held.set(note.key, own);
        if (!before || before.end <= own.start || before.start === own.start) return [];
        const bar = bars[barIndexOf(bars, before.end - 1)]!;
        return [
          {
            weight: 'remark',
            part,
            at: own.start,
            notes: eventsOf([note]),
            what: `${keyName(note.key)} is struck while another voice holds it until ${beatWords(bar, before.end - bar.start)} of bar ${bar.number}: the hold ends here, in a MIDI file too.`,
          },
        ];
      }),
    );
  });
