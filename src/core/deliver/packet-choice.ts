import type { ScoreFormat } from './score';
import type { Rate } from './smpte';

/** What goes into a packet. */
export interface PacketChoice {
  format: ScoreFormat;
  score: boolean;
  /** Each part as a file of its own. */
  parts: boolean;
  /** The score, and each part, as pages. */
  scorePdf: boolean;
  partsPdf: boolean;
  midiPlayed: boolean;
  midiWritten: boolean;
  bars: boolean;
  /** Frames a second of the bar table, and the time code at which the piece starts. */
  rate: Rate;
  start: string;
  proof: boolean;
  brief: boolean;
  /** The recording that is laid along the piece, where there is one. */
  recording: boolean;
  /** Sound files of parts that lie beside the job, as they came. */
  stems: boolean;
  /** The cleaned performance through the sound bank. */
  rendered: boolean;
}

/** What whoever asks for a packet has made for it: pages and sound. */
export interface PacketExtra {
  kind: 'score-pdf' | 'part-pdf' | 'recording' | 'stem' | 'rendered';
  /** Of a part and its stem as they are numbered, of a recording as it came. */
  name: string;
  bytes: Uint8Array;
}

/** Everything, as it is first offered. */
export const WHOLE_PACKET: PacketChoice = {
  format: 'musicxml',
  score: true,
  parts: true,
  scorePdf: true,
  partsPdf: true,
  midiPlayed: true,
  midiWritten: true,
  bars: true,
  rate: '25',
  start: '00:00:00:00',
  proof: true,
  brief: true,
  recording: true,
  stems: false,
  rendered: false,
};
