import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FACES, type Face, type Fonts } from '@/workers/pdf';

const ROOT = join(import.meta.dirname, '../..');
let fonts: Fonts | undefined;

/** The faces of a PDF as the page has them. */
export function printFonts(): Fonts {
  if (fonts) return fonts;
  execFileSync(process.execPath, [join(ROOT, 'scripts/print-fonts.mjs')]);
  const read = (face: Face) =>
    new Uint8Array(readFileSync(join(ROOT, 'public/print-fonts', face.replace(' ', '-'))));
  fonts = Object.fromEntries(FACES.map((face) => [face, read(face)])) as Record<Face, Uint8Array>;
  return fonts;
}
