import { finished, type Steps } from './steps';

interface Memory {
  of: readonly unknown[];
  value: unknown;
}

/** The last result for each object and purpose, as long as the object lives. */
const results = new WeakMap<object, Map<string, Memory>>();

/**
 * Makes a value again, in steps, only when something that it is made of is no
 * longer the very same since the last call for this object and purpose: so
 * unchanged things keep their identity.
 */
export function* rememberedInSteps<T>(
  owner: object,
  purpose: string,
  of: readonly unknown[],
  make: () => Steps<T>,
): Steps<T> {
  const slots = results.get(owner) ?? new Map<string, Memory>();
  results.set(owner, slots);
  const known = slots.get(purpose);
  if (known?.of.length === of.length && known.of.every((each, index) => each === of[index]))
    return known.value as T;
  const value = yield* make();
  slots.set(purpose, { of: [...of], value });
  return value;
}

/** The same for a value that is made at once. */
export const remembered = <T>(owner: object, purpose: string, of: readonly unknown[], make: () => T): T =>
  finished(
    // biome-ignore lint/correctness/useYield: made at once
    rememberedInSteps(owner, purpose, of, function* () {
      return make();
    }),
  );
