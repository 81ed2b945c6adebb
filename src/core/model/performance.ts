import { barAt, type Clock, type MeterChange, type TempoChange } from './clock';
import type { EventId, SourceId, StrandId } from './ids';
import type { Mend } from './mend';

/** General MIDI keeps channel 10 (9 here, as channels count from 0) for percussion. */
export const PERCUSSION_CHANNEL = 9;

/** A note as played. Ticks are absolute; `key` is the sounding MIDI key. */
export interface PlayedNote {
  id: EventId;
  on: number;
  off: number;
  key: number;
  velocity: number;
  /** Release velocity; absent where a note-on of velocity 0 ends the note. */
  release?: number;
  /** The source never ends this note; it was ended with its track. */
  hanging?: true;
  /** Its place among the events of its track, where its id does not say it: a note that was in a version before keeps that one's. */
  order?: number;
  /** The same key was already sounding when this note began. */
  stacked?: true;
  /** How it is played, where that is told and not the ordinary way. */
  technique?: string;
  /** Which of several players play it, from 1; all of them where absent. */
  players?: readonly number[];
  /** How sure it is that it was played, 0–1; certain where absent. */
  confidence?: number;
}

export interface ControllerUse {
  controller: number;
  count: number;
  first: number;
  lowest: number;
  highest: number;
}

/**
 * A message that shapes the sound of a channel (MIDI 1.0). Channels are 0–15, keys and data values 0–127;
 * a bend is 0–16383 with 8192 in the middle.
 */
export type ShapingEvent =
  | { kind: 'keyPressure'; tick: number; channel: number; key: number; pressure: number }
  | { kind: 'control'; tick: number; channel: number; controller: number; value: number }
  | { kind: 'program'; tick: number; channel: number; program: number }
  | { kind: 'channelPressure'; tick: number; channel: number; pressure: number }
  | { kind: 'pitchBend'; tick: number; channel: number; value: number };

/** A shaping event with its index in its track, which orders events within a tick. */
export interface Placed {
  order: number;
  event: ShapingEvent;
}

/** Players or singers that belong together, by whom names like "Bass" and "Alto" are understood. */
export type Company =
  | 'voices'
  | 'saxophones'
  | 'recorders'
  | 'strings'
  | 'brass'
  | 'brass band'
  | 'jazz band'
  | 'folk band'
  | 'rock band';

/** One stream of notes: a track and channel of a source. Channels 0–15. */
export interface Strand {
  id: StrandId;
  track: number;
  channel: number;
  port: number | null;
  name: string;
  /** What tells a piece of a split strand from the others. */
  piece?: string;
  /** Of one player's line of a divided section: the instrument's catalogue id, and the place among players of the same, from 1. */
  chair?: { instrument: string; number: number };
  /** What the key switch asks for that this piece of a strand was played under. */
  technique?: string;
  /** The name above it that its own, a mere number, goes on from ("2." below "Trumpet 1."). */
  heading?: string;
  /** Whom it stands among, where its name needs that to be understood. */
  company?: Company;
  /** In order of onset, then key. */
  notes: PlayedNote[];
  /** Controllers, programs, bends and pressures of the strand's channel in its track, in order. */
  shaping: Placed[];
  lowest: number;
  highest: number;
  /** Most notes sounding at once. */
  most: number;
  /** Program numbers 0–127 in order of first use. */
  programs: number[];
  /** Bank numbers as MSB × 128 + LSB in order of first use. */
  banks: number[];
  controllers: ControllerUse[];
  pitchBends: number;
  /** Printed bar numbers of the first onset and the last release. */
  firstBar: number;
  lastBar: number;
}

/** A track without notes and what it carries. */
export interface NoteFreeTrack {
  track: number;
  name: string;
  carries: {
    tempos: number;
    meters: number;
    keys: number;
    markers: number;
    lyrics: number;
    texts: number;
    controllers: number;
    sysex: number;
  };
}

/** Of a track in which there is nothing at all. */
export const NOTHING_CARRIED: NoteFreeTrack['carries'] = {
  tempos: 0,
  meters: 0,
  keys: 0,
  markers: 0,
  lyrics: 0,
  texts: 0,
  controllers: 0,
  sysex: 0,
};

/** What a loose event is for. */
export type LooseUse = 'lyric' | 'cue' | 'timecode' | 'system' | 'other';

/** Something that belongs to no strand and not to the clock: texts, lyrics, system messages, channels without notes. */
export interface LooseEvent {
  track: number;
  tick: number;
  /** Its index in its track, which orders events within a tick. */
  order: number;
  use: LooseUse;
  /** Its text, or the event in the words of its kind of file; only that kind's reader and writer look inside. */
  content: { text: string } | { native: object };
}

export interface KeyChange {
  tick: number;
  fifths: number;
  minor: boolean;
}

export interface TextAt {
  tick: number;
  text: string;
  track: number;
  /** It names a chord, and is not to be weighed as one. */
  chord?: true;
}

/** The heard reading of one source. */
export interface Performance {
  source: SourceId;
  title: string;
  /** As the source says it. */
  copyright?: string;
  clock: Clock;
  strands: Strand[];
  noteFree: NoteFreeTrack[];
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  markers: TextAt[];
  lyrics: TextAt[];
  /** Everything else, so that nothing is lost on the way back to a file. */
  loose: LooseEvent[];
  /** The last tick at which anything happens. */
  end: number;
  /** Notes of the source that lie past the point to which its time can be believed, and were not read. */
  beyond: number;
  mends: Mend[];
}

/** What a strand consists of; everything else about it is counted from this. */
export type StrandContent = Pick<Strand, 'id' | 'track' | 'channel' | 'port' | 'name' | 'notes' | 'shaping'>;

/**
 * What a source says of a performance before it is decided where its bars are:
 * what every reader hands over. Times in ticks.
 */
export interface Unbarred
  extends Pick<
    Performance,
    | 'source'
    | 'title'
    | 'copyright'
    | 'noteFree'
    | 'tempos'
    | 'meters'
    | 'keys'
    | 'markers'
    | 'lyrics'
    | 'loose'
    | 'end'
    | 'mends'
  > {
  ticksPerQuarter: number;
  /** In order of track and channel, each with a note at least. */
  strands: readonly StrandContent[];
  /** Notes that the source begins, whatever became of them. */
  begun: number;
}

/** A strand with its notes in order and its counts made. There must be at least one note. */
export function makeStrand(content: StrandContent, clock: Clock): Strand {
  const notes = content.notes.sort((a, b) => a.on - b.on || a.key - b.key);
  let lowest = 127;
  let highest = 0;
  let last = 0;
  for (const note of notes) {
    lowest = Math.min(lowest, note.key);
    highest = Math.max(highest, note.key);
    last = Math.max(last, note.off);
  }
  const first = notes[0]!.on;
  return {
    ...content,
    notes,
    lowest,
    highest,
    most: mostAtOnce(notes),
    ...countShaping(content.shaping),
    firstBar: barAt(clock, first).number,
    lastBar: barAt(clock, Math.max(first, last - 1)).number,
  };
}

/** The largest number of notes that sound at one moment; a note that ends as another begins is over. */
function mostAtOnce(notes: readonly PlayedNote[]): number {
  const releases = Float64Array.from(notes, (note) => note.off).sort();
  let over = 0;
  let most = 0;
  notes.forEach((note, index) => {
    while (over < index && releases[over]! <= note.on) over++;
    most = Math.max(most, index + 1 - over);
  });
  return most;
}

function countShaping(shaping: readonly Placed[]) {
  const programs = new Set<number>();
  const banks = new Set<number>();
  const bank: [number, number] = [0, 0];
  const controllers = new Map<number, ControllerUse>();
  let pitchBends = 0;
  for (const { event } of shaping) {
    if (event.kind === 'program') programs.add(event.program);
    else if (event.kind === 'pitchBend') pitchBends++;
    else if (event.kind === 'control') {
      countControl(controllers, event.controller, event.value);
      if (event.controller === 0 || event.controller === 32) {
        bank[event.controller === 0 ? 0 : 1] = event.value;
        banks.add(bank[0] * 128 + bank[1]);
      }
    }
  }
  return {
    programs: [...programs],
    banks: [...banks],
    controllers: [...controllers.values()].sort((a, b) => a.controller - b.controller),
    pitchBends,
  };
}

function countControl(uses: Map<number, ControllerUse>, controller: number, value: number): void {
  const use = uses.get(controller);
  if (!use) {
    uses.set(controller, { controller, count: 1, first: value, lowest: value, highest: value });
    return;
  }
  use.count++;
  use.lowest = Math.min(use.lowest, value);
  use.highest = Math.max(use.highest, value);
}
