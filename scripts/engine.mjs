// A name for the core, the workers and the packages as they are now.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');

/** What was worked out, or kept compiled, under another name is so anew. */
export function engine() {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const room of ['src/core', 'src/store', 'src/workers']) {
    const folder = join(root, room);
    for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort())
      if (/\.ts$/.test(name) && !/\.test\.ts$/.test(name))
        hash.update(name).update(readFileSync(join(folder, name)));
  }
  return hash.digest('hex').slice(0, 16);
}
