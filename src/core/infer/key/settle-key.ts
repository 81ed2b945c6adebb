import type { Decisions } from '../../decisions/decisions';
import { type Frame, frameIndex } from '../../model/frame';
import type { KeyChange } from '../../model/performance';
import type { KeySignature } from '../../model/score';
import { contradictsDefault, estimateKey } from './key';

export interface KeyDecision {
  keys: KeySignature[];
  why: string;
}

/**
 * Step 10: the concert key. The brief decides; else the file's signatures;
 * else an estimate. A lone C major at the start is what files say that know
 * no key: it gives way when the notes speak clearly for another one.
 */
export function settleKey(
  changes: readonly KeyChange[],
  weights: readonly number[],
  frame: Frame,
  decisions: Decisions,
): KeyDecision {
  if (decisions.key) return { keys: [{ bar: 0, ...decisions.key }], why: 'You chose the key.' };
  const estimate = estimateKey(weights);
  const estimated = [{ bar: 0, fifths: estimate.fifths, minor: estimate.minor }];
  if (changes.length === 0)
    return { keys: estimated, why: 'The source gives no key; this one fits its notes best.' };
  const keys = keysFromFile(changes, frame);
  const [only] = keys;
  const isDefault = keys.length === 1 && only!.fifths === 0 && !only!.minor;
  if (isDefault && contradictsDefault(weights))
    return {
      keys: estimated,
      why: 'The source says C major, as files do that know no key; its notes speak for this one.',
    };
  return { keys, why: 'From the source.' };
}

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
