/** What a player of a section can play: sounding MIDI keys. */
export interface Seat {
  lowest: number;
  highest: number;
  comfortable: readonly [lowest: number, highest: number];
  /** Whether two notes at once are possible, as on strings. */
  doubles: boolean;
}

/** A note to give to a seat: ticks and sounding key. */
export interface SeatNote {
  on: number;
  off: number;
  key: number;
}

/**
 * What choices cost, in nats as far as they are probabilities (tuned on the
 * chorales BWV 253–276 and a quartet movement; `npm run bench:chairs` reports
 * on others).
 */
const STEP = 0.065;
const LEAP = 0.098;
/** Semitones that are still a step of a line. */
const STEPWISE = 2.3;
/** Quarters of rest after which it matters half as much what a seat played last. */
const FORGETS = 5.14;
/** Semitones by which players depart from the middle of what they play. */
const REGISTER = 5;
const REGISTER_WEIGHT = 0.101;
const CROSSING = 1.6;
/** A note held under a line that moves on above it, or the reverse: for each part of its length that is cut. */
const CUT = 6;
const BUSY = 4.81;
/** A line goes on in the seat that has just ended a note rather than in one that rests. */
const RESTED = 0.932;
const UNCOMFORTABLE = 0.25;
const OUT_OF_RANGE = 6;
const DOUBLE_STOP = 5.62;
const TOO_MANY = 14;
/** Alternatives kept while searching. */
const BEAM = 12;
/** What costs so much more than the best is not followed. */
const HOPELESS = 12;
/** Times that the middles of the seats are found anew. */
const ROUNDS = 3;
/** The share of a note that may overlap the next one in the same seat: legato. */
const LEGATO = 0.3;

interface Chair {
  /** Key of its last note; NaN before its first. */
  key: number;
  on: number;
  /** When its last note ends. */
  off: number;
}

interface Path {
  cost: number;
  chairs: readonly Chair[];
  /** Seats of the notes of this attack, from the top. */
  seats: readonly number[];
  back: Path | null;
}

/**
 * Gives the notes of one strand to the seats of a section, the highest seat
 * first: by dynamic programming over attacks with a beam. What counts is how
 * far each line moves, the register that each seat keeps to, lines that cross,
 * notes that are still held, rests, and what the instruments have. Registers
 * are first read from the chords in which every seat sounds, where the order
 * of pitch is all but certain (contigs, after Chew and Wu 2004), then from the
 * division itself, until it stays.
 *
 * @param notes in order of their onsets
 * @param quarter ticks of a quarter note
 * @param together ticks within which notes are struck as one
 * @returns the seat of each note, from 0
 */
export function divideNotes(
  notes: readonly SeatNote[],
  seats: readonly Seat[],
  quarter: number,
  together: number,
): number[] {
  const attacks = attacksOf(notes, together);
  let middles = firstMiddles(attacks, notes, seats);
  let result: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const next = search(attacks, notes, seats, middles, quarter);
    const stays = next.every((seat, at) => seat === result[at]);
    result = next;
    if (stays) break;
    middles = seats.map((_, seat) => {
      const keys = notes.filter((__, at) => result[at] === seat).map(({ key }) => key);
      return keys.length > 0 ? keys.reduce((sum, key) => sum + key, 0) / keys.length : middles[seat]!;
    });
  }
  return result;
}

/** Indices of the notes that are struck together, from the top. */
function attacksOf(notes: readonly SeatNote[], together: number): number[][] {
  const attacks: number[][] = [];
  let from = Number.NEGATIVE_INFINITY;
  notes.forEach(({ on }, at) => {
    if (on - from > together) {
      attacks.push([]);
      from = on;
    }
    attacks.at(-1)!.push(at);
  });
  for (const attack of attacks) attack.sort((a, b) => notes[b]!.key - notes[a]!.key || a - b);
  return attacks;
}

/** Middles of the seats from the chords that fill them all; without such, from quantiles of all keys. */
function firstMiddles(
  attacks: readonly (readonly number[])[],
  notes: readonly SeatNote[],
  seats: readonly Seat[],
): number[] {
  const full = attacks.filter((attack) => attack.length === seats.length);
  if (full.length > 0)
    return seats.map((_, seat) => {
      const keys = full.map((attack) => notes[attack[seat]!]!.key);
      return keys.reduce((sum, key) => sum + key, 0) / keys.length;
    });
  const keys = notes.map(({ key }) => key).sort((a, b) => b - a);
  return seats.map((_, seat) => keys[Math.floor(((seat + 0.5) * keys.length) / seats.length)] ?? 60);
}

function search(
  attacks: readonly (readonly number[])[],
  notes: readonly SeatNote[],
  seats: readonly Seat[],
  middles: readonly number[],
  quarter: number,
): number[] {
  const start: Chair = { key: Number.NaN, on: Number.NEGATIVE_INFINITY, off: Number.NEGATIVE_INFINITY };
  let paths: Path[] = [{ cost: 0, chairs: seats.map(() => start), seats: [], back: null }];
  const own = notes.map((note) => seats.map((seat, at) => ownCost(note, seat, middles[at]!)));
  for (const attack of attacks) {
    const choices = choicesFor(attack.length, seats);
    const next = new Map<string, Path>();
    let least = Number.POSITIVE_INFINITY;
    for (const path of paths)
      for (const choice of choices) {
        const most = least + HOPELESS - path.cost;
        const cost = path.cost + costOf(path.chairs, attack, choice, notes, seats, own, quarter, most);
        if (cost > least + HOPELESS) continue;
        least = Math.min(least, cost);
        const chairs = path.chairs.map((chair, seat) => {
          // Of a double stop the upper note leads.
          const at = choice.indexOf(seat);
          if (at < 0) return chair;
          const { key, on, off } = notes[attack[at]!]!;
          return { key, on, off };
        });
        const state = chairs.map(({ key, off }) => `${key}/${off}`).join(' ');
        const before = next.get(state);
        if (!before || before.cost > cost) next.set(state, { cost, chairs, seats: choice, back: path });
      }
    paths = [...next.values()].sort((a, b) => a.cost - b.cost).slice(0, BEAM);
  }
  const result = new Array<number>(notes.length).fill(0);
  let path: Path | null = paths[0]!;
  for (let index = attacks.length - 1; index >= 0 && path; index--) {
    attacks[index]!.forEach((note, at) => {
      result[note] = path!.seats[at]!;
    });
    path = path.back;
  }
  return result;
}

/** What it costs that a seat has a note, whatever came before. */
function ownCost({ key }: SeatNote, { lowest, highest, comfortable }: Seat, middle: number): number {
  const beyond = (low: number, high: number) => Math.max(0, low - key, key - high);
  return (
    (REGISTER_WEIGHT * (key - middle) ** 2) / (2 * REGISTER * REGISTER) +
    UNCOMFORTABLE * beyond(...comfortable) +
    (beyond(lowest, highest) > 0 ? OUT_OF_RANGE : 0)
  );
}

function costOf(
  chairs: readonly Chair[],
  attack: readonly number[],
  choice: readonly number[],
  notes: readonly SeatNote[],
  seats: readonly Seat[],
  own: readonly (readonly number[])[],
  quarter: number,
  most: number,
): number {
  let cost = 0;
  for (let at = 0; at < attack.length; at++) cost += own[attack[at]!]![choice[at]!]!;
  if (cost > most) return cost;
  for (let at = 0; at < attack.length; at++) {
    const seat = choice[at]!;
    const note = notes[attack[at]!]!;
    const chair = chairs[seat]!;
    // Below the upper note of a double stop.
    if (choice.indexOf(seat) < at) {
      cost +=
        choice.filter((each) => each === seat).length > 2 || !seats[seat]!.doubles ? TOO_MANY : DOUBLE_STOP;
      continue;
    }
    if (Number.isNaN(chair.key)) continue;
    const gap = Math.max(0, note.on - chair.off) / quarter;
    const far = Math.abs(note.key - chair.key);
    const moved = STEP * Math.min(far, STEPWISE) + LEAP * Math.max(0, far - STEPWISE);
    cost += moved / (1 + gap / FORGETS) + RESTED * Math.min(1, gap);
    const overlap = chair.off - note.on;
    if (overlap > 0) {
      const share = overlap / Math.max(1, chair.off - chair.on);
      cost += share > LEGATO ? BUSY : CUT * share;
    }
  }
  // Lines that cross among the new notes and with those still held.
  for (let a = 0; a < attack.length; a++) {
    const { on, key } = notes[attack[a]!]!;
    for (let b = a + 1; b < attack.length; b++)
      if (choice[a]! > choice[b]! && key > notes[attack[b]!]!.key) cost += CROSSING;
    for (let seat = 0; seat < chairs.length; seat++) {
      const chair = chairs[seat]!;
      if (choice.includes(seat) || chair.off <= on + (chair.off - chair.on) * LEGATO) continue;
      if ((seat < choice[a]! && chair.key < key) || (seat > choice[a]! && chair.key > key)) cost += CROSSING;
    }
  }
  return cost;
}

/** More ways than this are not all weighed: large chords are given out in their order, and evenly. */
const WAYS = 200;

const CHOICES = new Map<string, number[][]>();

/**
 * Which seats may have so many notes, from the top: in order, in order but for
 * one neighbouring pair, and several in one seat where there are more notes
 * than seats or the instrument can.
 */
function choicesFor(count: number, seats: readonly Seat[]): number[][] {
  const name = `${count} ${seats.map(({ doubles }) => (doubles ? 2 : 1)).join('')}`;
  const known = CHOICES.get(name);
  if (known) return known;
  const most = Math.ceil(count / seats.length);
  const found =
    inOrder(count, seats, ({ doubles }) => [0, Math.max(most, doubles ? 2 : 1)]) ??
    inOrder(count, seats, () => [Math.floor(count / seats.length), most]) ??
    [];
  const all =
    found.length > 0
      ? found
      : [Array.from({ length: count }, (_, at) => Math.floor((at * seats.length) / count))];
  const crossed = all.flatMap((choice) =>
    choice.slice(1).flatMap((seat, at) => {
      if (choice[at] === seat) return [];
      const swapped = [...choice];
      [swapped[at], swapped[at + 1]] = [seat, choice[at]!];
      return [swapped];
    }),
  );
  const choices = all.length + crossed.length > WAYS * 2 ? all : [...all, ...crossed];
  CHOICES.set(name, choices);
  return choices;
}

/** Ways to give notes out in order, each seat within its bounds; null for more ways than are weighed. */
function inOrder(
  count: number,
  seats: readonly Seat[],
  bounds: (seat: Seat) => readonly [least: number, most: number],
): number[][] | null {
  let ways: number[][] = [[]];
  for (const [at, seat] of seats.entries()) {
    const [least, most] = bounds(seat);
    // What is left has to find room behind.
    const behind = seats.slice(at + 1).reduce((sum, each) => sum + bounds(each)[1], 0);
    const needed = seats.slice(at + 1).reduce((sum, each) => sum + bounds(each)[0], 0);
    ways = ways.flatMap((chosen) => {
      const left = count - chosen.length;
      const grown: number[][] = [];
      for (let own = Math.max(least, left - behind); own <= Math.min(most, left - needed); own++)
        grown.push([...chosen, ...new Array<number>(own).fill(at)]);
      return grown;
    });
    if (ways.length > WAYS) return null;
  }
  return ways;
}
