import { BadSourceError } from '../refused';

/** The text of an XML document, and how many bytes its mark took. */
export interface Decoded {
  text: string;
  /** The encoding by the names of the Encoding Standard (WHATWG). */
  encoding: string;
}

/** Documents say in which encoding they are within their first line. */
const HEAD = 200;
const DECLARED = /^\s*<\?xml[^>]*\bencoding\s*=\s*["']([A-Za-z][\w.-]*)["']/;

/**
 * Decodes a document by its byte order mark, by the shape of its first bytes,
 * or by what its declaration says (XML 1.0, appendix F); UTF-8 where it says nothing.
 *
 * @throws BadSourceError for an encoding that is not known, or bytes that are not of it
 */
export function decodeXml(bytes: Uint8Array): Decoded {
  const encoding = markedEncoding(bytes) ?? declaredEncoding(bytes) ?? 'utf-8';
  let decoder: TextDecoder;
  try {
    decoder = new TextDecoder(encoding, { fatal: true });
  } catch {
    throw new BadSourceError(`The file says that it is in ${encoding}, an encoding that is not known here.`);
  }
  try {
    return { text: decoder.decode(bytes), encoding: decoder.encoding };
  } catch {
    throw new BadSourceError(`The file says that it is in ${encoding}, and its bytes are not.`);
  }
}

/** The bytes of a document in UTF-8, whatever it was in; it says so where it said something else. */
export const encodeXml = (text: string): Uint8Array =>
  new TextEncoder().encode(
    text.replace(/^(<\?xml[^>]*\bencoding\s*=\s*["'])(?!utf-8["'])[^"']+/i, '$1UTF-8'),
  );

function markedEncoding([one, two, three, four]: Uint8Array): string | null {
  if (one === 0xef && two === 0xbb && three === 0xbf) return 'utf-8';
  if (one === 0xfe && two === 0xff) return 'utf-16be';
  if (one === 0xff && two === 0xfe) return 'utf-16le';
  // Without a mark: "<?" in two bytes each.
  if (one === 0 && two === 0x3c && three === 0 && four === 0x3f) return 'utf-16be';
  if (one === 0x3c && two === 0 && three === 0x3f && four === 0) return 'utf-16le';
  return null;
}

function declaredEncoding(bytes: Uint8Array): string | null {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, HEAD));
  const declared = DECLARED.exec(head)?.[1]?.toLowerCase();
  // Said in single bytes, it cannot be in double ones.
  return declared?.startsWith('utf-16') ? 'utf-8' : (declared ?? null);
}
