// Runs the command line, bundled anew whenever a source file is newer than the bundle.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const folder = join(root, '.dragoman', 'cli');
const bundle = join(folder, 'main.mjs');

function newest(below) {
  let latest = 0;
  for (const entry of readdirSync(below, { withFileTypes: true })) {
    const path = join(below, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

const changed = Math.max(...['core', 'cli', 'workers'].map((name) => newest(join(root, 'src', name))));
if (!existsSync(bundle) || statSync(bundle).mtimeMs < changed) {
  const { build } = await import('rolldown');
  await build({
    input: join(root, 'src', 'cli', 'main.ts'),
    platform: 'node',
    // They load files that lie beside them, and only when a recording is heard or pages are made.
    external: [
      /^@tensorflow/,
      /^@wasm-audio-decoders/,
      /^pdfkit/,
      /^verovio/,
      'mpg123-decoder',
      'ogg-opus-decoder',
      'svg-to-pdfkit',
    ],
    tsconfig: join(root, 'tsconfig.json'),
    logLevel: 'warn',
    output: { dir: folder, entryFileNames: 'main.mjs', chunkFileNames: '[name].mjs', format: 'esm' },
  });
}
// What PDF takes its letters from.
if (!existsSync(join(root, 'public', 'print-fonts', 'stamp'))) await import('./print-fonts.mjs');
if (!process.argv.includes('--bundle-only')) await import(pathToFileURL(bundle).href);
