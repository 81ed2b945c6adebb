import { eventId, orderOf, type SourceId, strandId } from '../../model/ids';
import { NOTHING_CARRIED, type Placed, type PlayedNote, type Unbarred } from '../../model/performance';
import { type HearingSettings, type Taken, type TakenNote, take } from '../../recording/heard';
import { inTurn, USUAL_RELEASE } from '../one-channel';
import type { Heard } from './listen';

/** A recording as a source: what may have been heard in it, and what is taken of that. */
export interface HeardReading {
  heard: Heard;
  taken: Taken;
  /** As it was played, without beats, which are found later. */
  played: Unbarred;
}

/** Fine enough that nothing is rounded: half a millisecond, at 120 quarter notes a minute. */
const TICKS_PER_QUARTER = 960;
const TICKS_PER_SECOND = 2 * TICKS_PER_QUARTER;
/** A bend of so many cents is the whole of it (General MIDI: two semitones either way). */
const WHOLE_BEND = 200;
/** Less is no bend; cents. */
const LEAST_BEND = 8;
const CENTRE = 8192;
/** A recording is one strand: the first channel of the first track. */
const CHANNEL = 0;

/** What is taken of a recording under some settings. */
export function heardAs(
  heard: Heard,
  settings: HearingSettings,
  source: SourceId,
  name: string,
): HeardReading {
  const read = settings.read ?? heard.guess;
  const taken = take(heard[read], settings);
  return {
    heard,
    taken,
    played: playedBy(taken.notes, source, name, read === 'line'),
  };
}

/** Each may-be note has a number of its own, whatever is taken: what was decided about a note finds it again. */
const numberOf = (index: number): number => 1 + index;

function playedBy(notes: readonly TakenNote[], source: SourceId, name: string, bends: boolean): Unbarred {
  const tick = (seconds: number) => Math.round(seconds * TICKS_PER_SECOND);
  const strand = strandId(source, 0, CHANNEL);
  const last = 1 + notes.reduce((most, { index }) => Math.max(most, numberOf(index)), 0);
  const played: PlayedNote[] = [];
  const shaping: Placed[] = [];
  let bent = 0;
  for (const { on, off, key, velocity, cents, index, confidence } of notes) {
    const number = numberOf(index);
    const from = tick(on);
    const to = Math.max(from + 1, tick(off));
    const id = eventId(strand, number);
    played.push({ id, on: from, off: to, key, velocity, release: USUAL_RELEASE, confidence });
    const bend = Math.abs(cents) < LEAST_BEND ? 0 : Math.round((cents / WHOLE_BEND) * CENTRE);
    if (bends && bend !== bent) {
      const at = Math.max(0, from - 1);
      shaping.push({
        order: 2 * last + number,
        event: { kind: 'pitchBend', tick: at, channel: CHANNEL, value: CENTRE + bend },
      });
      bent = bend;
    }
  }
  played.sort((a, b) => a.on - b.on || orderOf(a) - orderOf(b));
  shaping.sort((a, b) => a.event.tick - b.event.tick || a.order - b.order);
  const isSilent = played.length === 0;
  return {
    source,
    title: isSilent ? name : '',
    ticksPerQuarter: TICKS_PER_QUARTER,
    tempos: [],
    meters: [],
    keys: [],
    markers: [],
    lyrics: [],
    strands: isSilent
      ? []
      : [{ id: strand, track: 0, channel: CHANNEL, port: null, name, notes: inTurn(played), shaping }],
    noteFree: isSilent ? [{ track: 0, name, carries: NOTHING_CARRIED }] : [],
    loose: [],
    end: played.reduce((latest, { off }) => Math.max(latest, off), 0),
    begun: played.length,
    mends: [],
  };
}
