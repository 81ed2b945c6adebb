import type { KeySignature } from '../../model/score';
import { MAJOR_FIFTHS } from './key';

/**
 * How often each degree of a major and of a minor key sounds, from its tonic
 * up, in classical music: Albrecht and Shanahan, "The use of large corpora to
 * train a new type of key-finding algorithm" (2013); values from memory.
 */
export const MAJOR = [0.238, 0.006, 0.111, 0.006, 0.137, 0.094, 0.016, 0.214, 0.009, 0.08, 0.008, 0.081];
export const MINOR = [0.22, 0.006, 0.104, 0.123, 0.019, 0.103, 0.012, 0.214, 0.062, 0.022, 0.061, 0.052];

/** A bar says as much as so many notes by themselves at most: what sounds together agrees beforehand. */
const MOST_NOTES = 5;
/** No note is impossible in any key: passing notes, blue notes, borrowed chords. */
export const FLOOR = 0.012;
/** What another signature must gain before it is written, and a turn to the relative key, in nats. */
const CHANGE = 16;
const RELATIVE = 6;

interface State {
  tonic: number;
  minor: boolean;
  fifths: number;
  /** Log of how often each pitch class sounds. */
  logs: readonly number[];
}

const STATES: readonly State[] = [false, true].flatMap((minor) =>
  MAJOR_FIFTHS.map((_, tonic): State => {
    const profile = minor ? MINOR : MAJOR;
    return {
      tonic,
      minor,
      fifths: MAJOR_FIFTHS[minor ? (tonic + 3) % 12 : tonic]!,
      logs: Array.from({ length: 12 }, (_, pc) =>
        Math.log(Math.max(FLOOR, profile[(pc - tonic + 12) % 12]!)),
      ),
    };
  }),
);

export interface FoundKeys {
  /** Each from its bar on; the first from bar 0. */
  keys: KeySignature[];
  /** What these explain more than C major or A minor throughout, in nats; changes are paid for. */
  overDefault: number;
}

/**
 * The keys of a piece bar by bar: the path of keys that explains its notes
 * best, where a change must gain what it costs (hidden Markov model over bars;
 * after Temperley, The Cognition of Basic Musical Structures, 2001, who puts
 * keys and a price on changes so).
 *
 * @param weights for each bar how long each pitch class sounds, C first, in quarter notes
 */
export function findKeys(weights: readonly (readonly number[])[]): FoundKeys {
  const worths = weights.map(worthOf);
  let scores = STATES.map(() => 0);
  const backs: number[][] = [];
  worths.forEach((worth, bar) => {
    const back: number[] = [];
    scores = STATES.map((state, to) => {
      let best = scores[to]!;
      back[to] = to;
      if (bar > 0)
        STATES.forEach((from, at) => {
          if (at === to) return;
          const cost = from.fifths === state.fifths ? RELATIVE : CHANGE;
          if (scores[at]! - cost > best) {
            best = scores[at]! - cost;
            back[to] = at;
          }
        });
      return best + worth[to]!;
    });
    backs.push(back);
  });
  let at = scores.indexOf(Math.max(...scores));
  const path: number[] = [];
  for (let bar = worths.length - 1; bar >= 0; bar--) {
    path[bar] = at;
    at = backs[bar]![at]!;
  }
  const open = STATES.flatMap(({ fifths }, state) =>
    fifths === 0 ? [worths.reduce((sum, worth) => sum + worth[state]!, 0)] : [],
  );
  return { keys: signaturesOf(path, worths), overDefault: Math.max(...scores) - Math.max(...open) };
}

/** What each key makes of a bar, in nats. */
function worthOf(weights: readonly number[]): number[] {
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  if (total === 0) return STATES.map(() => 0);
  const scale = Math.min(MOST_NOTES, total) / total;
  return STATES.map(({ logs }) => scale * weights.reduce((sum, weight, pc) => sum + weight * logs[pc]!, 0));
}

/** Where the signature changes; its mode is the one that explains the stretch better. */
function signaturesOf(path: readonly number[], worths: readonly (readonly number[])[]): KeySignature[] {
  const keys: KeySignature[] = [];
  for (let from = 0; from < path.length; ) {
    const { fifths } = STATES[path[from]!]!;
    let to = from;
    while (to < path.length && STATES[path[to]!]!.fifths === fifths) to++;
    const worthIn = (minor: boolean) => {
      const state = STATES.findIndex((each) => each.fifths === fifths && each.minor === minor);
      return worths.slice(from, to).reduce((sum, worth) => sum + worth[state]!, 0);
    };
    keys.push({ bar: from, fifths, minor: worthIn(true) > worthIn(false) });
    from = to;
  }
  return keys.length > 0 ? sixesLikeOthers(keys) : [{ bar: 0, fifths: 0, minor: false }];
}

/** Six sharps are six flats: those of the signature before are written on, or of the one after where none is before. */
const sixesLikeOthers = (keys: readonly KeySignature[]): KeySignature[] =>
  keys.map((key, at) => {
    const beside = keys[at - 1]?.fifths ?? keys[at + 1]?.fifths ?? 0;
    return Math.abs(key.fifths) === 6 && key.fifths * beside < 0 ? { ...key, fifths: -key.fifths } : key;
  });
