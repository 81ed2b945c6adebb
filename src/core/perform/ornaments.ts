import type { ChordMark, Ornament } from '../model/marks';
import { keyAlter, type Pitch, pitchKey, STEPS } from '../model/pitch';
import type { Note } from '../model/score';
import { QUARTER, type Span } from '../model/time';

/** One stroke of a note that is played out: from and to within its time, and its sounding key. */
export interface Stroke {
  from: Span;
  to: Span;
  key: number;
}

/** Ornaments go in 32nds where there is room, else in equal parts (common practice of textbooks). */
const QUICK = QUARTER / 8;
/** A trill has at least this many strokes. */
const FEWEST = 3;

const PLAYED: ReadonlySet<Ornament> = new Set([
  'trill-mark',
  'turn',
  'inverted-turn',
  'delayed-turn',
  'delayed-inverted-turn',
  'mordent',
  'inverted-mordent',
  'shake',
]);

/** The ornament of a chord that is played out, if it has one. */
export const ornamentOf = (marks: readonly ChordMark[] | undefined): OrnamentMark | undefined =>
  marks?.find((mark): mark is OrnamentMark => mark.kind === 'ornament' && PLAYED.has(mark.name));

type OrnamentMark = Extract<ChordMark, { kind: 'ornament' }>;

/**
 * A note with its ornament (realisations: common practice since the 19th
 * century, as in textbooks of notation; neighbours are those of the written
 * key, unless an accidental by the sign says otherwise): a trill from its main
 * note upwards, a mordent down and an inverted one up once, a turn around its
 * note, a delayed one in its second half.
 *
 * @param length of the note
 * @param fifths of the signature as written
 */
export function ornamented(note: Note, mark: OrnamentMark, length: Span, fifths: number): Stroke[] {
  const accidental = (placement: 'above' | 'below') =>
    mark.accidentals?.find((each) => each.placement === placement)?.name;
  const main = note.key;
  const upper = main + interval(note.pitch, 1, fifths, accidental('above'));
  const lower = main + interval(note.pitch, -1, fifths, accidental('below'));
  switch (mark.name) {
    case 'trill-mark':
    case 'shake': {
      // An odd number of strokes ends on the main note.
      const count = Math.max(FEWEST, 2 * Math.floor(length / QUICK / 2) - 1);
      return inParts(
        Array.from({ length: count }, (_, index) => (index % 2 === 0 ? main : upper)),
        0,
        length,
      );
    }
    case 'mordent':
      return quickly([main, lower, main], 0, length);
    case 'inverted-mordent':
      return quickly([main, upper, main], 0, length);
    case 'turn':
      return quickly([upper, main, lower, main], 0, length);
    case 'inverted-turn':
      return quickly([lower, main, upper, main], 0, length);
    default: {
      const half = length / 2;
      const around = mark.name === 'delayed-turn' ? [upper, main, lower, main] : [lower, main, upper, main];
      return [{ from: 0, to: half, key: main }, ...inParts(around, half, length)];
    }
  }
}

/** Semitones to the neighbour on the staff. */
function interval(pitch: Pitch, by: 1 | -1, fifths: number, accidental: string | undefined): number {
  const index = STEPS.indexOf(pitch.step) + by;
  const step = STEPS[(index + 7) % 7]!;
  const octave = pitch.octave + Math.floor(index / 7);
  const alter = ALTERS[accidental ?? ''] ?? keyAlter(fifths, step);
  return pitchKey({ step, octave, alter }) - pitchKey(pitch);
}

const ALTERS: Record<string, number> = { sharp: 1, flat: -1, natural: 0, 'double-sharp': 2, 'flat-flat': -2 };

/** All but the last quick, the last for what is left. */
function quickly(keys: readonly number[], from: Span, to: Span): Stroke[] {
  const step = Math.min(QUICK, (to - from) / keys.length);
  return keys.map((key, index) => ({
    from: from + index * step,
    to: index === keys.length - 1 ? to : from + (index + 1) * step,
    key,
  }));
}

const inParts = (keys: readonly number[], from: Span, to: Span): Stroke[] =>
  keys.map((key, index) => ({
    from: from + ((to - from) * index) / keys.length,
    to: from + ((to - from) * (index + 1)) / keys.length,
    key,
  }));
