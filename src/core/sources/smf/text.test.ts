import { describe, expect, it } from 'vitest';
import { decodeText, detectEncoding } from './text';

const utf8 = (text: string) => new TextEncoder().encode(text);
const latin1 = (text: string) => Uint8Array.from([...text].map((char) => char.charCodeAt(0)));
/** バイオリン ("violin") and 弦 ("strings") in Shift-JIS (code points from the JIS X 0208 table). */
const SHIFT_JIS = [
  Uint8Array.from([0x83, 0x6f, 0x83, 0x43, 0x83, 0x49, 0x83, 0x8a, 0x83, 0x93]),
  Uint8Array.from([0x8c, 0xb7]),
];

describe('text encodings', () => {
  it('tells UTF-8, Latin-1 and Shift-JIS apart', () => {
    expect(detectEncoding([utf8('Violin'), utf8('Flöte')])).toBe('utf-8');
    expect(detectEncoding([latin1('Flöte'), latin1('Hörner')])).toBe('latin-1');
    expect(detectEncoding(SHIFT_JIS)).toBe('shift-jis');
    expect(detectEncoding([])).toBe('utf-8');
  });

  it('decodes each', () => {
    expect(decodeText(utf8('Flöte'), 'utf-8')).toBe('Flöte');
    expect(decodeText(latin1('Flöte'), 'latin-1')).toBe('Flöte');
    expect(SHIFT_JIS.map((bytes) => decodeText(bytes, 'shift-jis'))).toEqual(['バイオリン', '弦']);
  });

  it('drops NULs and control characters, keeps line breaks', () => {
    expect(decodeText(utf8('Oboe\u0000\u0007\n2'), 'utf-8')).toBe('Oboe\n2');
  });

  it('falls back to Latin-1 for a text that does not fit', () => {
    expect(decodeText(latin1('für'), 'utf-8')).toBe('für');
  });
});
