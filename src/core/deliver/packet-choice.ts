import type { ScoreFormat } from './score';

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
  proof: boolean;
  brief: boolean;
  /** The recording that is laid along the piece, where there is one. */
  recording: boolean;
  /** The cleaned performance through the sound bank. */
  rendered: boolean;
}

/** What whoever asks for a packet has made for it: pages and sound. */
export interface PacketExtra {
  kind: 'score-pdf' | 'part-pdf' | 'recording' | 'rendered';
  /** Of a part as it is numbered, of a recording as it came. */
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
  proof: true,
  brief: true,
  recording: true,
  rendered: false,
};
