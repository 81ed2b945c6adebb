/** Puts the model that hears several notes at once, and its runtime, where the page can fetch them: `public/note-model`. */

import { copyFileSync, mkdirSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const TARGET = 'public/note-model';
const { resolve } = createRequire(import.meta.url);
const model = join(dirname(resolve('@spotify/basic-pitch/package.json')), 'model');
const runtime = dirname(resolve('@tensorflow/tfjs-backend-wasm/dist/tfjs-backend-wasm.wasm'));

mkdirSync(TARGET, { recursive: true });
for (const name of readdirSync(model)) copyFileSync(join(model, name), join(TARGET, name));
for (const name of readdirSync(runtime))
  if (name.endsWith('.wasm')) copyFileSync(join(runtime, name), join(TARGET, name));
