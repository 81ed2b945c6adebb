import { strToU8 } from 'fflate';
import { type HearingSettings, type Taken, type TakenNote, take } from '../../recording/heard';
import type { Smf, SmfEvent } from '../smf/events';
import type { Heard } from './listen';

/** A recording as a source: what may have been heard in it, and what is taken of that. */
export interface HeardReading {
  heard: Heard;
  taken: Taken;
  /** As a file of events: as it was played, without beats, which are found later. */
  file: Smf;
  /** How sure each note is, 0–1, by its number in the track. */
  sure: ReadonlyMap<number, number>;
}

/** Fine enough that nothing is rounded: half a millisecond, at 120 quarter notes a minute. */
const TICKS_PER_QUARTER = 960;
const TICKS_PER_SECOND = 2 * TICKS_PER_QUARTER;
/** A bend of so many cents is the whole of it (General MIDI: two semitones either way). */
const WHOLE_BEND = 200;
/** Less is no bend; cents. */
const LEAST_BEND = 8;
const CENTRE = 8192;

/** What is taken of a recording under some settings. */
export function heardAs(heard: Heard, settings: HearingSettings, name: string): HeardReading {
  const read = settings.read ?? heard.guess;
  const taken = take(heard[read], settings);
  return {
    heard,
    taken,
    file: fileOf(taken.notes, name, read === 'line'),
    sure: new Map(taken.notes.map(({ index, confidence }) => [numberOf(index), confidence])),
  };
}

/** Each may-be note has a number of its own, whatever is taken: what was decided about a note finds it again. */
const numberOf = (index: number): number => 1 + index;

function fileOf(notes: readonly TakenNote[], name: string, bends: boolean): Smf {
  const tick = (seconds: number) => Math.round(seconds * TICKS_PER_SECOND);
  const placed: { event: SmfEvent; rank: number; number: number }[] = [];
  const put = (event: SmfEvent, rank: number, number: number) => placed.push({ event, rank, number });
  // What ends comes before what begins at the same tick.
  const [NAME, END, BEGIN] = [0, 1, 2];
  put({ kind: 'trackName', tick: 0, type: 3, bytes: strToU8(name) }, NAME!, 0);
  const last = 1 + notes.reduce((most, { index }) => Math.max(most, numberOf(index)), 0);
  let bent = 0;
  for (const { on, off, key, velocity, cents, index } of notes) {
    const number = numberOf(index);
    const from = tick(on);
    put({ kind: 'noteOn', tick: from, channel: 0, key, velocity }, BEGIN!, number);
    const to = Math.max(from + 1, tick(off));
    put({ kind: 'noteOff', tick: to, channel: 0, key, velocity: 64, asNoteOn: false }, END!, last + number);
    const bend = Math.abs(cents) < LEAST_BEND ? 0 : Math.round((cents / WHOLE_BEND) * CENTRE);
    if (bends && bend !== bent) {
      const before = Math.max(0, from - 1);
      put({ kind: 'pitchBend', tick: before, channel: 0, value: CENTRE + bend }, END!, 2 * last + number);
      bent = bend;
    }
  }
  placed.sort((a, b) => a.event.tick - b.event.tick || a.rank - b.rank || a.number - b.number);
  const end = placed.at(-1)?.event.tick ?? 0;
  return {
    format: 1,
    division: { kind: 'quarter', ticks: TICKS_PER_QUARTER },
    tracks: [
      {
        events: [...placed.map(({ event }) => event), { kind: 'endOfTrack', tick: end }],
        numbers: [...placed.map(({ number }) => number), 3 * last],
      },
    ],
    otherChunks: [],
    mends: [],
  };
}
