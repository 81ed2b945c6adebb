import type { Encoding } from './events';

const utf8 = new TextDecoder('utf-8', { fatal: true });
/** For a text that was cut, maybe inside a character. */
const leniently = new TextDecoder('utf-8');
const shiftJis = new TextDecoder('shift_jis', { fatal: true });

/**
 * Which encoding a file's texts are in: UTF-8 when every text is valid UTF-8,
 * Shift-JIS where it plainly is (valid, and most two-byte pairs are kana or
 * kanji), else Latin-1. Looked at over all texts of a file together, since a
 * single short name rarely decides.
 */
export function detectEncoding(texts: readonly Uint8Array[]): Encoding {
  const suspects = texts.filter((bytes) => bytes.some((byte) => byte >= 0x80));
  if (suspects.every((bytes) => decodes(utf8, bytes) !== null)) return 'utf-8';
  let japanese = 0;
  let high = 0;
  for (const bytes of suspects) {
    const text = decodes(shiftJis, bytes);
    if (text === null) return 'latin-1';
    for (const char of text) {
      if (char.codePointAt(0)! < 0x80) continue;
      high++;
      // Half-width katakana are left out: single high bytes are what Latin-1 letters look like.
      if (/[\u3000-\u30ff\u4e00-\u9fff\uff01-\uff5e]/.test(char)) japanese++;
    }
  }
  return high > 0 && japanese / high > 0.7 ? 'shift-jis' : 'latin-1';
}

function decodes(decoder: TextDecoder, bytes: Uint8Array): string | null {
  try {
    return decoder.decode(bytes);
  } catch {
    return null;
  }
}

/** What is longer is no text for people. */
const MOST_BYTES = 65_536;

/**
 * Decodes one text. A text that does not fit the file's encoding falls back
 * to Latin-1, which can hold any byte. Trailing NULs and control characters
 * other than line breaks are dropped from the result (the bytes stay).
 */
export function decodeText(whole: Uint8Array, encoding: Encoding): string {
  const bytes = whole.subarray(0, MOST_BYTES);
  const text =
    encoding === 'utf-8'
      ? decodes(whole.length > MOST_BYTES ? leniently : utf8, bytes)
      : encoding === 'shift-jis'
        ? decodes(shiftJis, bytes)
        : null;
  const raw = text ?? Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
  return raw.replace(/[\u0000-\u0009\u000b\u000c\u000e-\u001f\u007f-\u009f]/g, '');
}
