import type { Pitch } from './pitch';
import type { Moment, Value } from './time';

/** What stands at a moment of a bar of a part, in the words of MusicXML 4.0 where it has them. */
export type Mark = { at: Moment; staff?: number; placement?: Placement } & (
  | { kind: 'dynamic'; dynamic: string }
  | { kind: 'words'; text: string }
  | { kind: 'tempo'; tempo: TempoText }
  | { kind: 'rehearsal'; text: string }
  | { kind: 'chord-symbol'; symbol: ChordSymbol }
  | { kind: 'figured-bass'; figures: Figure[] }
);

export type Placement = 'above' | 'below';

/** A tempo as it is read; `quartersPerMinute` is how it sounds, where that is known. */
export interface TempoText {
  text?: string;
  /** A note value and its figure, or two values of which one becomes the other. */
  metronome?: { value: Value; perMinute: string } | { value: Value; equals: Value };
  quartersPerMinute?: number;
}

/** A root, a kind in MusicXML's words (`kind-value`), what is added or altered, and the bass. */
export interface ChordSymbol {
  root: Root;
  kind: string;
  /** How the kind is printed, where that is not as usual. */
  text?: string;
  degrees?: { value: number; alter: number; type: 'add' | 'alter' | 'subtract' }[];
  bass?: Root;
}

export type Root = Pick<Pitch, 'step' | 'alter'>;

/** One figure over a bass note: sharps and the like before and after it in MusicXML's words. */
export interface Figure {
  number?: string;
  prefix?: string;
  suffix?: string;
}

/** What stands at a chord, in the words of MusicXML 4.0. */
export type ChordMark =
  | { kind: 'articulation'; name: Articulation }
  | { kind: 'ornament'; name: Ornament; accidentals?: { name: string; placement: Placement }[] }
  /** Strokes across the stem; between two chords they begin at one and end at the other. */
  | { kind: 'tremolo'; strokes: number; between?: 'start' | 'stop' }
  /** What the player's hands do, with its text where it has one: a fingering, a string. */
  | { kind: 'technique'; name: Technique; text?: string }
  | { kind: 'fermata'; shape: 'normal' | 'angled' | 'square'; inverted?: true }
  | { kind: 'breath' | 'caesura' }
  | { kind: 'arpeggio'; direction?: 'up' | 'down' };

export const ARTICULATIONS = [
  'accent',
  'strong-accent',
  'staccato',
  'tenuto',
  'detached-legato',
  'staccatissimo',
  'spiccato',
  'scoop',
  'plop',
  'doit',
  'falloff',
  'stress',
  'unstress',
  'soft-accent',
] as const;
export type Articulation = (typeof ARTICULATIONS)[number];

export const ORNAMENTS = [
  'trill-mark',
  'turn',
  'delayed-turn',
  'inverted-turn',
  'delayed-inverted-turn',
  'vertical-turn',
  'shake',
  'mordent',
  'inverted-mordent',
  'schleifer',
  'haydn',
] as const;
export type Ornament = (typeof ORNAMENTS)[number];

export const TECHNIQUES = [
  'up-bow',
  'down-bow',
  'harmonic',
  'open-string',
  'thumb-position',
  'fingering',
  'pluck',
  'double-tongue',
  'triple-tongue',
  'stopped',
  'snap-pizzicato',
  'tap',
  'heel',
  'toe',
  'fingernails',
  'brass-bend',
  'flip',
  'smear',
  'open',
  'golpe',
] as const;
export type Technique = (typeof TECHNIQUES)[number];

export interface Lyric {
  /** From 1; the first where absent. */
  verse?: number;
  text: string;
  syllabic: 'single' | 'begin' | 'middle' | 'end';
  /** A second syllable on the same note. */
  elided?: string;
  /** A line goes on under the notes that follow. */
  extends?: true;
}

/** What stretches from one place to another. */
export type Spanner = { id: string; from: Anchor; to: Anchor; placement?: Placement } & (
  | { kind: 'slur' }
  | { kind: 'glissando' | 'slide'; text?: string; line: 'solid' | 'dashed' | 'dotted' | 'wavy' }
  | { kind: 'wavy-line' }
  | { kind: 'wedge'; opens: boolean; niente?: true }
  /** Written so many octaves lower than it sounds; negative for higher. */
  | { kind: 'octave'; octaves: 1 | 2 | -1 | -2 }
  | { kind: 'pedal'; line: boolean }
  | { kind: 'bracket'; end: 'up' | 'down' | 'none'; line: 'solid' | 'dashed' }
  | { kind: 'dashes' }
);

/**
 * Velocity of each dynamic, 1–127: even steps from ppp to fff about mf = 80
 * (common practice of sequencers; MIDI 1.0 gives no values).
 */
export const VELOCITIES: Readonly<Record<string, number>> = {
  pppppp: 6,
  ppppp: 8,
  pppp: 10,
  ppp: 20,
  pp: 35,
  p: 50,
  mp: 65,
  mf: 80,
  f: 95,
  ff: 110,
  fff: 122,
  ffff: 125,
  fffff: 126,
  ffffff: 127,
};

/** An end of a spanner: a note, or a moment of a bar. */
export type Anchor = { note: string } | { bar: number; at: Moment; staff?: number };
