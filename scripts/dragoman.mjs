// Runs the command line, bundled anew whenever a source file is newer than the bundle.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const bundle = join(root, '.dragoman', 'cli.mjs');

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

const changed = Math.max(newest(join(root, 'src', 'core')), newest(join(root, 'src', 'cli')));
if (!existsSync(bundle) || statSync(bundle).mtimeMs < changed) {
  const { build } = await import('rolldown');
  await build({
    input: join(root, 'src', 'cli', 'main.ts'),
    platform: 'node',
    // They load files that lie beside them, and only when a recording is heard.
    external: [/^@tensorflow/, /^@wasm-audio-decoders/, 'mpg123-decoder', 'ogg-opus-decoder'],
    tsconfig: join(root, 'tsconfig.json'),
    logLevel: 'warn',
    output: { file: bundle, format: 'esm' },
  });
}
if (!process.argv.includes('--bundle-only')) await import(pathToFileURL(bundle).href);
