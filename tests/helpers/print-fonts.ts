import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Face, type Fonts, facesFor } from '@/workers/print-faces';

const ROOT = join(import.meta.dirname, '../..');
let fonts: Fonts | undefined;

/** The faces of a PDF as the page has them. */
export function printFonts(): Fonts {
  if (fonts) return fonts;
  execFileSync(process.execPath, [join(ROOT, 'scripts/print-fonts.mjs')]);
  const read = (face: Face) =>
    new Uint8Array(readFileSync(join(ROOT, 'public/print-fonts', face.replaceAll(' ', '-'))));
  // A letter of each script.
  fonts = new Map(facesFor(['řωЖ']).faces.map((face) => [face, read(face)]));
  return fonts;
}
