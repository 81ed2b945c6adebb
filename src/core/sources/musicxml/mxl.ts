import { strFromU8, strToU8 } from 'fflate';
import { BadZipError, packZip, unpackZip, type ZipEntry } from '../../basics/zip';
import { BadSourceError } from '../refused';

const MEDIA_TYPE = 'application/vnd.recordare.musicxml';
const CONTAINER = 'META-INF/container.xml';

/** More than a score has: files in the archive, bytes of one unpacked, and how much smaller packing makes text. */
const MOST_FILES = 2000;
const MOST_BYTES = 150_000_000;
const MOST_RATIO = 400;
/** Below this size no ratio is suspect, in bytes. */
const SMALL = 1_000_000;

/** Packs a MusicXML document as a compressed .mxl file (MusicXML 4.0, "Compressed .mxl files"). */
export function packMxl(document: string | Uint8Array, name = 'score.musicxml'): Uint8Array {
  const container = `<?xml version="1.0" encoding="UTF-8"?>
<container>
 <rootfiles>
  <rootfile full-path="${name}" media-type="${MEDIA_TYPE}+xml"/>
 </rootfiles>
</container>
`;
  // The media type goes first and unpacked, so that a file can be told by its first bytes.
  return packZip(
    {
      mimetype: strToU8(MEDIA_TYPE),
      [CONTAINER]: strToU8(container),
      [name]: typeof document === 'string' ? strToU8(document) : document,
    },
    (path) => (path === 'mimetype' ? 0 : 6),
  );
}

/** Whether bytes are a zip archive, by their signature. */
export const isZip = ([one, two, three, four]: Uint8Array): boolean =>
  one === 0x50 && two === 0x4b && three === 3 && four === 4;

/**
 * The bytes of the MusicXML document inside a .mxl file: the first root file
 * that the container names. Nothing else is unpacked, and no path leads anywhere.
 *
 * @throws BadSourceError with a sentence for people when there is none
 */
export function unpackMxl(bytes: Uint8Array): Uint8Array {
  const container = fileOf(bytes, CONTAINER);
  if (!container) throw new BadSourceError('The .mxl file has no container that names its score.');
  const roots = [...strFromU8(container).matchAll(/<rootfile\b[^>]*>/g)].map(([tag]) => ({
    path: unescaped(/\bfull-path\s*=\s*["']([^"']+)["']/.exec(tag)?.[1] ?? ''),
    type: /\bmedia-type\s*=\s*["']([^"']+)["']/.exec(tag)?.[1],
  }));
  // The first is the score; others may be pictures or sounds of it.
  const root = roots.find(({ type }) => type === undefined || type.includes('xml')) ?? roots[0];
  const document = root?.path ? fileOf(bytes, root.path) : undefined;
  if (!document)
    throw new BadSourceError(
      root?.path
        ? `The .mxl file names a score, ${root.path.slice(0, 100)}, that is not in it.`
        : 'The .mxl file names no score.',
    );
  return document;
}

/** One file of an archive. @throws BadSourceError for one that is no archive, is damaged, or unpacks beyond all measure */
function fileOf(bytes: Uint8Array, name: string): Uint8Array | undefined {
  let seen = 0;
  const wanted = (info: ZipEntry): boolean => {
    if (++seen > MOST_FILES) throw new BadSourceError('The .mxl file holds more files than any score has.');
    if (info.name !== name) return false;
    if (
      info.originalSize > MOST_BYTES ||
      (info.originalSize > SMALL && info.originalSize > MOST_RATIO * info.size)
    )
      throw new BadSourceError('The .mxl file unpacks to far more than any score: it is not opened.');
    return true;
  };
  try {
    const { files, damaged } = unpackZip(bytes, wanted);
    if (damaged.length > 0)
      throw new BadSourceError(
        `The .mxl file is damaged: ${name.slice(0, 100)} in it is not what was packed. Get the file again from where it came.`,
      );
    return files.get(name);
  } catch (error) {
    if (error instanceof BadZipError)
      throw new BadSourceError('The .mxl file is not a readable zip archive.');
    throw error;
  }
}

const unescaped = (text: string): string =>
  text
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&apos;', "'")
    .replaceAll('&amp;', '&');
