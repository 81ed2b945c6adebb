import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BadZipError, crc32, packZip, unpackZip } from './zip';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const all = () => true;

describe('a zip', () => {
  it('has the checksum of ISO 3309', () => {
    // The check value of the catalogue of parametrised CRC algorithms for CRC-32/ISO-HDLC.
    expect(crc32(bytesOf('123456789'))).toBe(0xcbf43926);
    expect(crc32(new Uint8Array())).toBe(0);
  });

  it('comes back as it was, whatever is in it, and says nothing of when it was made', () => {
    fc.assert(
      fc.property(
        fc.dictionary(fc.stringMatching(/^[a-zé♭/]{1,9}$/), fc.uint8Array({ maxLength: 300 }), {
          maxKeys: 6,
        }),
        (files) => {
          const zip = packZip(files);
          const { files: back, damaged } = unpackZip(zip, all);
          expect(damaged).toEqual([]);
          expect(Object.fromEntries(back)).toEqual(files);
          expect(packZip(files)).toEqual(zip);
        },
      ),
    );
  });

  it('tells each file that is not what it was, and keeps the others', () => {
    const files = { a: bytesOf('one'.repeat(50)), b: Uint8Array.from({ length: 200 }, (_, at) => at * 7) };
    const zip = packZip(files, () => 0);
    let told = 0;
    for (let at = 0; at < zip.length; at++) {
      const flipped = zip.slice();
      flipped[at]! ^= 4;
      try {
        const { files: back, damaged } = unpackZip(flipped, all);
        for (const [name, bytes] of back)
          if (name in files) expect(bytes).toEqual(files[name as keyof typeof files]);
        told += damaged.length > 0 ? 1 : 0;
      } catch (error) {
        expect(error).toBeInstanceOf(BadZipError);
      }
    }
    // Every flipped byte of what is packed is noticed.
    expect(told).toBeGreaterThanOrEqual(files.a.length + files.b.length);
  });

  it.each([
    ['nothing', new Uint8Array()],
    ['text', bytesOf('flour, eggs')],
    ['half of one', packZip({ a: bytesOf('a'.repeat(400)) }).slice(0, 60)],
  ])('that is %s is none', (_, bytes) => {
    expect(() => unpackZip(bytes, all)).toThrow(BadZipError);
  });

  it('unpacks nothing that says more of itself than can be', () => {
    const zip = packZip({ 'a.txt': new Uint8Array(3000) });
    const directory = zip.findLastIndex(
      (byte, at) => byte === 0x50 && zip[at + 1] === 0x4b && zip[at + 2] === 1 && zip[at + 3] === 2,
    );
    for (const [at, value] of [
      // Packed: more than there is. Unpacked: more than anything so long can come to.
      [20, zip.length + 1],
      [24, 0x6a000000],
    ] as const) {
      const lying = zip.slice();
      new DataView(lying.buffer).setUint32(directory + at, value, true);
      const { files, damaged } = unpackZip(lying, () => true);
      expect([...files.keys()]).toEqual([]);
      expect(damaged).toEqual(['a.txt']);
    }
  });
});
