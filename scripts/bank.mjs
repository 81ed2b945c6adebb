/** Makes what the synthesizer needs in `public/sound`: the stand-in bank from our own models, and its worklet. */

import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { rolldown } from 'rolldown';

const SOURCES = 'src/core/sound';
const TARGET = 'public/sound';
const BANK = join(TARGET, 'stand-in.sf2');
const STAMP = join(TARGET, 'stamp');

mkdirSync(TARGET, { recursive: true });
const hash = createHash('sha256');
for (const name of readdirSync(SOURCES).sort()) hash.update(readFileSync(join(SOURCES, name)));
const stamp = hash.digest('hex');
const lib = dirname(createRequire(import.meta.url).resolve('spessasynth_lib'));
copyFileSync(join(lib, 'spessasynth_processor.min.js'), join(TARGET, 'processor.js'));
if (!existsSync(BANK) || !existsSync(STAMP) || readFileSync(STAMP, 'utf8') !== stamp) {
  const built = '.dragoman/bank.mjs';
  const bundle = await rolldown({ input: join(SOURCES, 'bank.ts'), platform: 'node', external: [/^[^./]/] });
  await bundle.write({ file: built, format: 'esm' });
  const { makeBank } = await import(`../${built}`);
  const bytes = new Uint8Array(makeBank());
  writeFileSync(BANK, bytes);
  writeFileSync(STAMP, stamp);
  console.log(`Sound bank: ${(bytes.length / 1e6).toFixed(1)} MB`);
}
