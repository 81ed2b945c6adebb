import { lastAtOrBefore } from '../basics/search';
import type { Clef } from './clefs';
import type { Meter } from './clock';
import type { EventId, PartId } from './ids';
import type { ChordMark, Lyric, Mark, Spanner } from './marks';
import { type Interval, intervalFifths, type Pitch } from './pitch';
import type { Moment, NoteType, Span, Value } from './time';

/** A piece as it is written. All times are exact (see time.ts). */
export interface Score {
  title: string;
  composer?: string;
  copyright?: string;
  bars: Bar[];
  /** Concert key signatures, each from the start of a bar; the first at bar 0. */
  keys: KeySignature[];
  tempos: TempoMark[];
  /** Where eighths or 16ths are swung; absent for nowhere. */
  swings?: SwingMark[];
  /** The words for them stand among the marks of the parts already. */
  swingsSaid?: true;
  rehearsals: RehearsalMark[];
  /** Bars (`to` exclusive) that are read as one rest, where its parts are on paper by themselves. */
  multiRests?: { from: number; to: number }[];
  /** In score order. */
  parts: Part[];
  /** Brackets and braces over parts; by family where absent. */
  groups?: PartGroup[];
}

/** How parts that belong together are shown (MusicXML 4.0, `group-symbol-value`). */
export const GROUP_SYMBOLS = ['bracket', 'brace', 'line', 'square', 'none'] as const;
export type GroupSymbol = (typeof GROUP_SYMBOLS)[number];

/** Parts from one to another (indices, both included) that belong together. */
export interface PartGroup {
  from: number;
  to: number;
  symbol: GroupSymbol;
  /** Bar lines run through. */
  joined: boolean;
  name?: string;
}

export interface Bar {
  index: number;
  /** The printed number. */
  number: number;
  /** What is printed where that is no number, such as `12a`. */
  printed?: string;
  /** From the start of the piece. */
  start: Moment;
  length: Span;
  meter: Meter;
  /** Lengths of the meter's beats or groups, for a full bar. */
  groups: Span[];
  /** What an incomplete first bar lacks at its front; 0 otherwise. */
  missing: Span;
  /** How the meter is printed, where not as plain figures. */
  sign?: MeterSign;
  left?: Barline;
  right?: Barline;
  jumps?: Jump[];
}

/**
 * The groups over parts of which some are gone or elsewhere: a group goes from
 * the first to the last that is left of it; one of which a single part is left is none, unless it never had another.
 *
 * @param before the parts that the groups tell of
 * @param now the parts as they stand now
 */
export const regrouped = <T>(
  groups: readonly PartGroup[],
  before: readonly T[],
  now: readonly T[],
): PartGroup[] =>
  groups.flatMap((group) => {
    const left = before.slice(group.from, group.to + 1).flatMap((part) => {
      const at = now.indexOf(part);
      return at < 0 ? [] : [at];
    });
    const [from, to] = [Math.min(...left), Math.max(...left)];
    // What has moved in between does not belong to it.
    const isGroup = left.length > 1 || (left.length === 1 && group.from === group.to);
    return isGroup && to - from === left.length - 1 ? [{ ...group, from, to }] : [];
  });

/** C, cut C, beats that add up as 3+2, meters that take turns, or none at all. */
export type MeterSign =
  | { kind: 'common' | 'cut' | 'free' }
  | { kind: 'additive'; beats: number[] }
  | { kind: 'alternating'; meters: Meter[] };

/** A bar line that is more than a line; styles in MusicXML's words (`bar-style`). */
export interface Barline {
  style?: string;
  /** The music up to here, or from here, is played so many times. */
  repeat?: { direction: 'forward' | 'backward'; times?: number };
  ending?: { numbers: number[]; type: 'start' | 'stop' | 'discontinue'; text?: string };
}

/** Where the order of bars leaves or enters; `at` is from the start of the bar. */
export interface Jump {
  kind: 'segno' | 'coda' | 'fine' | 'to-coda' | 'da-capo' | 'dal-segno';
  at: Moment;
  text?: string;
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
  /** What is read before the figure, or without one. */
  text?: string;
  /** It is how long a fermata lasts, or goes on after one: that says it on paper. */
  byFermata?: true;
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

/** Written to sounding pitch, octaves included. */
export type Transposition = Interval;

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
  /** What stretches over notes and bars. */
  spanners?: Spanner[];
  /** Lines of each staff; five where absent. */
  lines?: number[];
  /** Tuning of a tablature staff: sounding MIDI keys from the lowest string. */
  tuning?: number[];
  /** What changes on the way; each holds from its moment on. */
  changes?: PartChange[];
  /** Of a score that was read: it is not as its document has it, and is written whole. */
  anew?: true;
}

/** A change of clef, key, transposition or instrument within a part. */
export type PartChange = { bar: number; at: Moment } & (
  | { kind: 'clef'; staff: number; clef: Clef }
  /** The part's own signature, written, where it is not the score's. */
  | { kind: 'key'; fifths: number; minor: boolean }
  | { kind: 'transposition'; transposition: Transposition }
  | { kind: 'instrument'; instrument: string }
);

/**
 * The clef that a staff has at a moment of a bar.
 * @param staff from 1 @param bar from 0
 */
export function clefAt({ clefs, changes = [] }: Part, staff: number, bar: number, at: Moment): Clef {
  let clef = clefs[staff - 1] ?? 'treble';
  for (const change of changes)
    if (
      change.kind === 'clef' &&
      change.staff === staff &&
      (change.bar < bar || (change.bar === bar && change.at <= at))
    )
      clef = change.clef;
  return clef;
}

/** `N` is what its notes are: those on their way to the page have no place on the staff yet. */
export interface PartBar<N = Note> {
  voices: VoiceLine<N>[];
  /** In order of their moments. */
  marks?: Mark[];
  /** Its notes are not printed: a sign says that the bar before comes again, or slashes count the beats. */
  shown?: 'repeat' | 'slashes';
}

/** The items of a voice fill its bar without gap or overlap. */
export interface VoiceLine<N = Note> {
  /** From 1 within its staff. */
  voice: number;
  /** From 1 within its part. */
  staff: number;
  items: Item<N>[];
}

export type Item<N = Note> = Chord<N> | Rest;

interface Timed {
  /** From the start of the bar. */
  onset: Moment;
  duration: Span;
  value: Value;
  tuplet?: Tuplet;
}

export interface Chord<N = Note> extends Timed {
  kind: 'chord';
  /** From low to high. */
  notes: N[];
  /** Single grace notes before the chord, in order. */
  graces?: N[];
  /** The same after it, at the end of its time. */
  gracesAfter?: N[];
  /** Small notes of another part, for orientation: they do not sound. */
  cue?: true;
  /** One for each beam level, from the eighth-note beam on. */
  beams?: Beam[];
  /** Its stem is not printed. */
  stemless?: true;
  lyrics?: Lyric[];
  marks?: ChordMark[];
}

export interface Rest extends Timed {
  kind: 'rest';
  wholeBar?: true;
  /** Time of its voice in which nothing is printed. */
  hidden?: true;
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
  /** It only reminds of what holds anyway. */
  courtesy?: true;
  head?: NoteHead;
  /** Its head stands in parentheses: struck far softer than the others. */
  ghost?: true;
  /** The staff that it stands on, where that is not its voice's. */
  staff?: number;
  /** It rings on: a tie to nothing. */
  ringsOn?: true;
  /** Where it is played on a fretted instrument; strings from 1, the highest. */
  string?: number;
  fret?: number;
  /** How a grace note is written, where not as usual: a single one slashed, several as 16ths. */
  graceSign?: { value: Value; slashed: boolean; inChord?: true; beams?: Beam[] };
  /** The source notes that became this one. */
  sources: EventId[];
}

/** A note in its value and voice, before it is spelled or put on a drum's line. */
export type UnplacedNote = Omit<Note, 'pitch'>;

/** The same bars with each note made into another. */
export const mapNotes = <A, B>(bars: readonly PartBar<A>[], make: (note: A) => B): PartBar<B>[] =>
  bars.map((bar) => ({
    ...bar,
    voices: bar.voices.map((line) => ({
      ...line,
      items: line.items.map((item): Item<B> => (item.kind === 'rest' ? item : mapChord(item, make))),
    })),
  }));

function mapChord<A, B>(chord: Chord<A>, make: (note: A) => B): Chord<B> {
  // Most have main notes alone. A copy without what is taken out would be far slower.
  if (!chord.graces && !chord.gracesAfter)
    return { ...(chord as Omit<Chord, 'graces' | 'gracesAfter' | 'notes'>), notes: chord.notes.map(make) };
  const { graces, gracesAfter, notes, ...others } = chord;
  return {
    ...others,
    ...(graces && { graces: graces.map(make) }),
    notes: notes.map(make),
    ...(gracesAfter && { gracesAfter: gracesAfter.map(make) }),
  };
}

/** Does something with each note of some bars, in the order of `mapNotes`. */
export function eachNote<A>(bars: readonly PartBar<A>[], take: (note: A) => void): void {
  for (const { voices } of bars)
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind === 'rest') continue;
        item.graces?.forEach(take);
        item.notes.forEach(take);
        item.gracesAfter?.forEach(take);
      }
}

export interface Tuplet {
  actual: number;
  normal: number;
  /** The plain value that is counted. */
  unit: NoteType;
  edge?: 'start' | 'stop';
  /** The tuplet of which it is a part. */
  within?: Tuplet;
}

/** A tuplet and those around it, from the innermost out. */
export function* tupletsFrom(innermost: Tuplet | undefined): Generator<Tuplet> {
  for (let each = innermost; each; each = each.within) yield each;
}

export type Beam = 'begin' | 'continue' | 'end' | 'forward hook' | 'backward hook';
/** In MusicXML's words (`accidental-value`, `notehead-value`), quarter tones and all. */
export type Accidental = string;
export type NoteHead = string;

/** Index of the bar in which a moment lies. */
export const barIndexOf = (bars: readonly Bar[], moment: Moment): number =>
  lastAtOrBefore(bars, moment, (bar) => bar.start);

/** The key signature that holds in a bar, in concert pitch. */
export function keyInBar(score: { keys: readonly KeySignature[] }, bar: number): KeySignature {
  let found = score.keys[0] ?? { bar: 0, fifths: 0, minor: false };
  for (const key of score.keys) if (key.bar <= bar) found = key;
  return found;
}

/** A signature as a part reads it, from its moment on. */
export interface WrittenKey {
  bar: number;
  at: Moment;
  fifths: number;
  minor: boolean;
  /** It is the part's, and not what the score's would be for it. */
  own: boolean;
}

/** The signatures that a part reads, in order: the score's as they are written for it, and its own. */
export function writtenKeys(
  { keys }: Pick<Score, 'keys'>,
  { transposition, changes = [] }: Pick<Part, 'transposition' | 'changes'>,
): WrittenKey[] {
  const own = changes.flatMap((change): WrittenKey[] =>
    change.kind === 'key'
      ? [{ bar: change.bar, at: change.at, fifths: change.fifths, minor: change.minor, own: true }]
      : [],
  );
  const shared = keys
    .filter(({ bar }) => !own.some((each) => each.bar === bar && each.at === 0))
    .map(
      ({ bar, fifths, minor }): WrittenKey => ({
        bar,
        at: 0,
        fifths: writtenFifths(fifths, transposition),
        minor,
        own: false,
      }),
    );
  return [...shared, ...own].sort((a, b) => a.bar - b.bar || a.at - b.at);
}

/** Fifths of the signature that a part reads; one that transposes has at most six sharps or flats. */
export function writtenFifths(fifths: number, transposition: Transposition): number {
  const shift = -intervalFifths(transposition);
  return shift === 0 ? fifths : withinSix(fifths + shift);
}

/** The same key, or the one that sounds like it, with at most six sharps or flats. */
export const withinSix = (fifths: number): number =>
  fifths > 6 ? fifths - 12 : fifths < -6 ? fifths + 12 : fifths;
