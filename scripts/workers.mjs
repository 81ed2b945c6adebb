/**
 * Bundles the workers as modules into `public/workers/ENGINE`: browsers keep modules compiled (HTML Standard, module
 * scripts), which they do not with scripts that a worker imports as it goes.
 * `--watch` goes on until it is ended.
 */
import { readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { rolldown, watch } from 'rolldown';
import { engine } from './engine.mjs';

const root = join(import.meta.dirname, '..');
const WORKERS = join(root, 'src', 'workers');
const TARGET = join(root, 'public', 'workers');
const ENDING = '.worker.ts';

const name = engine();
const watches = process.argv.includes('--watch');
const mode = watches ? 'development' : 'production';
const workers = readdirSync(WORKERS).filter((file) => file.endsWith(ENDING));
const input = {
  start: join(WORKERS, 'start.ts'),
  ...Object.fromEntries(workers.map((file) => [file.slice(0, -ENDING.length), join(WORKERS, file)])),
};
const made = {
  input,
  platform: 'browser',
  tsconfig: join(root, 'tsconfig.json'),
  logLevel: 'warn',
  transform: {
    define: {
      'process.env.DRAGOMAN_ENGINE': JSON.stringify(name),
      'process.env.NODE_ENV': JSON.stringify(mode),
    },
  },
};
const output = {
  dir: join(TARGET, name),
  format: 'esm',
  minify: !watches,
  entryFileNames: '[name].js',
  chunkFileNames: '[name]-[hash].js',
};

rmSync(TARGET, { recursive: true, force: true });
if (watches) watch({ ...made, output });
else {
  const bundle = await rolldown(made);
  await bundle.write(output);
  await bundle.close();
}
