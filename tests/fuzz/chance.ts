import { seeded } from '@/core/basics/random';

/** Seeded choices, from which every input is made: the same seed makes the same input. */
export class Chance {
  private readonly next: () => number;

  constructor(seed: number) {
    this.next = seeded(seed);
    // Neighbouring seeds begin alike.
    for (let at = 0; at < 8; at++) this.next();
  }

  /** From 0 to 1. */
  share = (): number => this.next();
  /** From 0 up to but not including a number. */
  below = (count: number): number => Math.floor(this.next() * count);
  between = (low: number, high: number): number => low + this.below(high - low + 1);
  is = (share: number): boolean => this.next() < share;
  pick = <T>(all: readonly T[]): T => all[this.below(all.length)]!;
  times = <T>(count: number, make: (at: number) => T): T[] =>
    Array.from({ length: count }, (_, at) => make(at));
}

/** Bytes with some of them otherwise: flipped, put in, taken out, doubled, cut off. */
export function damaged(bytes: Uint8Array, chance: Chance, most = 6): Uint8Array {
  let out: Uint8Array = bytes.slice();
  for (let count = chance.between(1, most); count > 0 && out.length > 0; count--) {
    const at = chance.below(out.length);
    const length = Math.min(out.length - at, 1 + chance.below(chance.pick([1, 4, 40, 400])));
    const [before, own, after] = [
      out.subarray(0, at),
      out.subarray(at, at + length),
      out.subarray(at + length),
    ];
    const kind = chance.below(6);
    if (kind === 0) out[at]! ^= 1 << chance.below(8);
    else if (kind === 1) out[at] = chance.pick([0, 1, 0x7f, 0x80, 0xff, chance.below(256)]);
    else if (kind === 2) out = joined(before, after);
    else if (kind === 3) out = joined(before, own, own, after);
    else if (kind === 4)
      out = joined(before, Uint8Array.from(chance.times(length, () => chance.below(256))), after);
    else if (chance.is(0.3)) out = out.slice(0, at);
  }
  return out;
}

export function joined(...parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
