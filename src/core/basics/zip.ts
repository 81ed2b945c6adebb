import { inflateSync, type Zippable, zipSync } from 'fflate';

/** Nothing in a zip says when it was made: the same files are the same zip. */
const NO_DATE = new Date(1980, 0, 1);

/** How hard a file is packed: 0 for not at all. */
export type Level = 0 | 6;

/** Files as one zip, by their paths. */
export function packZip(
  files: Readonly<Record<string, Uint8Array>>,
  levelOf: (path: string) => Level = () => 6,
) {
  const all = Object.entries(files).map(([path, bytes]): [string, Zippable[string]] => [
    path,
    [bytes, { mtime: NO_DATE, level: levelOf(path) }],
  ]);
  return zipSync(Object.fromEntries(all));
}

/** Thrown for a zip that is not whole; the message says what of it, as the end of a sentence. */
export class BadZipError extends Error {
  override name = 'BadZipError';
}

/** What a zip says of a file in it; bytes packed and unpacked. */
export interface ZipEntry {
  name: string;
  size: number;
  originalSize: number;
}

/**
 * Unpacks files of a zip and compares each with its checksum.
 *
 * @param wanted asked of every file before it is unpacked; may throw to stop
 * @returns the files that are whole, and the names of those that are not
 * @throws BadZipError where the bytes are no zip
 */
export function unpackZip(
  bytes: Uint8Array,
  wanted: (entry: ZipEntry) => boolean,
): { files: ReadonlyMap<string, Uint8Array>; damaged: readonly string[] } {
  const files = new Map<string, Uint8Array>();
  const damaged: string[] = [];
  const entries = entriesOf(bytes);
  if (!entries) throw new BadZipError('it is not a zip that can be read');
  for (const entry of entries) {
    if (!wanted(entry)) continue;
    const { name, checksum } = entry;
    // A name that stands twice could be one file to one reader, and another to the next.
    const isTwice = files.delete(name) || damaged.includes(name);
    const unpacked = isTwice ? undefined : unpackedAt(bytes, entry);
    if (unpacked && unpacked.length === entry.originalSize && crc32(unpacked) === checksum)
      files.set(name, unpacked);
    else if (!damaged.includes(name)) damaged.push(name);
  }
  return { files, damaged };
}

interface Entry extends ZipEntry {
  checksum: number;
  method: number;
  /** Where its own header stands. */
  header: number;
}

/** So many times its length is the most that anything deflated comes to (zlib, "Technical Details": 258 bytes in 2 bits). */
const MOST_TIMES = 1032;

/** One file; undefined where its packed bytes are not whole. */
function unpackedAt(
  bytes: Uint8Array,
  { header, method, size, originalSize }: Entry,
): Uint8Array | undefined {
  if (header + LOCAL.size > bytes.length) return undefined;
  const view = viewOf(bytes);
  const from =
    header +
    LOCAL.size +
    view.getUint16(header + LOCAL.name, true) +
    view.getUint16(header + LOCAL.extra, true);
  // What says that it is longer than all there is, or than anything of its length can be, is not unpacked to find out.
  if (from + size > bytes.length || originalSize > MOST_TIMES * size) return undefined;
  const packed = bytes.subarray(from, from + size);
  if (method === STORED) return packed.slice();
  if (method !== DEFLATED) return undefined;
  try {
    return inflateSync(packed, { out: new Uint8Array(originalSize) });
  } catch {
    return undefined;
  }
}

const viewOf = ({ buffer, byteOffset, byteLength }: Uint8Array) =>
  new DataView(buffer, byteOffset, byteLength);

/** Signatures and offsets of the format (APPNOTE 6.3, 4.3.7, 4.3.12 and 4.3.16). */
const LOCAL = { size: 30, name: 26, extra: 28 };
const STORED = 0;
const DEFLATED = 8;
const END = { signature: 0x06054b50, size: 22, count: 10, directory: 16 };
const FILE = {
  signature: 0x02014b50,
  size: 46,
  flags: 8,
  method: 10,
  crc: 16,
  packed: 20,
  unpacked: 24,
  name: 28,
  extra: 30,
  comment: 32,
  header: 42,
};
const LONGEST_COMMENT = 0xffff;
const NAMES_ARE_UTF8 = 0x800;

/** The directory of a zip; null where there is none that can be read. */
function entriesOf(bytes: Uint8Array): Entry[] | null {
  const view = viewOf(bytes);
  const least = Math.max(0, bytes.length - END.size - LONGEST_COMMENT);
  let end = bytes.length - END.size;
  while (end >= least && view.getUint32(end, true) !== END.signature) end--;
  if (end < least) return null;
  const count = view.getUint16(end + END.count, true);
  let at = view.getUint32(end + END.directory, true);
  const entries: Entry[] = [];
  for (let index = 0; index < count; index++) {
    if (at + FILE.size > end || view.getUint32(at, true) !== FILE.signature) return null;
    const length = view.getUint16(at + FILE.name, true);
    const raw = bytes.subarray(at + FILE.size, at + FILE.size + length);
    const isUtf8 = (view.getUint16(at + FILE.flags, true) & NAMES_ARE_UTF8) !== 0;
    entries.push({
      name: isUtf8 ? new TextDecoder().decode(raw) : String.fromCharCode(...raw),
      method: view.getUint16(at + FILE.method, true),
      header: view.getUint32(at + FILE.header, true),
      checksum: view.getUint32(at + FILE.crc, true),
      size: view.getUint32(at + FILE.packed, true),
      originalSize: view.getUint32(at + FILE.unpacked, true),
    });
    at +=
      FILE.size + length + view.getUint16(at + FILE.extra, true) + view.getUint16(at + FILE.comment, true);
  }
  return entries;
}

/** The polynomial of ISO 3309 and ITU-T V.42, reversed. */
const POLYNOMIAL = 0xedb88320;
const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ POLYNOMIAL : value >>> 1;
  return value;
});

/** The checksum of bytes as zip and gzip have it (ISO 3309). */
export function crc32(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (const byte of bytes) value = (value >>> 8) ^ TABLE[(value ^ byte) & 0xff]!;
  return ~value >>> 0;
}
