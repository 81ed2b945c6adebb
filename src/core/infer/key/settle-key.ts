import type { Decisions } from '../../decisions/decisions';
import type { BarSignChoice } from '../../model/bar-signs';
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
  { key, barSigns }: Pick<Decisions, 'key' | 'barSigns'>,
): KeyDecision {
  const settled = settledWhole(changes, weights, frame, key);
  const chosen = barSigns.filter(({ what }) => what === 'key');
  if (chosen.length === 0) return settled;
  const { keys, count } = withChosen(settled.keys, chosen, frame);
  const own = count === 1 ? 'You chose the key of one bar.' : `You chose the keys of ${count} bars.`;
  return { keys, why: count === 0 ? settled.why : `${settled.why} ${own}` };
}

/** Signatures with those that were chosen from a bar on, or taken off there; the first one of a piece stays one. */
function withChosen(
  keys: readonly KeySignature[],
  chosen: readonly BarSignChoice[],
  { bars }: Frame,
): { keys: KeySignature[]; count: number } {
  const byBar = new Map(keys.map((each) => [each.bar, each]));
  let count = 0;
  for (const { at, put, fifths = 0, minor = false } of chosen) {
    const bar = bars.findIndex(({ start }) => start === at);
    if (bar < 0 || (bar === 0 && !put)) continue;
    count++;
    if (put) byBar.set(bar, { bar, fifths, minor });
    else byBar.delete(bar);
  }
  return { keys: changesOnly([...byBar.values()].sort((a, b) => a.bar - b.bar)), count };
}

/** Signatures that say no more than the one before them are none. */
const changesOnly = (keys: readonly KeySignature[]): KeySignature[] =>
  keys.filter((key, index) => {
    const before = keys[index - 1];
    return !before || before.fifths !== key.fifths || before.minor !== key.minor;
  });

function settledWhole(
  changes: readonly KeyChange[],
  weights: readonly (readonly number[])[],
  frame: Frame,
  key: Decisions['key'],
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
  return changesOnly(keys);
}
