import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { NoteModel } from '../core/recording/model-form';
import { loadNoteModel } from '../core/recording/note-model';

/** The model that hears several notes at once, from the packages that ship it. */
export function noteModel(): Promise<NoteModel> {
  const { resolve } = createRequire(import.meta.url);
  const folder = join(dirname(resolve('@spotify/basic-pitch/package.json')), 'model');
  const weights = readFileSync(join(folder, 'group1-shard1of1.bin'));
  return loadNoteModel({
    graph: JSON.parse(readFileSync(join(folder, 'model.json'), 'utf8')),
    weights: weights.buffer.slice(weights.byteOffset, weights.byteOffset + weights.byteLength),
    runtime: `${dirname(resolve('@tensorflow/tfjs-backend-wasm/dist/tfjs-backend-wasm.wasm'))}/`,
  });
}
