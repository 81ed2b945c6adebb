/** Puts the faces of a PDF where the page can fetch them: `public/print-fonts`. The music is in the face of the engraver. */

import { copyFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const TARGET = join(import.meta.dirname, '..', 'public', 'print-fonts');
/** The text face in its styles, and in the files of its scripts; the signs that it lacks. */
const STYLES = { text: '400-normal', italic: '400-italic', bold: '700-normal', 'bold-italic': '700-italic' };
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic'];
const TEXT = Object.fromEntries([
  ...Object.entries(STYLES).flatMap(([style, file]) =>
    SCRIPTS.map((script) => [
      script === 'latin' ? style : `${style}-${script}`,
      `tinos/files/tinos-${script}-${file}.woff`,
    ]),
  ),
  ['signs', 'noto-music/files/noto-music-music-400-normal.woff'],
]);

const { resolve } = createRequire(import.meta.url);
const engraver = JSON.parse(
  readFileSync(join(dirname(resolve('verovio/wasm')), '..', 'package.json'), 'utf8'),
).version;

/** The music font as it comes packed in every picture of the engraver; a PDF holds no packed ones. */
async function musicFont() {
  const [{ default: createModule }, { VerovioToolkit }, { decompress }] = await Promise.all([
    import('verovio/wasm'),
    import('verovio/esm'),
    import('wawoff2').then((module) => module.default ?? module),
  ]);
  const toolkit = new VerovioToolkit(await createModule());
  // A note in a text is what the face is needed for: a picture without one has no font in it.
  toolkit.loadData(
    '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name/></score-part></part-list>' +
      '<part id="P1"><measure number="1"><attributes><divisions>1</divisions></attributes>' +
      '<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>60</per-minute></metronome></direction-type></direction>' +
      '<note><rest/><duration>4</duration><type>whole</type></note></measure></part></score-partwise>',
  );
  const [, packed] = /@font-face[^}]*base64,([^)"']+)/.exec(toolkit.renderToSVG(1)) ?? [];
  if (!packed) throw new Error('The engraver’s pictures hold no music font.');
  return decompress(Buffer.from(packed, 'base64'));
}

mkdirSync(TARGET, { recursive: true });
for (const [face, file] of Object.entries(TEXT))
  copyFileSync(resolve(`@fontsource/${file}`), join(TARGET, face));
const music = join(TARGET, 'music');
const stamp = join(TARGET, 'stamp');
if (!existsSync(music) || !existsSync(stamp) || readFileSync(stamp, 'utf8') !== engraver) {
  writeFileSync(music, await musicFont());
  writeFileSync(stamp, engraver);
}
