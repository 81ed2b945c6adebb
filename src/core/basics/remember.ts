/** The last result for each object and purpose, as long as the object lives. */
const results = new WeakMap<object, Map<string, { key: string; value: unknown }>>();

/**
 * Makes a value again only when its key changed since the last call for the
 * same object and purpose: so unchanged things keep their identity.
 */
export function remembered<T>(owner: object, purpose: string, key: string, make: () => T): T {
  const slots = results.get(owner) ?? new Map<string, { key: string; value: unknown }>();
  results.set(owner, slots);
  const known = slots.get(purpose);
  if (known?.key === key) return known.value as T;
  const value = make();
  slots.set(purpose, { key, value });
  return value;
}
