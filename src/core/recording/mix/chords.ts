import { kindTones } from '../../model/chord-tones';
import type { Hearing } from '../hearing';
import { LOWEST_KEY, MODEL_KEYS } from '../model-form';

/** What sounds from one beat to the next. */
export interface BeatSound {
  /** How much each pitch class sounds, from C; all together 1, or nothing in silence. */
  weights: Float64Array;
  /** How much each is the lowest that sounds; all together at most 1. */
  lows: Float64Array;
  seconds: number;
  isSilent: boolean;
}

/** A chord as it is heard. Beats from and to which it lasts; root as a pitch class from C. */
export interface HeardChord {
  from: number;
  to: number;
  root: number;
  kind: MixKind;
  /** How sure it is against the next best of another root or third, 0–1. */
  confidence: number;
}

export interface ChordPath {
  chords: HeardChord[];
  /** How likely all of it is: the logarithm, by which ways to count bars are told apart. */
  likelihood: number;
}

/** Kinds of chords that are told in a mix, as MusicXML names them; documents number them so: new ones come at the end. */
export const MIX_KINDS = [
  'major',
  'minor',
  'dominant',
  'minor-seventh',
  'major-seventh',
  'half-diminished',
  'diminished',
  'suspended-fourth',
] as const;
export type MixKind = (typeof MIX_KINDS)[number];

/** What speaks against each beforehand (natural logarithms). */
const RARE: Readonly<Record<MixKind, number>> = {
  major: 0,
  minor: 0,
  dominant: 0.6,
  'minor-seventh': 0.6,
  'major-seventh': 0.8,
  'half-diminished': 1.5,
  diminished: 2,
  'suspended-fourth': 2.5,
};
/** Keys whose sound is counted, and those among which the lowest is looked for. */
const [CHORDAL_LOW, CHORDAL_HIGH] = [40, 88];
const [BASS_LOW, BASS_HIGH] = [24, 55];
/** A key that sounds less than this is silent; the lowest must sound so much. */
const SILENT = 0.12;
const LOWEST = 0.3;
/** How much of what sounds belongs to the chord, and the share that its tones have of that: root, third, fifth, seventh. */
const INSIDE = 0.86;
const SHARES = [1.1, 1, 0.9, 0.7] as const;
/** The lowest note is the root, another of its tones, or none. */
const LOW = { root: 0.7, tone: 0.24, other: 0.06 };
/** What a second says, in so many notes, and its lowest one. */
const SECOND_SAYS = 9;
const LOW_SAYS = 2.2;
/** What a change costs at a bar line, in the middle of a bar of four, on another beat. */
const CHANGES = { bar: 1.5, middle: 3.5, other: 6 } as const;

interface State {
  root: number;
  /** Empty for none. */
  kind: MixKind | '';
  rare: number;
  logs: Float64Array;
  lows: Float64Array;
}

const CHORDS: readonly State[] = MIX_KINDS.flatMap((kind) =>
  Array.from({ length: 12 }, (_, root): State => {
    const tones = kindTones(kind);
    const sum = tones.reduce((all, _tone, at) => all + (SHARES[at] ?? SHARES[3]), 0);
    const logs = new Float64Array(12).fill(Math.log((1 - INSIDE) / (12 - tones.length)));
    const lows = new Float64Array(12).fill(Math.log(LOW.other / (12 - tones.length)));
    tones.forEach((tone, at) => {
      logs[(root + tone) % 12] = Math.log((INSIDE * (SHARES[at] ?? SHARES[3])) / sum);
      lows[(root + tone) % 12] = Math.log(at === 0 ? LOW.root : LOW.tone / (tones.length - 1));
    });
    return { root, kind, rare: RARE[kind], logs, lows };
  }),
);

/** Where no chord sounds: in silence, and where everything sounds alike. */
const NONE: State = {
  root: 0,
  kind: '',
  rare: 1,
  logs: new Float64Array(12).fill(Math.log(1 / 12)),
  lows: new Float64Array(12).fill(Math.log(1 / 12)),
};
const STATES: readonly State[] = [...CHORDS, NONE];
/** What a second of silence says against any chord. */
const SILENCE = 6;

/** What sounds in each beat. @param seconds of the beats, the last one where the music ends */
export function soundsOf({ frames, count, perSecond }: Hearing, seconds: readonly number[]): BeatSound[] {
  return seconds.slice(0, -1).map((from, beat): BeatSound => {
    const weights = new Float64Array(12);
    const lows = new Float64Array(12);
    const first = Math.max(0, Math.round(from * perSecond));
    const last = Math.min(count, Math.round(seconds[beat + 1]! * perSecond));
    for (let moment = first; moment < last; moment++) {
      const row = moment * MODEL_KEYS - LOWEST_KEY;
      for (let key = CHORDAL_LOW; key <= CHORDAL_HIGH; key++) {
        const share = frames[row + key]!;
        if (share > SILENT) weights[key % 12]! += share;
      }
      for (let key = BASS_LOW; key <= BASS_HIGH; key++)
        if (frames[row + key]! >= LOWEST) {
          lows[key % 12]! += 1 / Math.max(1, last - first);
          break;
        }
    }
    const all = weights.reduce((sum, weight) => sum + weight, 0);
    if (all > 0) for (let pc = 0; pc < 12; pc++) weights[pc]! /= all;
    return { weights, lows, seconds: seconds[beat + 1]! - from, isSilent: all === 0 };
  });
}

/** How bars are counted: beats a bar, and the first beat that begins one. */
export interface BarCount {
  perBar: number;
  first: number;
}

/**
 * The likeliest chords, beat by beat: templates of pitch classes and of the lowest note, and a hidden Markov model in
 * which chords change at bar lines rather than within bars (Sheh and Ellis, "Chord segmentation and recognition using
 * EM-trained hidden Markov models", 2003, for the model; from memory).
 */
export function chordsOf(sounds: readonly BeatSound[], { perBar, first }: BarCount): ChordPath {
  let scores = STATES.map(({ rare }) => -rare);
  const backs: Int16Array[] = [];
  const fits: Float64Array[] = [];
  sounds.forEach((sound, beat) => {
    const place = (((beat - first) % perBar) + perBar) % perBar;
    const change = place === 0 ? CHANGES.bar : place * 2 === perBar ? CHANGES.middle : CHANGES.other;
    const best = indexOfMost(scores);
    const back = new Int16Array(STATES.length);
    const own = new Float64Array(STATES.length);
    scores = scores.map((score, at) => {
      const state = STATES[at]!;
      const entered = scores[best]! - change - state.rare;
      const stays = beat === 0 || score >= entered;
      back[at] = stays ? at : best;
      own[at] = fitOf(state, sound);
      return (stays ? score : entered) + own[at]!;
    });
    backs.push(back);
    fits.push(own);
  });
  let at = indexOfMost(scores);
  const likelihood = scores[at] ?? 0;
  const path = new Int16Array(sounds.length);
  for (let beat = sounds.length - 1; beat >= 0; beat--) {
    path[beat] = at;
    at = backs[beat]![at]!;
  }
  const chords: HeardChord[] = [];
  for (let from = 0; from < path.length; ) {
    let to = from + 1;
    while (to < path.length && path[to] === path[from]) to++;
    const { root, kind } = STATES[path[from]!]!;
    if (kind !== '')
      chords.push({ from, to, root, kind, confidence: sureness(sounds, fits, { from, to }, path[from]!) });
    from = to;
  }
  return { chords, likelihood };
}

function fitOf(state: State, sound: BeatSound): number {
  const { logs, lows } = state;
  let sum = state !== NONE && sound.isSilent ? -SILENCE : 0;
  for (let pc = 0; pc < 12; pc++)
    sum += SECOND_SAYS * sound.weights[pc]! * logs[pc]! + LOW_SAYS * sound.lows[pc]! * lows[pc]!;
  return sum * sound.seconds;
}

const isMinorThird = (kind: string): boolean => kindTones(kind).includes(3);

/** Against the best chord of another root or third: a chord that sounds for long is no surer than what sounds in it. */
function sureness(
  sounds: readonly BeatSound[],
  fits: readonly Float64Array[],
  { from, to }: { from: number; to: number },
  own: number,
): number {
  const sums = STATES.map(() => 0);
  let seconds = 0;
  for (let beat = from; beat < to; beat++) {
    seconds += sounds[beat]!.seconds;
    for (let at = 0; at < sums.length; at++) sums[at]! += fits[beat]![at]!;
  }
  const { root, kind } = STATES[own]!;
  const other = CHORDS.reduce(
    (best, state, at) =>
      state.root === root && isMinorThird(state.kind) === isMinorThird(kind)
        ? best
        : Math.max(best, sums[at]!),
    Number.NEGATIVE_INFINITY,
  );
  return 1 / (1 + Math.exp((other - sums[own]!) / Math.max(seconds, SHORT)));
}

/** Seconds from which on a chord is as sure as it sounds. */
const SHORT = 0.5;

const indexOfMost = (values: readonly number[]): number =>
  values.reduce((most, value, at) => (value > values[most]! ? at : most), 0);

/** Ways to count bars, and how much each is preferred beforehand: four beats are usual. */
const COUNTS: readonly [perBar: number, prior: number][] = [
  [4, 0],
  [3, -4],
];

/** The way to count bars in which the chords change where chords change. */
export function barsOf(sounds: readonly BeatSound[]): BarCount & ChordPath {
  const ways = COUNTS.flatMap(([perBar, prior]) =>
    Array.from({ length: perBar }, (_, first) => {
      const { chords, likelihood } = chordsOf(sounds, { perBar, first });
      return { perBar, first, chords, likelihood: likelihood + prior };
    }),
  );
  return ways.reduce((best, way) => (way.likelihood > best.likelihood ? way : best));
}
