import type { ScoreFormat } from './score';

/** What goes into a packet. */
export interface PacketChoice {
  format: ScoreFormat;
  score: boolean;
  /** Each part as a file of its own. */
  parts: boolean;
  midiPlayed: boolean;
  midiWritten: boolean;
  bars: boolean;
  proof: boolean;
  brief: boolean;
}

/** Everything, as it is first offered. */
export const WHOLE_PACKET: PacketChoice = {
  format: 'musicxml',
  score: true,
  parts: true,
  midiPlayed: true,
  midiWritten: true,
  bars: true,
  proof: true,
  brief: true,
};
