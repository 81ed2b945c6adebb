import { kindTones } from '../../model/chord-tones';
import type { ChordSymbol, Root } from '../../model/marks';
import { STEPS } from '../../model/pitch';
import type { LocalKey } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** What sounds in one beat. */
export interface BeatSound {
  start: Moment;
  end: Moment;
  /** How long each pitch class sounds, C first, in quarter notes. */
  weights: readonly number[];
  /** How long each pitch class is the lowest that sounds. */
  lows: readonly number[];
  /** Where a chord may change, the likelier the lower: 0 at a bar line, 1 in its middle, 2 on another beat. */
  inside: 0 | 1 | 2;
  key: LocalKey;
}

export interface FoundChord {
  at: Moment;
  to: Moment;
  symbol: ChordSymbol;
  /** How much better it explains what sounds than the next best chord, in nats. */
  margin: number;
}

/** Kinds of chords that are looked for, and what speaks against each beforehand, in nats. */
const RARE: Readonly<Record<string, number>> = {
  major: 0,
  minor: 0,
  dominant: 0.3,
  'minor-seventh': 0.3,
  'major-seventh': 0.4,
  'half-diminished': 0.8,
  diminished: 1,
  'diminished-seventh': 1,
  augmented: 1.6,
  'suspended-fourth': 1,
  'major-sixth': 1.2,
  'minor-sixth': 1.6,
  'major-minor': 2,
  power: 0.8,
};
const KINDS = Object.entries(RARE).map(([kind, rare]) => ({ kind, rare, tones: kindTones(kind) }));
/** How much of what sounds belongs to a chord; the fifth is left out most often (common practice). */
const INSIDE = 0.92;
const FIFTH = 0.7;
/** The lowest note is the root, another tone of the chord, or none of its tones; shares. */
const LOWEST = { root: 0.75, tone: 0.2, other: 0.05 };
/** What sounds together agrees beforehand: a beat says as much as so many notes by themselves at most. */
const MOST = 4;
const LOW_SAYS = 0.3;
/** Nats: for a change at a bar line, in the middle of a bar, on another beat; for each tone outside the key. */
const CHANGES = [1, 3, 5] as const;
const OUTSIDE_KEY = 0.35;
/** Less of it in the chord: whatever sounds, it is not this. */
const LEAST_INSIDE = 0.66;
const LEAST_TONES = 0.04;
/** The bass is named where another tone of the chord is the lowest for so much of its time. */
const NAMED_BASS = 0.6;

interface State {
  root: number;
  kind: (typeof KINDS)[number];
  tones: ReadonlySet<number>;
  /** Logarithms of how likely each pitch class sounds. */
  logs: readonly number[];
}

const STATES: readonly State[] = KINDS.flatMap((kind) =>
  Array.from({ length: 12 }, (_, root): State => {
    const tones = new Set(kind.tones.map((tone) => (root + tone) % 12));
    const worths = kind.tones.map((tone) => (tone === 7 && kind.tones.length > 2 ? FIFTH : 1));
    const sum = worths.reduce((all, worth) => all + worth, 0);
    const logs = Array.from({ length: 12 }, (_, pc) => {
      const at = kind.tones.indexOf((pc - root + 12) % 12);
      return Math.log(at < 0 ? (1 - INSIDE) / (12 - tones.size) : (INSIDE * worths[at]!) / sum);
    });
    return { root, kind, tones, logs };
  }),
);

const MAJOR_SCALE = [0, 2, 4, 5, 7, 9, 11];

/** How many tones of each chord lie outside a key; in minor both sevenths are inside. */
function outsideKey({ fifths, minor }: LocalKey): number[] {
  const tonic = (((fifths * 7) % 12) + 12) % 12;
  const scale = new Set(MAJOR_SCALE.map((step) => (tonic + step) % 12));
  if (minor) scale.add((tonic + 8) % 12);
  return STATES.map(({ tones }) => [...tones].filter((tone) => !scale.has(tone)).length);
}

/** How well a chord explains a beat, in nats. */
function fit(state: State, { weights, lows }: BeatSound, total: number): number {
  const scale = Math.min(MOST, total) / total;
  let sum = 0;
  for (let pc = 0; pc < 12; pc++) {
    sum += scale * weights[pc]! * state.logs[pc]!;
    const low = lows[pc]!;
    if (low === 0) continue;
    const share = pc === state.root ? LOWEST.root : state.tones.has(pc) ? LOWEST.tone : LOWEST.other;
    sum += LOW_SAYS * low * Math.log(share);
  }
  return sum;
}

/**
 * The chords that the whole texture spells, with their places: the likeliest
 * path over roots and kinds beat by beat (templates of pitch classes and a hidden
 * Markov model; after Pardo and Birmingham, Algorithms for Chordal Analysis, 2002, and
 * Sheh and Ellis, 2003). Chords change at bar lines rather than within bars. What
 * spells no chord has no symbol.
 */
export function findChords(beats: readonly BeatSound[]): FoundChord[] {
  let scores = STATES.map(() => 0);
  const fits: Float64Array[] = [];
  const backs: Int16Array[] = [];
  const outsides = new Map<string, number[]>();
  beats.forEach((beat, index) => {
    const total = beat.weights.reduce((sum, weight) => sum + weight, 0);
    const name = `${beat.key.fifths} ${beat.key.minor}`;
    const outside = outsides.get(name) ?? outsideKey(beat.key);
    outsides.set(name, outside);
    const change = CHANGES[beat.inside];
    const best = scores.reduce((most, score, at) => (score > scores[most]! ? at : most), 0);
    const back = new Int16Array(STATES.length);
    const own = new Float64Array(STATES.length);
    scores = scores.map((score, at) => {
      const state = STATES[at]!;
      const entered = scores[best]! - change;
      const stays = index > 0 && score >= entered;
      back[at] = stays ? at : best;
      own[at] =
        total === 0
          ? 0
          : fit(state, beat, total) - (state.kind.rare + OUTSIDE_KEY * outside[at]!) * Math.min(1, total);
      return (stays ? score : entered) + own[at]!;
    });
    fits.push(own);
    backs.push(back);
  });
  const path: number[] = new Array(beats.length);
  let at = scores.reduce((most, score, each) => (score > scores[most]! ? each : most), 0);
  for (let index = beats.length - 1; index >= 0; index--) {
    path[index] = at;
    at = backs[index]![at]!;
  }
  const found: FoundChord[] = [];
  for (let from = 0; from < beats.length; ) {
    let to = from + 1;
    while (to < beats.length && path[to] === path[from]) to++;
    const begins = from + leadIn(beats.slice(from, to));
    const chord = chordOver(path[from]!, beats.slice(begins, to), fits.slice(begins, to));
    if (chord) found.push(chord);
    from = to;
  }
  return found;
}

/** Beats of single tones up to a bar line lead into a chord, as an upbeat does. */
function leadIn(beats: readonly BeatSound[]): number {
  const isChord = ({ inside, weights }: BeatSound) =>
    inside === 0 || weights.filter((weight) => weight > 0).length > 1;
  return Math.max(0, beats.findIndex(isChord));
}

function chordOver(
  index: number,
  beats: readonly BeatSound[],
  fits: readonly Float64Array[],
): FoundChord | null {
  const state = STATES[index]!;
  const sums = (of: (beat: BeatSound) => readonly number[]) =>
    Array.from({ length: 12 }, (_, pc) => beats.reduce((sum, beat) => sum + of(beat)[pc]!, 0));
  const weights = sums((beat) => beat.weights);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const inside = [...state.tones].filter((pc) => weights[pc]! >= LEAST_TONES * total);
  const share = [...state.tones].reduce((sum, pc) => sum + weights[pc]!, 0) / Math.max(total, 1e-9);
  if (total === 0 || share < LEAST_INSIDE || inside.length < Math.min(3, state.tones.size)) return null;
  const all = STATES.map((_, at) => fits.reduce((sum, own) => sum + own[at]!, 0));
  const other = all.reduce(
    (most, sum, at) => (at === index ? most : Math.max(most, sum)),
    Number.NEGATIVE_INFINITY,
  );
  const lows = sums((beat) => beat.lows);
  const under = lows.reduce((sum, low) => sum + low, 0);
  const bass = lows.findIndex(
    (low, pc) => pc !== state.root && state.tones.has(pc) && low > NAMED_BASS * under,
  );
  const { key } = beats[0]!;
  const isLeading = state.kind.kind.includes('diminished');
  return {
    at: beats[0]!.start,
    to: beats.at(-1)!.end,
    symbol: {
      root: spelled(state.root, key, isLeading),
      kind: state.kind.kind,
      ...(bass >= 0 && { bass: spelled(bass, key, false) }),
    },
    margin: all[index]! - other,
  };
}

/** A pitch class as a root in a key: as near to it on the line of fifths as can be; leading notes are raised. */
function spelled(pc: number, { fifths }: LocalKey, isLeading: boolean): Root {
  const lowest = fifths - (isLeading ? 2 : 5);
  const steps = (((pc * 7 - lowest) % 12) + 12) % 12;
  // F is -1 on the line of fifths from C.
  const place = lowest + steps + 1;
  const step = 'FCGDAEB'[((place % 7) + 7) % 7]!;
  return { step: STEPS.find((each) => each === step)!, alter: Math.floor(place / 7) };
}
