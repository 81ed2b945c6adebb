import type { Mend } from '../../model/mend';
import type { ShapingEvent } from '../../model/performance';

/**
 * The events of a Standard MIDI File (MIDI 1.0; SMF 1.0, RP-001).
 * `tick` is always absolute, counted from the start of the track in the
 * file's own division. Channels are 0–15, keys and data values 0–127.
 */

export type TextKind =
  | 'text'
  | 'copyright'
  | 'trackName'
  | 'instrumentName'
  | 'lyric'
  | 'marker'
  | 'cuePoint'
  | 'programName'
  | 'deviceName'
  | 'textOther';

export type Encoding = 'utf-8' | 'latin-1' | 'shift-jis';

export type ChannelEvent =
  | { kind: 'noteOn'; tick: number; channel: number; key: number; velocity: number }
  | { kind: 'noteOff'; tick: number; channel: number; key: number; velocity: number; asNoteOn: boolean }
  | ShapingEvent;

export type MetaEvent =
  | { kind: TextKind; tick: number; type: number; bytes: Uint8Array }
  | { kind: 'sequenceNumber'; tick: number; number: number | null }
  | { kind: 'channelPrefix'; tick: number; channel: number }
  | { kind: 'port'; tick: number; port: number }
  | { kind: 'endOfTrack'; tick: number }
  | { kind: 'tempo'; tick: number; microsPerQuarter: number }
  | { kind: 'smpteOffset'; tick: number; bytes: Uint8Array }
  /** `denominator` is the written one (4, 8 …); `clocks` per click and `thirtySeconds` per quarter as in the file. */
  | {
      kind: 'timeSignature';
      tick: number;
      numerator: number;
      denominator: number;
      clocks: number;
      thirtySeconds: number;
    }
  /** `fifths` counts sharps (positive) or flats (negative). */
  | { kind: 'keySignature'; tick: number; fifths: number; minor: boolean }
  | { kind: 'sequencerSpecific'; tick: number; bytes: Uint8Array }
  | { kind: 'otherMeta'; tick: number; type: number; bytes: Uint8Array };

/** `sysex` holds the bytes after F0, `escape` those after F7; lengths are implied. */
export type SystemEvent =
  | { kind: 'sysex'; tick: number; bytes: Uint8Array }
  | { kind: 'escape'; tick: number; bytes: Uint8Array };

export type SmfEvent = ChannelEvent | MetaEvent | SystemEvent;

/** Ticks per quarter note, or SMPTE frames per second (24, 25, 29 for 29.97 drop, 30) and ticks per frame. */
export type Division =
  | { kind: 'quarter'; ticks: number }
  | { kind: 'smpte'; framesPerSecond: 24 | 25 | 29 | 30; ticksPerFrame: number };

/** How a file of events counts time, for people. */
export const spelledDivision = (division: Division): string =>
  division.kind === 'quarter'
    ? `${division.ticks} ticks a quarter note`
    : `${division.framesPerSecond} frames a second of ${division.ticksPerFrame} ticks`;

export interface SmfTrack {
  events: SmfEvent[];
}

/** A chunk that is neither header nor track, kept as it came; `before` is the index of the track that follows it. */
export interface OtherChunk {
  type: string;
  bytes: Uint8Array;
  before: number;
}

export interface Smf {
  format: 0 | 1 | 2;
  division: Division;
  tracks: SmfTrack[];
  otherChunks: OtherChunk[];
  mends: Mend[];
}

/** Meta types 1–15 are text; the first nine have names of their own. */
const TEXT_KINDS: readonly TextKind[] = [
  'text',
  'copyright',
  'trackName',
  'instrumentName',
  'lyric',
  'marker',
  'cuePoint',
  'programName',
  'deviceName',
];

/** The kind of a text meta event of `type` 1–15. */
export const textKind = (type: number): TextKind => TEXT_KINDS[type - 1] ?? 'textOther';

/** True for the events that carry text. */
export const isText = (event: SmfEvent): event is Extract<MetaEvent, { kind: TextKind }> =>
  event.kind === 'textOther' || (TEXT_KINDS as readonly string[]).includes(event.kind);
