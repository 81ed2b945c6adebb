/** Starts and primes of FNV-1a (Fowler, Noll, Vo), and a second odd multiplier for the other half. */
const START = 0x811c9dc5;
const PRIME = 0x01000193;
const OTHER_PRIME = 0x85ebca6b;

/** What a value is, where it is no number and no text. */
const KIND = {
  number: 1,
  text: 2,
  null: 3,
  undefined: 4,
  true: 5,
  false: 6,
  list: 7,
  map: 8,
  set: 9,
  object: 10,
};

/**
 * 64 bits that tell damage in plain data: lists, maps, sets and objects of numbers, texts and truth values, in their
 * order. Against chance only, not against people: anybody could make two values with the same bits.
 *
 * @throws TypeError for what is no plain data
 */
export function digestOf(value: unknown): string {
  let low = START;
  let high = START ^ OTHER_PRIME;
  const parts = new Int32Array(2);
  const double = new Float64Array(parts.buffer);
  const mix = (part: number) => {
    low = Math.imul(low ^ part, PRIME);
    high = Math.imul(high ^ part ^ (low >>> 15), OTHER_PRIME);
  };
  const text = (own: string) => {
    mix(own.length);
    for (let at = 0; at < own.length; at++) mix(own.charCodeAt(at));
  };
  const walk = (own: unknown): void => {
    if (typeof own === 'number') {
      mix(KIND.number);
      double[0] = own;
      mix(parts[0] ?? 0);
      mix(parts[1] ?? 0);
    } else if (typeof own === 'string') {
      mix(KIND.text);
      text(own);
    } else if (own === null) mix(KIND.null);
    else if (own === undefined) mix(KIND.undefined);
    else if (typeof own === 'boolean') mix(own ? KIND.true : KIND.false);
    else if (Array.isArray(own) || ArrayBuffer.isView(own)) {
      const list = own as ArrayLike<unknown>;
      mix(KIND.list);
      mix(list.length);
      for (let at = 0; at < list.length; at++) walk(list[at]);
    } else if (own instanceof Map) {
      mix(KIND.map);
      mix(own.size);
      for (const [key, each] of own) {
        walk(key);
        walk(each);
      }
    } else if (own instanceof Set) {
      mix(KIND.set);
      mix(own.size);
      for (const each of own) walk(each);
    } else if (typeof own === 'object') {
      const names = Object.keys(own);
      mix(KIND.object);
      mix(names.length);
      for (const name of names) {
        text(name);
        walk((own as Record<string, unknown>)[name]);
      }
    } else throw new TypeError(`No plain data: ${typeof own}.`);
  };
  walk(value);
  return [high, low].map((half) => (half >>> 0).toString(16).padStart(8, '0')).join('');
}
