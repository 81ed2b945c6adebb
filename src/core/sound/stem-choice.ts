import { fileNames } from '../basics/file-names';
import type { StrandId } from '../model/ids';
import type { Timeline } from './events';
import { heardAt } from './holds';
import type { SoundForm } from './sound-file';

/** A sound of its own: its name, and the strands that are heard in it. */
export interface Stem {
  name: string;
  strands: readonly StrandId[];
}

/** What of a piece is rendered, and how. */
export interface StemsChoice extends SoundForm {
  /** Bars before the piece, and a click of its own, as the MIDI file has them. */
  leadInBars: number;
  click: boolean;
}

/** What became of it. */
export interface StemsMade {
  /** Names of the files in their order. */
  names: string[];
  /** Of each of them. */
  frames: number;
  /** By how many decibels all are turned down together, so that none is beyond full scale; 0 for not at all. */
  turnedDown: number;
  /** Of the sum of all, in decibels below full scale; −Infinity for silence. */
  peak: number;
}

/** Names of the files that were made, numbered in the order of the score where they are several. */
export const fileNamesOf = ({ names }: StemsMade, { format }: SoundForm): string[] =>
  (names.length === 1 ? names : fileNames(names)).map((name) => `${name}.${format}`);

/** So long is a stem's file without compression; bytes, of both ears. */
export const bytesOfStem = ({ rate, bits }: SoundForm, seconds: number): number =>
  Math.ceil(seconds * rate) * 2 * (bits / 8);

/** Seconds of silence before the piece: so many bars of its first meter at its first tempo. */
export const leadInSeconds = ({ opening }: Timeline, bars: number): number => bars * opening.length;

/** When the last note of a piece ends, the bars before it counted. Seconds. */
export const endOfSound = (timeline: Timeline, bars: number): number =>
  leadInSeconds(timeline, bars) + heardAt(timeline.holds, timeline.end);
