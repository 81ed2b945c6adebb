import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { NextConfig } from 'next';

/** A name for the core, the workers and the packages as they are now: what others worked out is worked out anew. */
function engine(): string {
  const hash = createHash('sha256').update(readFileSync(join(import.meta.dirname, 'package-lock.json')));
  for (const room of ['src/core', 'src/workers']) {
    const folder = join(import.meta.dirname, room);
    for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort())
      if (/\.ts$/.test(name) && !/\.test\.ts$/.test(name))
        hash.update(name).update(readFileSync(join(folder, name)));
  }
  return hash.digest('hex').slice(0, 16);
}

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // It is served to this machine alone: packing 12 MB of engraver takes longer than handing them over.
  compress: false,
  env: { DRAGOMAN_ENGINE: engine() },
};

export default config;
