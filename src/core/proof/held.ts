import { counted } from '../basics/words';
import { rearrange } from '../edit/rearrange';
import { keyName } from '../model/pitch';
import { QUARTER } from '../model/time';
import type { Check, Found } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** A note is cut where less than this share of its sound is written (common practice: nobody holds on so far for legato). */
const LEAST = 0.62;
/** So much of it is missing at least: a release that hangs over is none. */
const MISSING = QUARTER / 4;

/** Signs that stand for several notes, or for another length. */
const OTHER_LENGTH: ReadonlySet<string> = new Set(['ornament', 'tremolo', 'arpeggio', 'fermata']);

/** What is plucked or struck rings on whatever is written (common practice); one note at a time cannot be held under the next. */
const RINGING: ReadonlySet<string> = new Set(['plucked', 'percussion']);

/** Notes that sound on and are written short: a player lets go of what the source holds. */
export const checkHeld: Check = ({ desk, result, sounded }) =>
  result.plans.flatMap(({ instrument }, part): Found[] => {
    if (desk.written || instrument.unpitched || instrument.singleLine) return [];
    const { notes: read } = result.readings[part]!;
    const isCut = (note: Sounded['notes'][number], { start, end, chord }: Sounded): boolean => {
      const [source] = note.sources;
      const played = source === undefined ? undefined : read.get(source);
      if (!played || source === undefined || desk.decisions.places.has(source)) return false;
      if (chord.marks?.some(({ kind }) => OTHER_LENGTH.has(kind))) return false;
      const sounds = played.until - played.at;
      return end - start < LEAST * sounds && sounds - (end - start) >= MISSING;
    };
    const bars = new Map<number, { at: number; notes: Sounded['notes'][number][] }>();
    for (const own of sounded[part]!) {
      const cut = own.notes.filter((note) => isCut(note, own));
      if (cut.length === 0) continue;
      const known = bars.get(own.bar);
      if (known) known.notes.push(...cut);
      else bars.set(own.bar, { at: own.start, notes: cut });
    }
    return [...bars].map(([bar, { at, notes }]): Found => {
      const events = eventsOf(notes);
      const names = [...new Set(notes.map(({ key }) => keyName(key)))].join(', ');
      return {
        weight: RINGING.has(instrument.family) ? 'remark' : 'doubtful',
        part,
        at,
        notes: events,
        about: `cut ${bar}`,
        what:
          notes.length === 1
            ? `${names} sounds on and is written short.`
            : `${counted(notes.length, 'note')} sound on and are written short: ${names}.`,
        mends: [{ label: 'Write as long as it sounds', directives: rearrange(result, events, 'as-played') }],
      };
    });
  });
