import type { EventId } from '../model/ids';
import { pitchAt } from '../model/pitch';
import { mapNotes, type PartBar, type Transposition, type UnplacedNote } from '../model/score';

/**
 * Costs, ordered after Longuet-Higgins and Steedman's and Temperley's
 * line-of-fifths accounts of spelling: stay near the key, prefer the
 * diatonic semitone, avoid augmented and diminished steps.
 */
const OUTSIDE_KEY = 2;
const PER_FIFTH = 0.25;
/** A semitone on one letter: worse when it leaves a chromatic note than when it leads to one. */
const SAME_LETTER_LEAVING = 0.55;
const SAME_LETTER = 0.3;
const PER_FIFTH_APART = 0.3;

interface State {
  fifths: number;
  cost: number;
  back: State | null;
}

/**
 * Step 12: spells the notes of a part in its written key by a search over the
 * line of fifths, each voice as one melody. Ties repeat their spelling.
 *
 * @param fifthsInBar the part's written signature for each bar index
 */
export function spell(
  bars: readonly PartBar<UnplacedNote>[],
  transposition: Transposition,
  fifthsInBar: (bar: number) => { fifths: number; minor: boolean },
): PartBar[] {
  const lines = new Map<string, { note: UnplacedNote; fifths: number; minor: boolean }[]>();
  bars.forEach((bar, index) => {
    const key = fifthsInBar(index);
    for (const line of bar.voices) {
      const name = `${line.staff}/${line.voice}`;
      const list = lines.get(name) ?? [];
      lines.set(name, list);
      for (const item of line.items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes]) list.push({ note, ...key });
    }
  });
  const spelled = new Map<EventId, number>();
  for (const list of lines.values()) {
    const heads = list.filter(({ note }) => !note.tieStop);
    spellLine(heads, transposition.chromatic).forEach((fifths, index) => {
      spelled.set(heads[index]!.note.sources[0]!, fifths);
    });
  }
  // A tied continuation has the spelling of the note that it continues.
  return mapNotes(bars, (note) => ({
    ...note,
    pitch: pitchAt(spelled.get(note.sources[0]!)!, note.key - transposition.chromatic),
  }));
}

function spellLine(
  notes: readonly { note: UnplacedNote; fifths: number; minor: boolean }[],
  chromatic: number,
): number[] {
  let states: State[] = [];
  let before = Number.NaN;
  for (const { note, fifths, minor } of notes) {
    const written = note.key - chromatic;
    const next: State[] = [];
    for (const candidate of candidates(written, fifths)) {
      let best: State | null = null;
      let bestCost = states.length === 0 ? 0 : Number.POSITIVE_INFINITY;
      for (const state of states) {
        const cost = state.cost + stepCost(state.fifths, candidate, before, written, fifths);
        if (cost < bestCost) {
          bestCost = cost;
          best = state;
        }
      }
      next.push({ fifths: candidate, cost: bestCost + keyCost(candidate, fifths, minor), back: best });
    }
    states = next;
    before = written;
  }
  const out: number[] = [];
  let state: State | null = states.reduce<State | null>((a, b) => (a && a.cost <= b.cost ? a : b), null);
  for (; state; state = state.back) out.push(state.fifths);
  return out.reverse();
}

const CANDIDATES = new Map<number, readonly number[]>();

/** Line-of-fifths places of a key within reach of a signature; the same few are asked for again and again. */
function candidates(key: number, signature: number): readonly number[] {
  const name = key * 32 + signature + 16;
  const known = CANDIDATES.get(name);
  if (known) return known;
  const pitchClass = ((key % 12) + 12) % 12;
  const out: number[] = [];
  for (let place = signature - 8; place <= signature + 12; place++)
    if ((((place * 7) % 12) + 12) % 12 === pitchClass && isWritable(place, key)) out.push(place);
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

/** The scale of a signature f is f−1 … f+5; its usual chromatic notes lie evenly about f+2, in minor a little sharper. */
function keyCost(place: number, signature: number, minor: boolean): number {
  const centre = signature + (minor ? 3.2 : 2.2);
  return (isInKey(place, signature) ? 0 : OUTSIDE_KEY) + PER_FIFTH * Math.abs(place - centre);
}

function stepCost(from: number, to: number, fromKey: number, toKey: number, signature: number): number {
  const apart = Math.abs(to - from);
  if (Math.abs(toKey - fromKey) === 1)
    return apart === 7 ? (isInKey(from, signature) ? SAME_LETTER : SAME_LETTER_LEAVING) : apart > 7 ? 3 : 0;
  return PER_FIFTH_APART * Math.max(0, apart - 6);
}
