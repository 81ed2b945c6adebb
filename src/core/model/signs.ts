import type { Articulation, Ornament, Technique } from './marks';

/** Signs at a note or chord that people put by hand, as MusicXML 4.0 names them. */
export const ARTICULATION_SIGNS = [
  'accent',
  'strong-accent',
  'staccato',
  'staccatissimo',
  'tenuto',
  'detached-legato',
  'scoop',
  'plop',
  'doit',
  'falloff',
] as const satisfies readonly Articulation[];

export const ORNAMENT_SIGNS = [
  'trill-mark',
  'turn',
  'inverted-turn',
  'mordent',
  'inverted-mordent',
] as const satisfies readonly Ornament[];

export const TECHNIQUE_SIGNS = [
  'up-bow',
  'down-bow',
  'harmonic',
  'open-string',
  'stopped',
  'snap-pizzicato',
] as const satisfies readonly Technique[];

/** Other signs at a chord. */
export const CHORD_SIGNS = ['fermata', 'breath', 'caesura', 'arpeggio'] as const;

/** Signs that say something in their own words: a dynamic, a text over the staff, a syllable. */
export const WORDED_SIGNS = ['dynamic', 'words', 'lyric'] as const;

/** Signs that go from one note to another. */
export const SPANNING_SIGNS = ['slur', 'crescendo', 'diminuendo', 'glissando', 'slide'] as const;

/** How the note itself is written: its accidental shown, its beam joined to the one before, ringing on. */
export const NOTE_SIGNS = ['accidental', 'beam', 'ring', 'ghost'] as const;

export const SIGNS = [
  ...ARTICULATION_SIGNS,
  ...ORNAMENT_SIGNS,
  ...TECHNIQUE_SIGNS,
  ...CHORD_SIGNS,
  ...WORDED_SIGNS,
  ...SPANNING_SIGNS,
  ...NOTE_SIGNS,
] as const;

export type Sign = (typeof SIGNS)[number];
export type SpanningSign = (typeof SPANNING_SIGNS)[number];

const isOneOf =
  <T extends Sign>(names: readonly T[]) =>
  (sign: Sign): sign is T =>
    (names as readonly Sign[]).includes(sign);

export const isArticulation = isOneOf(ARTICULATION_SIGNS);
export const isOrnament = isOneOf(ORNAMENT_SIGNS);
export const isTechnique = isOneOf(TECHNIQUE_SIGNS);
export const isWorded = isOneOf(WORDED_SIGNS);
export const isSpanning = isOneOf(SPANNING_SIGNS);

/** Dynamics that people put by hand (MusicXML 4.0, `dynamics`). */
export const DYNAMIC_SIGNS = [
  'pppp',
  'ppp',
  'pp',
  'p',
  'mp',
  'mf',
  'f',
  'ff',
  'fff',
  'ffff',
  'fp',
  'pf',
  'sf',
  'sfp',
  'sfpp',
  'sffz',
  'sfz',
  'fz',
  'rf',
  'rfz',
  'n',
] as const;

const NAMES: Partial<Record<Sign, string>> = {
  'strong-accent': 'strong accent',
  'detached-legato': 'portato',
  falloff: 'fall',
  'trill-mark': 'trill',
  'inverted-turn': 'inverted turn',
  'inverted-mordent': 'inverted mordent',
  'up-bow': 'up-bow',
  'down-bow': 'down-bow',
  'open-string': 'open string',
  'snap-pizzicato': 'snap pizzicato',
  breath: 'breath mark',
  words: 'text',
  lyric: 'syllable',
  ring: 'ringing on',
  ghost: 'ghost note',
};

/** What people call a sign. */
export const signName = (sign: Sign): string => NAMES[sign] ?? sign;
