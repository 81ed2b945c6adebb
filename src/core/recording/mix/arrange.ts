import { chordText } from '../../model/chord-text';
import { kindTones } from '../../model/chord-tones';
import { pitchAt } from '../../model/pitch';
import type { HearingSettings, MixGrade, TakenNote } from '../heard';
import { take } from '../heard';
import type { Mix, MixChord } from '.';

/** A line of what is made of a mix. */
export interface MadeLine {
  name: string;
  /** From 1; each line has the same in whatever is made. */
  track: number;
  /** General MIDI. */
  program: number;
  /** In order of beginning; `index` tells them apart within the line. */
  notes: TakenNote[];
}

/** What is made of a mix: its lines, and the names of its chords. Seconds. */
export interface Made {
  lines: MadeLine[];
  symbols: { at: number; text: string }[];
}

/** Each line has a track of its own, whatever is made. */
const TRACKS = { tune: 1, bass: 2, chords: 3, left: 4 } as const;
/** Programs of General MIDI, from 0. */
const PIANO = 0;
const ELECTRIC_PIANO = 4;
const FINGERED_BASS = 33;
const VOICE = 53;
/** How loud what is made of chords is. */
const SOFT = 64;
/** No two chords have as many notes, nor two beats. */
const NOTES = 16;
/** Keys about which chords lie, and from which on the left hand has its lowest note. */
const CHORDS_ABOUT = 62;
const LEFT_FROM = 36;
/** A hand spans so many semitones: a ninth (common practice). */
const SPAN = 14;

/**
 * A lead sheet, with its bass or without, all lines of a band, or a version for piano, of what was heard in a mix.
 * Tune and bass are those that were heard; chords are laid out as they are named, beat by beat.
 */
export function arranged(mix: Mix, settings: HearingSettings): Made {
  const { form = 'lead-sheet', grade = 2, threshold } = settings;
  const own = { ...settings, rules: [] };
  const tune = take(mix.tune, own).notes;
  const chords = withinOf(mix.chords, settings).filter(({ confidence }) => confidence >= threshold);
  const symbols = chords.map((chord) => ({ at: chord.on, text: nameOf(chord, fifthsOf(mix.chords)) }));
  const line = (name: string, track: number, program: number, notes: TakenNote[]): MadeLine => ({
    name,
    track,
    program,
    notes,
  });
  const melody = line('Tune', TRACKS.tune, VOICE, tune);
  const bass = () => line('Bass', TRACKS.bass, FINGERED_BASS, take(mix.bass, own).notes);
  const made = (): MadeLine[] => {
    switch (form) {
      case 'lead-sheet':
        return [melody];
      case 'with-bass':
        return [melody, bass()];
      case 'piano':
        return [
          { ...melody, name: 'Piano RH', program: PIANO },
          line('Piano LH', TRACKS.left, PIANO, leftHand(mix, chords, grade)),
        ];
      case 'band':
        return [melody, line('Chords', TRACKS.chords, ELECTRIC_PIANO, block(mix, chords)), bass()];
    }
  };
  return { lines: made().filter(({ notes }) => notes.length > 0), symbols };
}

const withinOf = (chords: readonly MixChord[], { from, to }: HearingSettings): MixChord[] =>
  chords.filter(({ on, off }) => off > (from ?? 0) && on < (to ?? Number.POSITIVE_INFINITY));

const made = (on: number, off: number, key: number, index: number, confidence: number): TakenNote => ({
  on,
  off,
  key,
  velocity: SOFT,
  cents: 0,
  says: 0,
  index,
  confidence,
});

/** The beats of a chord, each with its place in the bar; a chord between beats has its own beginning for one. */
function beatsWithin({ beats, perBar, first }: Mix, { on, off }: MixChord) {
  return beats.flatMap((at, index) =>
    at >= on - 0.001 && at < off - 0.001
      ? [
          {
            index,
            on: at,
            off: Math.min(off, beats[index + 1] ?? off),
            place: (((index - first) % perBar) + perBar) % perBar,
          },
        ]
      : [],
  );
}

/** Chords in close position, struck where they change and at each bar line, each near the one before. */
function block(mix: Mix, chords: readonly MixChord[]): TakenNote[] {
  let about = CHORDS_ABOUT;
  return chords.flatMap((chord) => {
    const keys = nearest(chord, about);
    about = (keys.reduce((sum, key) => sum + key, 0) / keys.length + CHORDS_ABOUT) / 2;
    const strokes = beatsWithin(mix, chord).filter(({ place }, at) => at === 0 || place === 0);
    return strokes.flatMap(({ on, index }, at) =>
      keys.map((key, voice) =>
        made(on, strokes[at + 1]?.on ?? chord.off, key, NOTES * index + voice, chord.confidence),
      ),
    );
  });
}

/** The inversion of a chord whose middle is nearest a key. */
function nearest({ root, kind }: MixChord, about: number): number[] {
  const tones = kindTones(kind);
  const ways = tones.flatMap((_, inversion) =>
    [-12, 0, 12].map((octave) =>
      tones
        .map((tone, at) => 60 + octave + ((root + 8) % 12) - 8 + tone + (at < inversion ? 12 : 0))
        .sort((a, b) => a - b),
    ),
  );
  const away = (keys: number[]) => Math.abs(keys.reduce((sum, key) => sum + key, 0) / keys.length - about);
  return ways.reduce((best, way) => (away(way) < away(best) ? way : best));
}

/**
 * A left hand: the root alone in each bar; the root with what tells the chord; or the root and, on the beats between,
 * the chord above it. No stretch is wider than a hand.
 */
function leftHand(mix: Mix, chords: readonly MixChord[], grade: MixGrade): TakenNote[] {
  return chords.flatMap((chord) => {
    const tones = kindTones(chord.kind);
    const low = LEFT_FROM + ((chord.root - LEFT_FROM + 120) % 12);
    const above = tones.slice(1).map((tone) => low + tone);
    const beats = beatsWithin(mix, chord);
    const strokes = beats.filter(({ place }, at) => at === 0 || place === 0);
    const until = (at: number) => strokes[at + 1]?.on ?? chord.off;
    const put = (on: number, off: number, keys: readonly number[], beat: number) =>
      keys
        .filter((key) => key - keys[0]! <= SPAN)
        .map((key, voice) => made(on, off, key, NOTES * beat + voice, chord.confidence));
    if (grade === 1) return strokes.flatMap(({ on, index }, at) => put(on, until(at), [low], index));
    // A tenth is out of reach of many: the fifth and the seventh tell enough, the third sounds higher.
    if (grade === 2)
      return strokes.flatMap(({ on, index }, at) => put(on, until(at), [low, ...above.slice(1)], index));
    return beats.flatMap(({ on, off, index, place }, at) =>
      at === 0 || place === 0 || (mix.perBar === 4 && place === 2)
        ? put(on, off, [low], index)
        : put(
            on,
            off,
            above.map((key) => (key < low + 9 ? key + 12 : key)).sort((a, b) => a - b),
            index,
          ),
    );
  });
}

const SCALE = [0, 2, 4, 5, 7, 9, 11];

/** The signature in which most of the chords' tones lie, as fifths; the nearest to none of those. */
export function fifthsOf(chords: readonly MixChord[]): number {
  const weights = new Float64Array(12);
  for (const { on, off, root, kind } of chords)
    for (const tone of kindTones(kind)) weights[(root + tone) % 12]! += off - on;
  const inside = (fifths: number) =>
    SCALE.reduce((sum, step) => sum + weights[(((step + 7 * fifths) % 12) + 12) % 12]!, 0);
  return [0, -1, 1, -2, 2, -3, 3, -4, 4, -5, 5, 6].reduce((best, fifths) =>
    inside(fifths) > inside(best) + 1e-9 ? fifths : best,
  );
}

/** A chord as it is read: its root spelled as the twelve neighbours of the signature are. */
function nameOf({ root, kind }: MixChord, fifths: number): string {
  const lowest = fifths - 4;
  const place = lowest + ((((root * 7 - lowest) % 12) + 12) % 12);
  return chordText({ root: pitchAt(place, 60 + root), kind });
}
