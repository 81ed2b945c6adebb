import { counted } from '../basics/words';
import type { PlainDirective } from '../decisions/kinds';
import { keyName } from '../model/pitch';
import type { Check, Found, Subject } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** More places in one part are told as one thing. */
const MANY = 8;

/** What lies outside for one instrument, bar after bar, is one finding. */
interface Stretch {
  bar: number;
  notes: Sounded[];
  isImpossible: boolean;
}

/** Notes that an instrument does not have, and passages that are uncomfortable on it (ranges: the catalogue). */
export const checkRanges: Check = (subject) =>
  subject.result.plans.flatMap(({ instrument }, part) => {
    if (instrument.unpitched) return [];
    const { lowest, highest, comfortable } = instrument;
    const [low, high] = comfortable;
    const stretches: Stretch[] = [];
    for (const own of subject.sounded[part]!) {
      const isImpossible = own.notes.some(({ key }) => key < lowest || key > highest);
      if (!isImpossible && !own.notes.some(({ key }) => key < low || key > high)) continue;
      const last = stretches.at(-1);
      if (last && last.isImpossible === isImpossible && own.bar - last.bar <= 1) {
        last.notes.push(own);
        last.bar = own.bar;
      } else stretches.push({ bar: own.bar, notes: [own], isImpossible });
    }
    return [true, false].flatMap((isImpossible) => {
      const own = stretches.filter((stretch) => stretch.isImpossible === isImpossible);
      if (own.length <= MANY) return own.map((stretch) => foundOf(stretch, part, subject));
      // So many say something of who plays it, not of single places.
      const whole: Stretch = { bar: own[0]!.bar, isImpossible, notes: own.flatMap(({ notes }) => notes) };
      const { what, ...found } = foundOf(whole, part, subject);
      return [
        {
          ...found,
          about: `all ${isImpossible}`,
          what: `${what} At ${own.length} places: is it the right instrument?`,
        },
      ];
    });
  });

function foundOf({ notes, isImpossible }: Stretch, part: number, { result }: Subject): Found {
  const { instrument } = result.plans[part]!;
  const [low, high] = isImpossible ? [instrument.lowest, instrument.highest] : instrument.comfortable;
  const beyond = notes.flatMap((each) => each.notes.filter(({ key }) => key < low || key > high));
  const keys = beyond.map(({ key }) => key);
  const isLow = keys[0]! < low;
  const extreme = isLow ? Math.min(...keys) : Math.max(...keys);
  const octave = isLow ? 12 : -12;
  const fits = keys.every((key) => key + octave >= instrument.lowest && key + octave <= instrument.highest);
  const limit = keyName(isLow ? low : high);
  return {
    weight: isImpossible ? 'wrong' : 'doubtful',
    part,
    at: notes[0]!.start,
    notes: eventsOf(beyond),
    what: isImpossible
      ? `${counted(beyond.length, 'note')} ${isLow ? 'below' : 'above'} ${limit}, which ${instrument.name} does not have: ${keyName(extreme)} sounding.`
      : `${counted(beyond.length, 'note')} ${isLow ? 'down' : 'up'} to ${keyName(extreme)}, ${isLow ? 'below' : 'above'} ${limit}: uncomfortable for ${instrument.name}.`,
    mends:
      isImpossible && fits
        ? [
            {
              label: isLow ? 'An octave higher' : 'An octave lower',
              directives: eventsOf(beyond).map(
                (note): PlainDirective => ({
                  kind: 'pitch',
                  note,
                  steps: isLow ? 7 : -7,
                  semitones: octave,
                }),
              ),
            },
          ]
        : [],
  };
}
