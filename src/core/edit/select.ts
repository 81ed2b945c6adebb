import { instrumentOf } from '../instruments/catalogue';
import type { Clef } from '../model/clefs';
import type { EventId } from '../model/ids';
import { beatsOf } from '../model/meter';
import { diatonicHeight } from '../model/pitch';
import { type Bar, type Chord, clefAt, type Note, type Part, type VoiceLine } from '../model/score';
import { isArticulation, isOrnament, isTechnique, type Sign } from '../model/signs';
import type { SketchNote } from '../model/sketch';
import { type Moment, type NoteType, typeSpan } from '../model/time';
import { LINES } from '../notate/clefs';
import type { Transcription } from '../transcribe';

/** Which of the notes of a chord are meant. */
export const CHORD_PLACES = ['alone', 'highest', 'inner', 'lowest'] as const;
export type ChordPlace = (typeof CHORD_PLACES)[number];

/** What notes have to be like; what is absent is any. */
export interface NoteRule {
  /** Written shorter than this value, and longer than that; ties counted in. */
  shorter?: NoteType;
  longer?: NoteType;
  /** On a beat of the meter, or off all of them. */
  beat?: 'on' | 'off';
  /** On ledger lines. */
  ledger?: 'above' | 'below';
  /** Sounding MIDI keys, both included. */
  lowest?: number;
  highest?: number;
  /** Velocities, both included. */
  softest?: number;
  loudest?: number;
  chord?: ChordPlace;
  voice?: 1 | 2;
  grace?: boolean;
  /** Above or below what the instrument has. */
  outOfRange?: true;
  /** A sign that it has, or has not. */
  sign?: Sign;
  has?: boolean;
}

/** Where to look: parts by index, bars by index, `to` exclusive. */
export interface Reach {
  parts: readonly number[];
  from: number;
  to: number;
}

interface Found {
  part: Part;
  bar: Bar;
  line: VoiceLine;
  chord: Chord;
  note: Note;
  isGrace: boolean;
  clef: Clef;
  sketch: SketchNote;
}

/** The notes that a rule is true of, by their first events, in the order of the score. */
export function findNotes({ score, readings }: Transcription, rule: NoteRule, reach: Reach): EventId[] {
  const out: EventId[] = [];
  for (const index of reach.parts) {
    const part = score.parts[index];
    if (!part) continue;
    const slurred = slurredNotes(part);
    const last = Math.min(reach.to, part.bars.length);
    for (let at = Math.max(0, reach.from); at < last; at++) {
      const bar = score.bars[at]!;
      for (const line of part.bars[at]!.voices)
        for (const chord of line.items) {
          if (chord.kind === 'rest') continue;
          const clef = clefAt(part, line.staff, at, chord.onset);
          const each = (note: Note, isGrace: boolean) => {
            const [id] = note.sources;
            const sketch = id && readings[index]!.notes.get(id);
            if (!id || !sketch || note.tieStop) return;
            const found = { part, bar, line, chord, note, isGrace, clef, sketch };
            if (isLike(found, rule, slurred)) out.push(id);
          };
          for (const note of chord.graces ?? []) each(note, true);
          for (const note of chord.notes) each(note, false);
        }
    }
  }
  return out;
}

function isLike(found: Found, rule: NoteRule, slurred: ReadonlySet<string>): boolean {
  const { part, bar, line, chord, note, isGrace, clef, sketch } = found;
  const written = isGrace ? 0 : sketch.end - sketch.start;
  if (rule.shorter && written >= typeSpan(rule.shorter)) return false;
  if (rule.longer && written <= typeSpan(rule.longer)) return false;
  if (rule.grace !== undefined && rule.grace !== isGrace) return false;
  if (rule.voice !== undefined && rule.voice !== line.voice) return false;
  if (rule.beat && (rule.beat === 'on') !== isOnBeat(bar, chord.onset)) return false;
  if (rule.lowest !== undefined && note.key < rule.lowest) return false;
  if (rule.highest !== undefined && note.key > rule.highest) return false;
  if (rule.softest !== undefined && sketch.velocity < rule.softest) return false;
  if (rule.loudest !== undefined && sketch.velocity > rule.loudest) return false;
  if (rule.ledger && rule.ledger !== ledgerOf(note, clef)) return false;
  if (rule.chord && rule.chord !== placeIn(chord, note, isGrace)) return false;
  if (rule.outOfRange && !isOutside(part, note.key)) return false;
  if (rule.sign && (rule.has ?? true) !== hasSign(chord, note, rule.sign, slurred)) return false;
  return true;
}

const isOnBeat = (bar: Bar, onset: Moment): boolean =>
  beatsOf(bar).some(({ start }) => start === onset + bar.missing);

/** On which side of the staff a note needs ledger lines. */
function ledgerOf(note: Note, clef: Clef): 'above' | 'below' | null {
  const [bottom, top] = LINES[clef];
  const height = diatonicHeight(note.pitch);
  // A note in the space beyond the outer line needs none.
  return height >= top + 2 ? 'above' : height <= bottom - 2 ? 'below' : null;
}

function placeIn({ notes }: Chord, note: Note, isGrace: boolean): ChordPlace {
  if (isGrace || notes.length === 1) return 'alone';
  if (note === notes.at(-1)) return 'highest';
  return note === notes[0] ? 'lowest' : 'inner';
}

function isOutside({ instrument }: Part, key: number): boolean {
  const { lowest, highest, unpitched } = instrumentOf(instrument);
  return !unpitched && (key < lowest || key > highest);
}

function hasSign(chord: Chord, note: Note, sign: Sign, slurred: ReadonlySet<string>): boolean {
  if (sign === 'slur') return slurred.has(note.id);
  if (sign === 'accidental') return note.accidental !== undefined;
  if (sign === 'lyric') return (chord.lyrics ?? []).length > 0;
  if (sign === 'ring') return note.ringsOn ?? false;
  if (sign === 'ghost') return note.ghost ?? false;
  return (chord.marks ?? []).some((mark) =>
    isArticulation(sign) || isOrnament(sign) || isTechnique(sign)
      ? 'name' in mark && mark.name === sign
      : mark.kind === sign,
  );
}

/** Heads at which a slur begins or ends. */
function slurredNotes({ spanners = [] }: Part): Set<string> {
  return new Set(
    spanners.flatMap(({ kind, from, to }) =>
      kind === 'slur' ? [from, to].flatMap((end) => ('note' in end ? [end.note] : [])) : [],
    ),
  );
}
