import { type Interval, movedBy, type Pitch } from '../model/pitch';
import {
  type Accidental,
  type Chord,
  mapNotes,
  type Note,
  type Part,
  type PartBar,
  type Score,
  type WrittenKey,
  writtenKeys,
} from '../model/score';
import { showAccidentals } from './accidentals';

/** MIDI 1.0: keys 0 to 127; MusicXML 4.0: octaves 0 to 9. */
const isWritable = ({ key, pitch }: { key: number; pitch: Pitch }): boolean =>
  key >= 0 && key <= 127 && pitch.octave >= 0 && pitch.octave <= 9;

/**
 * A score with single notes moved or spelled otherwise, by their ids; what is
 * tied to them goes along. In their bars accidentals come and go where the
 * rule says so now and did not before; all others stay as they were. A note
 * that would leave what can be written stays.
 *
 * @param places indices of the parts that the notes are in
 */
export function withPitches(
  score: Score,
  moves: ReadonlyMap<string, Interval>,
  places: ReadonlySet<number>,
): Score {
  if (moves.size === 0) return score;
  const parts = score.parts.map((part, index) => (places.has(index) ? movedPart(score, part, moves) : part));
  return { ...score, parts };
}

function movedPart(score: Score, part: Part, moves: ReadonlyMap<string, Interval>): Part {
  const all = withTies(part, moves);
  if (all.size === 0) return part;
  const keys = writtenKeys(score, part);
  const bars = part.bars.map((bar, index): PartBar => {
    let isTouched = false;
    const [moved] = mapNotes([bar], (note: Note): Note => {
      const by = all.get(note.id);
      if (!by) return note;
      const next = { ...note, key: note.key + by.chromatic, pitch: movedBy(note.pitch, by) };
      if (!isWritable(next)) return note;
      isTouched = true;
      return next;
    });
    if (!isTouched || !moved) return bar;
    const fifths = fifthsIn(keys, index);
    const [were, are] = [ruled(bar, fifths), ruled(moved, fifths)];
    const [settled] = mapNotes([moved], (note: Note): Note => {
      if (were.get(note.id) === are.get(note.id) && !all.has(note.id)) return note;
      const { accidental: _, ...bare } = note;
      const shown = are.get(note.id);
      return shown ? { ...bare, accidental: shown } : bare;
    });
    return settled!;
  });
  return { ...part, bars };
}

/**
 * A score in which notes of some bars have the accidentals that they need there, as others came or went
 * before them; what is shown stays.
 *
 * @param touched indices of bars by the part's index
 */
export function withNeededAccidentals(score: Score, touched: ReadonlyMap<number, readonly number[]>): Score {
  if (touched.size === 0) return score;
  return {
    ...score,
    parts: score.parts.map((part, index) => {
      const own = touched.get(index);
      if (!own) return part;
      const keys = writtenKeys(score, part);
      return {
        ...part,
        bars: part.bars.map((bar, at) => {
          if (!own.includes(at)) return bar;
          const needed = ruled(bar, fifthsIn(keys, at));
          const [settled] = mapNotes([bar], (note: Note): Note => {
            const accidental = note.accidental ?? needed.get(note.id);
            return accidental === note.accidental || !accidental ? note : { ...note, accidental };
          });
          return settled!;
        }),
      };
    }),
  };
}

const fifthsIn = (keys: readonly WrittenKey[], bar: number): number =>
  keys.findLast((key) => key.bar < bar || (key.bar === bar && key.at === 0))?.fifths ?? 0;

/** The accidentals that the rule gives the notes of a bar. */
function ruled(bar: PartBar, fifths: number): Map<string, Accidental | undefined> {
  const [copy] = mapNotes([bar], (note: Note): Note => ({ ...note }));
  showAccidentals(copy!, fifths);
  const found = new Map<string, Accidental | undefined>();
  mapNotes([copy!], (note: Note) => found.set(note.id, note.accidental));
  return found;
}

/** The moves, and the same for each note that is held on from one that moves. */
function withTies(part: Part, moves: ReadonlyMap<string, Interval>): Map<string, Interval> {
  const all = new Map<string, Interval>();
  /** Moves of notes that are tied on, by key. */
  const held = new Map<number, Interval>();
  const visit = ({ notes, graces = [], gracesAfter = [] }: Chord) => {
    for (const note of [...graces, ...notes, ...gracesAfter]) {
      const by = moves.get(note.id) ?? (note.tieStop ? held.get(note.key) : undefined);
      if (note.tieStop) held.delete(note.key);
      if (!by) continue;
      all.set(note.id, by);
      if (note.tieStart) held.set(note.key, by);
    }
  };
  for (const { voices } of part.bars) {
    const chords = voices.flatMap(({ items }) => items.filter((item) => item.kind === 'chord'));
    for (const chord of chords.sort((a, b) => a.onset - b.onset)) visit(chord);
  }
  return all;
}
