import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';

const MEDIA_TYPE = 'application/vnd.recordare.musicxml';

/** Packs a MusicXML document as a compressed .mxl file (MusicXML 4.0, "Compressed .mxl files"). */
export function packMxl(document: string, name = 'score.musicxml'): Uint8Array {
  const container = `<?xml version="1.0" encoding="UTF-8"?>
<container>
 <rootfiles>
  <rootfile full-path="${name}" media-type="${MEDIA_TYPE}+xml"/>
 </rootfiles>
</container>
`;
  // The media type goes first and unpacked, so that a file can be told by its first bytes.
  return zipSync(
    {
      mimetype: [strToU8(MEDIA_TYPE), { level: 0 }],
      'META-INF/container.xml': strToU8(container),
      [name]: strToU8(document),
    },
    { mtime: new Date('1980-01-01T00:00:00') },
  );
}

/**
 * The MusicXML document inside a .mxl file.
 * @throws Error with a sentence for people when there is none
 */
export function unpackMxl(bytes: Uint8Array): string {
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes);
  } catch {
    throw new Error('The .mxl file is not a readable zip archive.');
  }
  const container = files['META-INF/container.xml'];
  const path = container && /full-path="([^"]+)"/.exec(strFromU8(container))?.[1];
  const root = path && files[path];
  if (!root) throw new Error('The .mxl file names no score.');
  return strFromU8(root);
}
