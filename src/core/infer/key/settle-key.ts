import type { Decisions } from '../../decisions/decisions';
import { type Frame, frameIndex } from '../../model/frame';
import type { KeyChange } from '../../model/performance';
import type { KeySignature } from '../../model/score';
import { findKeys } from './find-keys';

export interface KeyDecision {
  keys: KeySignature[];
  why: string;
}

/** Nats that the notes must speak for other signatures than C, where a file says C: in all, and for each bar. */
const CLEAR = 5;
const CLEAR_EACH = 0.3;

/**
 * Step 10: the concert keys. The brief decides; else the file's signatures;
 * else those that are found. A lone C major at the start is what files say
 * that know no key: it gives way when the notes speak clearly for others.
 *
 * @param weights for each bar how long each pitch class sounds, C first, in quarter notes
 */
export function settleKey(
  changes: readonly KeyChange[],
  weights: readonly (readonly number[])[],
  frame: Frame,
  { key }: Pick<Decisions, 'key'>,
): KeyDecision {
  if (key) return { keys: [{ bar: 0, ...key }], why: 'You chose the key.' };
  if (changes.length === 0) {
    const { keys } = findKeys(weights);
    return { keys, why: `The source gives no key; ${whichFit(keys)}.` };
  }
  const keys = keysFromFile(changes, frame);
  const [only] = keys;
  const isDefault = keys.length === 1 && only!.fifths === 0 && !only!.minor;
  if (isDefault) {
    const { keys: found, overDefault } = findKeys(weights);
    const bars = weights.filter((own) => own.some((weight) => weight > 0)).length;
    if (overDefault > CLEAR + CLEAR_EACH * bars)
      return {
        keys: found,
        why: `The source says C major, as files do that know no key; ${whichFit(found)}.`,
      };
  }
  return { keys, why: 'From the source.' };
}

const whichFit = (keys: readonly KeySignature[]): string =>
  keys.length === 1 ? 'this one fits its notes best' : 'these fit its notes best';

/** Signatures stand at bar lines: one inside a bar moves to the nearer end of it. */
function keysFromFile(changes: readonly KeyChange[], frame: Frame): KeySignature[] {
  const byBar = new Map<number, KeySignature>();
  for (const change of changes) {
    const index = frameIndex(frame, change.tick);
    const end = frame.ticks[index + 1] ?? Number.POSITIVE_INFINITY;
    const bar = change.tick - frame.ticks[index]! > end - change.tick ? index + 1 : index;
    byBar.set(bar, { bar, fifths: change.fifths, minor: change.minor });
  }
  const keys = [...byBar.values()].sort((a, b) => a.bar - b.bar);
  if (keys[0]!.bar > 0) keys.unshift({ ...keys[0]!, bar: 0 });
  return keys.filter((key, index) => {
    const before = keys[index - 1];
    return !before || before.fifths !== key.fifths || before.minor !== key.minor;
  });
}
