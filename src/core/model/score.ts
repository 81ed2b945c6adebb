import { lastAtOrBefore } from '../basics/search';
import type { Meter } from './clock';
import type { EventId, PartId } from './ids';
import type { Pitch } from './pitch';
import type { Moment, NoteType, Span, Value } from './time';

/** The read reading of a piece. All times are exact (see time.ts). */
export interface Score {
  title: string;
  bars: Bar[];
  /** Concert key signatures, each from the start of a bar; the first at bar 0. */
  keys: KeySignature[];
  tempos: TempoMark[];
  /** Where eighths or 16ths are swung; absent for nowhere. */
  swings?: SwingMark[];
  rehearsals: RehearsalMark[];
  /** In score order. */
  parts: Part[];
}

export interface Bar {
  index: number;
  /** The printed number. */
  number: number;
  /** From the start of the piece. */
  start: Moment;
  length: Span;
  meter: Meter;
  /** Lengths of the meter's beats or groups, for a full bar. */
  groups: Span[];
  /** What an incomplete first bar lacks at its front; 0 otherwise. */
  missing: Span;
}

export interface KeySignature {
  bar: number;
  fifths: number;
  minor: boolean;
}

export interface TempoMark {
  bar: number;
  /** From the start of the bar. */
  at: Moment;
  quartersPerMinute: number;
  /** The figure that is read, in quarters a minute; null for the steps of a gradual change, which sound only. */
  printed: number | null;
}

/** Bars (indices, `to` exclusive) that are written straight and played swung. */
export interface SwingMark {
  from: number;
  to: number;
  /** What comes in pairs of long and short. */
  value: SwungValue;
  /** Where in its pair the second one sounds: 2/3 as in triplets. */
  ratio: number;
}

/** The values that swing, as MusicXML names them (its `swing-type-value`). */
export const SWUNG_VALUES = ['eighth', '16th'] as const;
export type SwungValue = (typeof SWUNG_VALUES)[number];

export interface RehearsalMark {
  bar: number;
  text: string;
}

export type Clef = 'treble' | 'treble8vb' | 'alto' | 'tenor' | 'bass' | 'percussion';

/** Written to sounding pitch, in whole steps of the scale and semitones, octaves included. */
export interface Transposition {
  diatonic: number;
  chromatic: number;
}

export interface Part {
  id: PartId;
  name: string;
  abbreviation: string;
  /** Catalogue id of the instrument. */
  instrument: string;
  transposition: Transposition;
  /** One clef a staff, from the top. */
  clefs: Clef[];
  /** As many as the score has. */
  bars: PartBar[];
}

export interface PartBar {
  voices: VoiceLine[];
  chordSymbols?: ChordSymbol[];
}

/** The items of a voice fill its bar without gap or overlap. */
export interface VoiceLine {
  /** From 1 within its staff. */
  voice: number;
  /** From 1 within its part. */
  staff: number;
  items: Item[];
}

export type Item = Chord | Rest;

interface Timed {
  /** From the start of the bar. */
  onset: Moment;
  duration: Span;
  value: Value;
  tuplet?: Tuplet;
}

export interface Chord extends Timed {
  kind: 'chord';
  /** From low to high. */
  notes: Note[];
  /** Single grace notes before the chord, in order. */
  graces?: Note[];
  /** One for each beam level, from the eighth-note beam on. */
  beams?: Beam[];
  lyric?: Lyric;
  articulations?: Articulation[];
  fermata?: true;
  /** A slur begins, or ends, here. */
  slurStart?: true;
  slurStop?: true;
}

export interface Rest extends Timed {
  kind: 'rest';
  wholeBar?: true;
}

export interface Note {
  /** Unique in the score and a valid XML ID. */
  id: string;
  /** Sounding MIDI key; for unpitched percussion the General MIDI key. */
  key: number;
  /** As written; for unpitched percussion the place on the staff. */
  pitch: Pitch;
  tieStart?: true;
  tieStop?: true;
  /** The accidental that stands before the note, if one does. */
  accidental?: Accidental;
  head?: NoteHead;
  /** The source notes that became this one. */
  sources: EventId[];
}

export interface Tuplet {
  actual: number;
  normal: number;
  /** The plain value that is counted. */
  unit: NoteType;
  edge?: 'start' | 'stop';
}

export type Beam = 'begin' | 'continue' | 'end' | 'forward hook' | 'backward hook';
export type Accidental = 'sharp' | 'flat' | 'natural' | 'double-sharp' | 'flat-flat';
export type NoteHead = 'normal' | 'x' | 'diamond';
export type Articulation = 'staccato' | 'accent' | 'tenuto';

export interface Lyric {
  text: string;
  syllabic: 'single' | 'begin' | 'middle' | 'end';
}

export interface ChordSymbol {
  at: Moment;
  root: Pick<Pitch, 'step' | 'alter'>;
  kind:
    | 'major'
    | 'minor'
    | 'dominant'
    | 'major-seventh'
    | 'minor-seventh'
    | 'suspended-fourth'
    | 'half-diminished';
}

/** Index of the bar in which a moment lies. */
export const barIndexOf = (bars: readonly Bar[], moment: Moment): number =>
  lastAtOrBefore(bars, moment, (bar) => bar.start);

/** The key signature that holds in a bar, in concert pitch. */
export function keyInBar(score: { keys: readonly KeySignature[] }, bar: number): KeySignature {
  let found = score.keys[0] ?? { bar: 0, fifths: 0, minor: false };
  for (const key of score.keys) if (key.bar <= bar) found = key;
  return found;
}

/** Fifths of the signature that a transposing part reads, kept within six sharps or flats. */
export function writtenFifths(fifths: number, transposition: Transposition): number {
  // A written interval of (−diatonic, −chromatic) lies this far along the line of fifths.
  const shift = -(7 * transposition.chromatic - 12 * transposition.diatonic);
  const written = fifths + shift;
  return written > 6 ? written - 12 : written < -6 ? written + 12 : written;
}
