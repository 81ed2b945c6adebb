import type { StrandId } from '../model/ids';
import type { Holds } from './holds';

export const NOTE_ON = 0;
export const NOTE_OFF = 1;
export const CONTROL = 2;
export const BEND = 3;
export const PROGRAM = 4;
export const PRESSURE = 5;

/** A strand's place in the synthesizer: channel, program 0–127, drums or not. */
export interface Voicing {
  strand: StrandId;
  channel: number;
  program: number;
  isDrum: boolean;
}

/** Everything to be played, as parallel arrays in order of time; seconds from the start of the piece. */
export interface Timeline {
  seconds: Float64Array;
  kind: Uint8Array;
  channel: Uint16Array;
  first: Uint8Array;
  second: Uint8Array;
  voicings: Voicing[];
  /** Beats: seconds, and 1 for a downbeat. */
  beats: { seconds: Float64Array; down: Uint8Array };
  /** The first full bar at the first tempo, as bars before the piece are counted: its beats and its length. Seconds. */
  opening: { beats: Float64Array; length: number };
  /** When the last note ends. */
  end: number;
  /** Where it takes other time than the clock of the piece; null for nowhere. */
  holds: Holds | null;
}

/** One event of a timeline. */
export interface TimedEvent {
  seconds: number;
  kind: number;
  channel: number;
  first: number;
  second: number;
}

/** At one moment notes end, then the channel is set, then notes begin. */
const rankOf = ({ kind }: TimedEvent): number => (kind === NOTE_OFF ? 0 : kind === NOTE_ON ? 2 : 1);

/** Events in order of time, as the columns of a timeline. */
export function inColumns(
  events: readonly TimedEvent[],
): Pick<Timeline, 'seconds' | 'kind' | 'channel' | 'first' | 'second'> {
  const sorted = events.toSorted((a, b) => a.seconds - b.seconds || rankOf(a) - rankOf(b));
  return {
    seconds: Float64Array.from(sorted, (event) => event.seconds),
    kind: Uint8Array.from(sorted, (event) => event.kind),
    channel: Uint16Array.from(sorted, (event) => event.channel),
    first: Uint8Array.from(sorted, (event) => event.first),
    second: Uint8Array.from(sorted, (event) => event.second),
  };
}

/** The events of a timeline, in order of time. */
export const eventsIn = ({ seconds, kind, channel, first, second }: Timeline): TimedEvent[] =>
  Array.from(seconds, (at, index) => ({
    seconds: at,
    kind: kind[index] ?? 0,
    channel: channel[index] ?? 0,
    first: first[index] ?? 0,
    second: second[index] ?? 0,
  }));

/**
 * What to hear: the source as it came, the cleaned (and varied) performance, the notes of the score as they were
 * played, the score as players would play it, or pitches and values of the page and nothing else.
 */
export const HEARD = ['source', 'cleaned', 'score-played', 'score-performed', 'score'] as const;
export type Heard = (typeof HEARD)[number];

const OF_SCORE: ReadonlySet<Heard> = new Set(['score-played', 'score-performed', 'score']);

/** Whether the score must have been written to be heard so. */
export const isOfScore = (heard: Heard): boolean => OF_SCORE.has(heard);
