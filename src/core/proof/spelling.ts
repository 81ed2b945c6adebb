import { intervalOf } from '../edit/pitches';
import { type Pitch, pitchFifths, pitchName } from '../model/pitch';
import { writtenKeys } from '../model/score';
import type { Check, Found } from './finding';

/** So far from its signature on the line of fifths nobody expects a note: beyond the raised fourth and the lowered second (common practice). */
const SHARPEST = 9;
const FLATTEST = -6;

/** Accidentals that nobody expects: double ones and far ones, and one key spelled in two ways in a bar. */
export const checkSpelling: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index): Found[] => {
    if (result.plans[index]?.instrument.unpitched) return [];
    const keys = writtenKeys(result.score, part);
    const seen = new Map<string, Pitch>();
    return sounded[index]!.flatMap(({ notes, start, bar }) =>
      notes.flatMap((note): Found[] => {
        const { pitch, key, sources } = note;
        const fifths = keys.findLast((each) => each.bar <= bar)?.fifths ?? 0;
        const place = pitchFifths(pitch) - fifths;
        const before = seen.get(`${bar} ${key}`);
        seen.set(`${bar} ${key}`, pitch);
        const isOther = before !== undefined && before.step !== pitch.step;
        const isFar = place > SHARPEST || place < FLATTEST || Math.abs(pitch.alter) > 1;
        if (!isOther && !isFar) return [];
        const other = intervalOf('respell', pitch, fifths);
        const [event] = sources;
        return [
          {
            weight: 'remark',
            part: index,
            at: start,
            notes: event ? [event] : [],
            about: `${event ?? note.id} ${isOther ? 'two' : 'far'}`,
            what: isOther
              ? `${pitchName(pitch)} after ${pitchName(before)} in the same bar: one key in two spellings.`
              : `${pitchName(pitch)} lies far from this signature.`,
            mends: event
              ? [
                  {
                    label: 'Spell it otherwise',
                    directives: [
                      { kind: 'pitch', note: event, steps: other.diatonic, semitones: other.chromatic },
                    ],
                  },
                ]
              : [],
          },
        ];
      }),
    );
  });
