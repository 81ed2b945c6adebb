import { instrumentOf } from '../instruments/catalogue';
import type { Clef } from '../model/clefs';
import type { PartId } from '../model/ids';
import type { ChordMark, Mark, Root } from '../model/marks';
import { diatonicHeight, type Interval, intervalFifths, movedBy, nameOfAlter, STEPS } from '../model/pitch';
import {
  type Chord,
  type Note,
  type Part,
  type PartBar,
  type PartChange,
  type Score,
  type Transposition,
  type WrittenKey,
  withinSix,
  writtenFifths,
  writtenKeys,
} from '../model/score';
import type { Moment } from '../model/time';
import { showAccidentals } from './accidentals';
import { clefOf } from './clefs';

/** What is to become of a part. */
export interface Transposing {
  /** What it transposes by from now on, made of what it did so far; as before where absent. */
  to?: (from: Transposition) => Transposition;
  /** How much higher it sounds. */
  by?: Interval;
  /** Clefs that its reader reads, a list a staff, the usual one first; any where absent. */
  clefs?: readonly (readonly Clef[])[];
}

const UNISON: Interval = { diatonic: 0, chromatic: 0 };

/** Staves are no place for notes below C0 or above B9 (MusicXML 4.0, `octave`). */
const HIGHEST_OCTAVE = 9;

/** Music from a moment on, until the next stretch. */
interface Stretch {
  bar: number;
  at: Moment;
  to: Transposition;
  /** How much higher it is written. */
  written: Interval;
  fifths: number;
  minor: boolean;
  /** The document has a signature here. */
  isSigned: boolean;
  /** Without a signature by custom: accidentals stand by each note. */
  isOpen: boolean;
}

/**
 * A score with parts written for other transpositions, or sounding higher or
 * lower: notes, signatures, chord symbols and accidentals of ornaments go
 * along, all by one written interval as long as one signature holds, so that
 * what had an accidental has one, and nothing else. A signature of more than
 * six sharps or flats becomes the one that sounds like it; music that is
 * written without signatures stays so.
 *
 * @returns the score, and the parts that stay as they are because notes would leave the range of notation
 */
export function transposeScore(
  score: Score,
  wanted: ReadonlyMap<PartId, Transposing>,
): { score: Score; impossible: Part[] } {
  const pitched = score.parts.filter((part) => !isUnpitchedPart(part));
  const steps = new Set(pitched.map(({ id }) => stepOf(wanted.get(id)?.by)));
  const common = steps.size === 1 ? (wanted.get(pitched[0]!.id)?.by ?? UNISON) : UNISON;
  // Where all sound higher, the key of the piece is a higher one.
  const shift = intervalFifths(common);
  const keys =
    shift === 0 ? score.keys : score.keys.map((key) => ({ ...key, fifths: withinSix(key.fifths + shift) }));
  const impossible: Part[] = [];
  const open = isOpenScore(score);
  const parts = score.parts.map((part) => {
    const transposing = wanted.get(part.id) ?? {};
    const isTouched = transposing.to || transposing.by || keys !== score.keys;
    if (!isTouched || isUnpitchedPart(part)) return part;
    const moved = transposePart({ before: score, keys }, part, transposing, open);
    if (!moved) impossible.push(part);
    return moved ?? part;
  });
  return { score: { ...score, keys, parts }, impossible };
}

const stepOf = ({ diatonic, chromatic }: Interval = UNISON): string => `${diatonic} ${chromatic}`;

const isUnpitchedPart = ({ instrument }: Part): boolean => instrumentOf(instrument).unpitched;

const add = (...all: readonly Interval[]): Interval => ({
  diatonic: all.reduce((sum, { diatonic }) => sum + diatonic, 0),
  chromatic: all.reduce((sum, { chromatic }) => sum + chromatic, 0),
});
const negative = ({ diatonic, chromatic }: Interval): Interval => ({
  diatonic: -diatonic,
  chromatic: -chromatic,
});

/** Whether a part has no signature where the score's would give it one, as horns by old custom. */
const isUnsigned = ({ keys }: Pick<Score, 'keys'>, part: Part): boolean => {
  const [opening] = writtenKeys({ keys }, part);
  return opening?.own === true && opening.fifths === 0;
};

/** Music without signatures: no transposing part has the one that it should. */
function isOpenScore(score: Score): boolean {
  if (score.keys.some(({ fifths }) => fifths !== 0)) return false;
  const transposing = score.parts.filter((part) => intervalFifths(part.transposition) !== 0);
  return transposing.length > 0 && transposing.every((part) => isUnsigned(score, part));
}

/** Whether a part is written with the signatures of its score: not by old custom without any, and not of drums. */
export const readsSignatures = (score: Score, part: Part): boolean =>
  !isUnpitchedPart(part) &&
  !part.clefs.every((clef) => clef === 'percussion') &&
  !isOpenScore(score) &&
  !isUnsigned(score, part);

function transposePart(
  { before, keys }: { before: Score; keys: Score['keys'] },
  part: Part,
  { to = (from) => from, by = UNISON, clefs }: Transposing,
  isOpen: boolean,
): Part | null {
  const stretches = stretchesOf({ before, keys }, part, to, by, isOpen || isUnsigned(before, part));
  const at = (bar: number, moment: Moment): Stretch =>
    stretches.findLast((each) => each.bar < bar || (each.bar === bar && each.at <= moment)) ?? stretches[0]!;
  let isPossible = true;
  const bars = part.bars.map((bar, index): PartBar => {
    let isRespelled = false;
    const move = (note: Note, stretch: Stretch): Note => {
      const moved = movedNote(note, stretch, by);
      isPossible &&= moved.pitch.octave >= 0 && moved.pitch.octave <= HIGHEST_OCTAVE;
      isRespelled ||= diatonicHeight(moved.pitch) !== diatonicHeight(note.pitch) + stretch.written.diatonic;
      return moved;
    };
    const voices = bar.voices.map((line) => ({
      ...line,
      items: line.items.map((item) =>
        item.kind === 'chord' ? movedChord(item, at(index, item.onset), move) : item,
      ),
    }));
    const marks = bar.marks?.map((mark) => movedMark(mark, at(index, mark.at).written));
    const moved: PartBar = { ...bar, voices, ...(marks && { marks }) };
    const opening = at(index, 0);
    // Without the parallel of signatures the accidentals are found anew.
    if (isRespelled || opening.isOpen) showAccidentals(moved, opening.fifths);
    return moved;
  });
  if (!isPossible) return null;
  const others = (part.changes ?? []).filter(({ kind }) => kind === 'instrument');
  const changes = [
    ...others,
    ...clefChanges(part, clefs),
    ...transpositionChanges(stretches),
    ...keyChanges(stretches, keys),
  ].sort((a, b) => a.bar - b.bar || a.at - b.at);
  const { changes: _, ...rest } = part;
  return {
    ...rest,
    transposition: stretches[0]!.to,
    clefs: part.clefs.map((clef, staff) => readClef(clef, clefs?.[staff])),
    bars,
    ...(changes.length > 0 && { changes }),
  };
}

/** The part cut where its signature or transposition changes, with what it is to be there. */
function stretchesOf(
  { before, keys }: { before: Score; keys: Score['keys'] },
  part: Part,
  to: (from: Transposition) => Transposition,
  by: Interval,
  isOpenPart: boolean,
): Stretch[] {
  const signed = writtenKeys(before, part);
  const changes = (part.changes ?? []).filter((change) => change.kind === 'transposition');
  const places = [...signed, ...changes]
    .map(({ bar, at }) => ({ bar, at }))
    .filter(
      (place, index, all) =>
        all.findIndex((each) => each.bar === place.bar && each.at === place.at) === index,
    )
    .sort((a, b) => a.bar - b.bar || a.at - b.at);
  const isBy = (bar: number, at: Moment) => (each: { bar: number; at: Moment }) =>
    each.bar < bar || (each.bar === bar && each.at <= at);
  return places.map(({ bar, at }): Stretch => {
    const from = changes.findLast(isBy(bar, at))?.transposition ?? part.transposition;
    const key: WrittenKey = signed.findLast(isBy(bar, at)) ?? {
      bar,
      at,
      fifths: 0,
      minor: false,
      own: false,
    };
    const isSigned = key.bar === bar && key.at === at;
    const next = to(from);
    const written = add(by, from, negative(next));
    const isOpen = isOpenPart && key.fifths === 0;
    const shifted = key.fifths + intervalFifths(written);
    const isTheScores = !key.own && from === part.transposition;
    const concert = keys.findLast((each) => each.bar <= bar)?.fifths ?? 0;
    const ownShift = keys === before.keys ? intervalFifths(by) : 0;
    const fifths = isOpen
      ? 0
      : isTheScores
        ? writtenFifths(ownShift === 0 ? concert : withinSix(concert + ownShift), next)
        : intervalFifths(written) === 0
          ? shifted
          : withinSix(shifted);
    // Another name of the same key: every note goes by one letter more or less.
    const enharmonic = isOpen ? 0 : Math.round((shifted - fifths) / 12);
    return {
      bar,
      at,
      to: next,
      written: add(written, { diatonic: enharmonic, chromatic: 0 }),
      fifths,
      minor: key.minor,
      isSigned,
      isOpen,
    };
  });
}

function movedChord(chord: Chord, stretch: Stretch, move: (note: Note, stretch: Stretch) => Note): Chord {
  const each = (note: Note) => move(note, stretch);
  const { graces, gracesAfter, marks } = chord;
  return {
    ...chord,
    notes: chord.notes.map(each),
    ...(graces && { graces: graces.map(each) }),
    ...(gracesAfter && { gracesAfter: gracesAfter.map(each) }),
    ...(marks && { marks: marks.map((mark) => movedOrnament(mark, chord, stretch)) }),
  };
}

function movedNote(note: Note, { written }: Stretch, by: Interval): Note {
  const pitch = movedBy(note.pitch, written);
  const { accidental, string, fret, ...others } = note;
  const moved: Note = { ...others, key: note.key + by.chromatic, pitch };
  const shown = accidental && nameOfAlter(pitch.alter);
  if (shown) moved.accidental = shown;
  // A string cannot be pressed below its nut.
  const pressed = fret === undefined ? undefined : fret + by.chromatic;
  if (string !== undefined && (pressed === undefined || pressed >= 0)) moved.string = string;
  if (pressed !== undefined && pressed >= 0) moved.fret = pressed;
  return moved;
}

function movedMark(mark: Mark, written: Interval): Mark {
  if (mark.kind !== 'chord-symbol') return mark;
  const { root, bass, ...others } = mark.symbol;
  return {
    ...mark,
    symbol: { root: movedRoot(root, written), ...others, ...(bass && { bass: movedRoot(bass, written) }) },
  };
}

function movedRoot(root: Root, written: Interval): Root {
  const { step, alter } = movedBy({ ...root, octave: 4 }, written);
  return { step, alter };
}

/** Semitones that the accidental of a neighbour note stands for, by its name. */
const ALTERS = new Map([-2, -1, 0, 1, 2].map((alter) => [nameOfAlter(alter), alter]));

/** The accidental above or below an ornament belongs to the next line or space, and goes with it. */
function movedOrnament(mark: ChordMark, { notes }: Chord, { written }: Stretch): ChordMark {
  if (mark.kind !== 'ornament' || !mark.accidentals) return mark;
  const main = notes.at(-1)!.pitch;
  return {
    ...mark,
    accidentals: mark.accidentals.map((each) => {
      const alter = ALTERS.get(each.name);
      if (alter === undefined) return each;
      const height = diatonicHeight(main) + (each.placement === 'above' ? 1 : -1);
      const neighbour = { step: STEPS[height % 7]!, alter, octave: Math.floor(height / 7) };
      return { ...each, name: nameOfAlter(movedBy(neighbour, written).alter) ?? each.name };
    }),
  };
}

/** Where another transposition begins; what changed before and changes no longer says nothing. */
const transpositionChanges = (stretches: readonly Stretch[]): PartChange[] =>
  stretches.flatMap(({ bar, at, to }, index): PartChange[] => {
    const before = stretches[index - 1];
    return before && stepOf(before.to) !== stepOf(to)
      ? [{ kind: 'transposition', bar, at, transposition: to }]
      : [];
  });

/** Signatures that are not what the score's would be. */
function keyChanges(stretches: readonly Stretch[], keys: Score['keys']): PartChange[] {
  const opening = stretches[0]!.to;
  return stretches.flatMap(({ bar, at, fifths, minor, isSigned }, index): PartChange[] => {
    const own: PartChange[] = [{ kind: 'key', bar, at, fifths, minor }];
    const shared = at === 0 ? keys.find((key) => key.bar === bar) : undefined;
    if (shared) return fifths === writtenFifths(shared.fifths, opening) ? [] : own;
    const before = stretches[index - 1];
    return isSigned || (before && before.fifths !== fifths) ? own : [];
  });
}

/** What is no clef of pitches stays whoever reads it. */
const STAYING: ReadonlySet<Clef> = new Set(['tab', 'percussion', 'none']);

const readClef = (clef: Clef, read: readonly Clef[] | undefined): Clef =>
  !read || read.includes(clef) || STAYING.has(clef) ? clef : read[0]!;

/** Changes of clef as the reader reads them, without those that change nothing any more. */
function clefChanges({ clefs: opening, changes = [] }: Part, read: Transposing['clefs']): PartChange[] {
  const holding = opening.map((clef, staff) => readClef(clef, read?.[staff]));
  return changes.flatMap((change): PartChange[] => {
    if (change.kind !== 'clef') return [];
    const clef = readClef(change.clef, read?.[change.staff - 1]);
    const isSame = clef !== change.clef && holding[change.staff - 1] === clef;
    holding[change.staff - 1] = clef;
    return isSame ? [] : [{ ...change, clef }];
  });
}

/**
 * A score in concert pitch: all parts read one signature, and instruments that
 * sound in other octaves are still written in theirs (common practice). A part
 * that lies off its staff then is read in the treble or bass clef.
 */
export function concertScore(before: Score): Score {
  const wanted = new Map(
    before.parts
      .filter((part) => transpositionsOf(part).some((each) => !isOctaves(each)))
      .map(({ id }): [PartId, Transposing] => [id, { to: inConcertPitch }]),
  );
  if (wanted.size === 0) return before;
  const { score } = transposeScore(before, wanted);
  return {
    ...score,
    parts: score.parts.map((part) => {
      if (!wanted.has(part.id) || part.clefs.length !== 1 || part.clefs[0] === 'tab') return part;
      const clef = clefOf(part.bars, 1, [part.clefs[0]!, 'treble', 'bass']);
      if (clef === part.clefs[0]) return part;
      return { ...part, clefs: [clef], changes: part.changes?.filter(({ kind }) => kind !== 'clef') ?? [] };
    }),
  };
}

const transpositionsOf = ({ transposition, changes = [] }: Part): Transposition[] => [
  transposition,
  ...changes.flatMap((change) => (change.kind === 'transposition' ? [change.transposition] : [])),
];

const isOctaves = ({ diatonic, chromatic }: Transposition): boolean =>
  chromatic % 12 === 0 && diatonic * 12 === chromatic * 7;

const inConcertPitch = (from: Transposition): Transposition => (isOctaves(from) ? from : UNISON);
