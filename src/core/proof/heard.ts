import { keyName } from '../model/pitch';
import { DOUBTFUL } from '../recording/heard';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Notes of a recording of which nobody can be sure by its sound: they are heard again, and meant or left out. */
export const checkHeard: Check = ({ desk, sounded }) => {
  if (!desk.can.hears) return [];
  const confidences = new Map(
    desk.performance.strands.flatMap(({ notes }) =>
      notes.map(({ id, confidence = 1 }) => [id, confidence] as const),
    ),
  );
  return sounded.flatMap((chords, part) =>
    chords.flatMap(({ notes, start }): Found[] =>
      notes.flatMap((note): Found[] => {
        const [event] = eventsOf([note]);
        const sure = event === undefined ? undefined : confidences.get(event);
        if (event === undefined || sure === undefined || sure >= DOUBTFUL) return [];
        return [
          {
            weight: 'doubtful',
            part,
            at: start,
            notes: [event],
            what: `${keyName(note.key)} is ${Math.round(sure * 100)} % sure in the recording.`,
            mends: [{ label: 'Leave it out', directives: [{ kind: 'drop', note: event, out: true }] }],
          },
        ];
      }),
    ),
  );
};
