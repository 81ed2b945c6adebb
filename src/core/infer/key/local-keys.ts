import type { LocalKey } from '../../model/sketch';
import { FLOOR, MAJOR, MINOR } from './find-keys';

/** Keys this far from the printed signature are thought of, in fifths. */
const REACH = 8;
/** What sounds together agrees beforehand: a beat says as much as so many notes by themselves at most. */
const MOST_NOTES = 5;
/** What a change of key must gain, in nats: at all, for each fifth, to the relative key, to the key of the same tonic. */
const CHANGE = 4.6;
const PER_FIFTH = 0.5;
const RELATIVE = 2.5;
const PARALLEL = 3;
/** What it costs to be a fifth away from the printed signature, for each beat: of two names of a key the nearer one is read. */
const AWAY = 0.1;

const logsOf = (profile: readonly number[], tonic: number): number[] =>
  Array.from({ length: 12 }, (_, pc) => Math.log(Math.max(FLOOR, profile[(pc - tonic + 12) % 12]!)));
const LOGS = [MAJOR, MINOR].map((profile) =>
  Array.from({ length: 12 }, (_, tonic) => logsOf(profile, tonic)),
);

const STATES: readonly LocalKey[] = Array.from({ length: 2 * REACH + 1 }, (_, at) => at - REACH).flatMap(
  (fifths) => [
    { fifths, minor: false },
    { fifths, minor: true },
  ],
);

/** Distances from a signature are those of all states; costs of going from one to another. */
const CHANGES = STATES.map((from) => STATES.map((to) => changeCost(from, to)));

function changeCost(from: LocalKey, to: LocalKey): number {
  const apart = to.fifths - from.fifths;
  if (apart === 0) return from.minor === to.minor ? 0 : RELATIVE;
  // A minor key has the signature three fifths below that of the major one on its tonic.
  if (from.minor !== to.minor && apart === (to.minor ? -3 : 3)) return PARALLEL;
  return CHANGE + PER_FIFTH * Math.abs(apart);
}

/**
 * The key of each beat as it is heard, signatures aside, that notes are to be
 * spelled in: a path over keys on the line of fifths near the printed signature
 * (hidden Markov model; after Temperley, The Cognition of Basic Musical
 * Structures, 2001, whose keys and spellings stand on one line of fifths too).
 *
 * @param weights for each beat how long each pitch class sounds, C first, in quarter notes
 * @param signatureAt the printed signature of each beat (index), in concert pitch
 */
export function localKeys(
  weights: readonly (readonly number[])[],
  signatureAt: (beat: number) => number,
): LocalKey[] {
  let scores = STATES.map(() => 0);
  const backs: Uint8Array[] = [];
  weights.forEach((own, beat) => {
    const signature = signatureAt(beat);
    // Where the signature changes, the same key has another distance from it.
    const moved = beat === 0 ? 0 : signature - signatureAt(beat - 1);
    const total = own.reduce((sum, weight) => sum + weight, 0);
    const scale = total === 0 ? 0 : Math.min(MOST_NOTES, total) / total;
    const back = new Uint8Array(STATES.length);
    scores = STATES.map((state, to) => {
      let best = Number.NEGATIVE_INFINITY;
      for (let from = 0; from < STATES.length; from++) {
        const was = to + 2 * moved;
        const change = was >= 0 && was < STATES.length ? CHANGES[from]![was]! : CHANGE + PER_FIFTH * REACH;
        if (scores[from]! - change <= best) continue;
        best = scores[from]! - change;
        back[to] = from;
      }
      return best + scale * worthOf(own, state, signature) - AWAY * Math.abs(state.fifths);
    });
    backs.push(back);
  });
  let at = scores.indexOf(Math.max(...scores));
  const path: LocalKey[] = [];
  for (let beat = weights.length - 1; beat >= 0; beat--) {
    const { fifths, minor } = STATES[at]!;
    path[beat] = { fifths: fifths + signatureAt(beat), minor };
    at = backs[beat]![at]!;
  }
  return path;
}

/** What a key makes of what sounds in a beat, in nats for each unit of it. */
function worthOf(weights: readonly number[], { fifths, minor }: LocalKey, signature: number): number {
  const tonic = ((((fifths + signature + (minor ? 3 : 0)) * 7) % 12) + 12) % 12;
  const logs = LOGS[minor ? 1 : 0]![tonic]!;
  let sum = 0;
  for (let pc = 0; pc < 12; pc++) sum += weights[pc]! * logs[pc]!;
  return sum;
}
