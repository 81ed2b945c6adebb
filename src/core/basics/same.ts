/** Values that are compared by identity: large ones, that are shared and never changed. */
const wholes = new WeakSet<object>();

/** Has a value compared by identity alone. @returns the same value */
export function whole<T>(value: T): T {
  if (typeof value === 'object' && value !== null) wholes.add(value);
  return value;
}

/**
 * Whether two values are the same: identical, or made of the same things in the same order. Lists, maps, sets, plain
 * objects and typed arrays are looked into; what is `whole`, and whatever else there is, is the same as itself alone.
 */
export function isSame(one: unknown, two: unknown): boolean {
  if (Object.is(one, two)) return true;
  if (typeof one !== 'object' || typeof two !== 'object' || one === null || two === null) return false;
  if (wholes.has(one) || wholes.has(two)) return false;
  const kind = Object.getPrototypeOf(one);
  if (kind !== Object.getPrototypeOf(two)) return false;
  if (Array.isArray(one)) return areSame(one, two as unknown[]);
  if (kind === Object.prototype || kind === null) return areSameFields(one, two);
  if (one instanceof Map) return areSame([...one], [...(two as typeof one)]);
  if (one instanceof Set) return areSame([...one], [...(two as typeof one)]);
  if (ArrayBuffer.isView(one) && !(one instanceof DataView)) return areSame(numbersOf(one), numbersOf(two));
  return false;
}

const numbersOf = (view: object): ArrayLike<unknown> => view as unknown as ArrayLike<unknown>;

function areSame(one: ArrayLike<unknown>, two: ArrayLike<unknown>): boolean {
  if (one.length !== two.length) return false;
  for (let at = 0; at < one.length; at++) if (!isSame(one[at], two[at])) return false;
  return true;
}

function areSameFields(one: object, two: object): boolean {
  const names = Object.keys(one);
  if (names.length !== Object.keys(two).length) return false;
  const [own, other] = [one as Record<string, unknown>, two as Record<string, unknown>];
  return names.every((name) => Object.hasOwn(other, name) && isSame(own[name], other[name]));
}
