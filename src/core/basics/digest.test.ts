import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { digestOf } from './digest';

const value = fc.anything({ withMap: true, withSet: true, withTypedArray: true, maxDepth: 3 });

describe('a digest', () => {
  it('is the same for what was kept and given back', () => {
    fc.assert(
      fc.property(value, (own) => {
        expect(digestOf(structuredClone(own))).toBe(digestOf(own));
      }),
    );
  });

  it('tells a bit of a number and a letter of a text, wherever they stand', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ noNaN: true }), { minLength: 1 }),
        fc.nat(),
        fc.nat(62),
        (list, at, bit) => {
          const bits = new BigInt64Array(Float64Array.from(list).buffer.slice(0));
          bits[at % list.length]! ^= 1n << BigInt(bit);
          const other = [...new Float64Array(bits.buffer)];
          expect(digestOf({ of: other })).not.toBe(digestOf({ of: list }));
        },
      ),
    );
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.nat(), (text, at) => {
        const place = at % text.length;
        const other = `${text.slice(0, place)}${String.fromCharCode(text.charCodeAt(place) ^ 1)}${text.slice(place + 1)}`;
        expect(digestOf(new Map([[1, other]]))).not.toBe(digestOf(new Map([[1, text]])));
      }),
    );
  });

  it('never lets kinds stand for each other', () => {
    const alike = [null, undefined, false, true, 0, '', [], {}, new Map(), new Set(), [[]], '0', [0], '\0'];
    expect(new Set(alike.map(digestOf)).size).toBe(alike.length);
  });

  it('is of plain data alone', () => {
    expect(() => digestOf(() => 1)).toThrow('No plain data: function.');
  });
});
