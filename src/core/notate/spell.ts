import type { EventId } from '../model/ids';
import { type Interval, movedBy, type Pitch, pitchAt } from '../model/pitch';
import { eachNote, type PartBar, type Transposition, type UnplacedNote } from '../model/score';
import type { LocalKey } from '../model/sketch';
import { type Moment, QUARTER } from '../model/time';

/**
 * Costs, ordered after Longuet-Higgins and Steedman's and Temperley's
 * line-of-fifths accounts of spelling: stay near the key that is heard and the
 * one that is printed, prefer the diatonic semitone, avoid augmented and
 * diminished steps (sizes tuned, see bench/spelling.ts).
 */
const OUTSIDE_KEY = 1.3;
const PER_FIFTH = 0.32;
const OUTSIDE_SIGNATURE = 3.1;
const PER_FIFTH_OF_SIGNATURE = 0.31;
/** The usual chromatic notes lie around this many fifths over a key's signature, and over a printed one. */
const CENTRE_MAJOR = 1.9;
const CENTRE_MINOR = 6.2;
const CENTRE = 2;
/** A semitone on one letter: worse when it leaves a chromatic note than when it leads to one. */
const SAME_LETTER_LEAVING = 1;
const SAME_LETTER = 0.55;
const PER_FIFTH_APART = 0.32;
/** What a note resolves to by semitone, within so long, has another letter. */
const UNRESOLVED = 0.9;
const RESOLVES_WITHIN = 7 * QUARTER;
/** A note that comes again at once under another name. */
const RESPELLED = 4;

interface State {
  fifths: number;
  cost: number;
  back: State | null;
}

/** What a note is spelled in: keys are by their signatures on the line of fifths, as written. */
interface Spelled {
  note: UnplacedNote;
  /** Its key as written. */
  written: number;
  at: Moment;
  /** The printed signature, and the key that is heard. */
  signature: number;
  local: LocalKey;
  /** The place of the next note that it moves to by a semitone, as the key has it. */
  goal: number | undefined;
}

/** What is known of the music in which a part is spelled. */
export interface Tonality {
  /** The part's written signature in a bar (index among those that are spelled). */
  signatureIn: (bar: number) => number;
  /** The key heard at a place in a bar, by its signature as the part writes it. */
  localAt: (bar: number, at: Moment) => LocalKey;
  /** Where a bar begins. */
  startOf: (bar: number) => Moment;
}

/**
 * Step 12: spells the notes of a part by a search over the line of fifths,
 * each voice as one melody. Ties repeat their spelling.
 *
 * @returns the pitch of each note, in the order of `eachNote`
 * @param moved notes that were moved: they are spelled as they came, and their letter goes with them
 */
export function spell(
  bars: readonly PartBar<UnplacedNote>[],
  transposition: Transposition,
  { signatureIn, localAt, startOf }: Tonality,
  moved: ReadonlyMap<EventId, Interval> = new Map(),
): Pitch[] {
  const lines = new Map<string, Spelled[]>();
  bars.forEach((bar, index) => {
    const signature = signatureIn(index);
    for (const line of bar.voices) {
      const name = `${line.staff}/${line.voice}`;
      const list = lines.get(name) ?? [];
      lines.set(name, list);
      for (const item of line.items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes])
            list.push({
              note,
              written: note.key - transposition.chromatic - (moved.get(note.sources[0]!)?.chromatic ?? 0),
              at: startOf(index) + item.onset,
              signature,
              local: localAt(index, item.onset),
              goal: undefined,
            });
    }
  });
  const spelled = new Map<EventId, number>();
  for (const list of lines.values()) {
    const heads = list.filter(({ note }) => !note.tieStop);
    findGoals(heads);
    spellLine(heads).forEach((fifths, index) => {
      spelled.set(heads[index]!.note.sources[0]!, fifths);
    });
  }
  // A tied continuation has the spelling of the note that it continues.
  const pitches: Pitch[] = [];
  eachNote(bars, (note) => {
    const [source] = note.sources;
    const by = moved.get(source!);
    const key = note.key - transposition.chromatic;
    const fifths = spelled.get(source!)!;
    pitches.push(by ? movedBy(pitchAt(fifths, key - by.chromatic), by) : pitchAt(fifths, key));
  });
  return pitches;
}

/** Finds for each note the next one a step away, if that is a semitone: what it resolves to. */
function findGoals(notes: readonly Spelled[]): void {
  notes.forEach((note, index) => {
    for (let later = index + 1; later < notes.length; later++) {
      const next = notes[later]!;
      if (next.at - note.at > RESOLVES_WITHIN) return;
      const step = Math.abs(next.written - note.written);
      if (next.at === note.at || step === 0 || step > 2) continue;
      if (step === 1) note.goal = inKey(next.written, next.local.fifths);
      return;
    }
  });
}

function spellLine(notes: readonly Spelled[]): number[] {
  let states: State[] = [];
  let before = Number.NaN;
  for (const each of notes) {
    const { written, signature, local } = each;
    const next: State[] = [];
    for (const candidate of candidates(written, signature)) {
      let best: State | null = null;
      let bestCost = states.length === 0 ? 0 : Number.POSITIVE_INFINITY;
      for (const state of states) {
        const cost = state.cost + stepCost(state.fifths, candidate, before, written, local.fifths);
        if (cost < bestCost) {
          bestCost = cost;
          best = state;
        }
      }
      next.push({ fifths: candidate, cost: bestCost + placeCost(candidate, each), back: best });
    }
    states = next;
    before = written;
  }
  const out: number[] = [];
  let state: State | null = states.reduce<State | null>((a, b) => (a && a.cost <= b.cost ? a : b), null);
  for (; state; state = state.back) out.push(state.fifths);
  return out.reverse();
}

/** How far from a signature places are thought of, in fifths. */
const FLATWARD = 9;
const SHARPWARD = 13;

const pitchClassOf = (place: number): number => (((place * 7) % 12) + 12) % 12;

const CANDIDATES = new Map<number, readonly number[]>();

/** Line-of-fifths places of a key within reach of a signature; the same few are asked for again and again. */
function candidates(key: number, signature: number): readonly number[] {
  const name = key * 32 + signature + 16;
  const known = CANDIDATES.get(name);
  if (known) return known;
  const pitchClass = ((key % 12) + 12) % 12;
  const out: number[] = [];
  for (let place = signature - FLATWARD; place <= signature + SHARPWARD; place++)
    if (pitchClassOf(place) === pitchClass && isWritable(place, key)) out.push(place);
  CANDIDATES.set(name, out);
  return out;
}

/** Double accidentals at most, octaves 0 to 9. */
function isWritable(place: number, key: number): boolean {
  const { alter, octave } = pitchAt(place, key);
  return Math.abs(alter) <= 2 && octave >= 0 && octave <= 9;
}

const isInKey = (place: number, signature: number): boolean =>
  place >= signature - 1 && place <= signature + 5;

/** The place that a key has in the scale of a signature, if it has one. */
function inKey(key: number, signature: number): number | undefined {
  for (let place = signature - 1; place <= signature + 5; place++)
    if (pitchClassOf(place) === ((key % 12) + 12) % 12) return place;
  return undefined;
}

/** What a place costs by itself. The scale of a signature f is f−1 … f+5. */
function placeCost(place: number, { signature, local, goal }: Spelled): number {
  const centre = local.fifths + (local.minor ? CENTRE_MINOR : CENTRE_MAJOR);
  return (
    (isInKey(place, local.fifths) ? 0 : OUTSIDE_KEY) +
    PER_FIFTH * Math.abs(place - centre) +
    (isInKey(place, signature) ? 0 : OUTSIDE_SIGNATURE) +
    PER_FIFTH_OF_SIGNATURE * Math.abs(place - signature - CENTRE) +
    (goal !== undefined && Math.abs(goal - place) === ONE_LETTER ? UNRESOLVED : 0)
  );
}

/** So many fifths apart two places have one letter. */
const ONE_LETTER = 7;

function stepCost(from: number, to: number, fromKey: number, toKey: number, local: number): number {
  const apart = Math.abs(to - from);
  if (toKey === fromKey) return apart === 0 ? 0 : RESPELLED;
  if (Math.abs(toKey - fromKey) === 1)
    return apart === ONE_LETTER
      ? isInKey(from, local)
        ? SAME_LETTER
        : SAME_LETTER_LEAVING
      : apart > ONE_LETTER
        ? 3
        : 0;
  return PER_FIFTH_APART * Math.max(0, apart - 6);
}
