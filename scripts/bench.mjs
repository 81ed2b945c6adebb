// Bundles one benchmark of bench/ and runs it: node scripts/bench.mjs NAME
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'rolldown';
import { root } from './tools.mjs';

const name = process.argv[2];
const file = join(root, '.dragoman', `bench-${name}.mjs`);
await build({
  input: join(root, 'bench', `${name}.ts`),
  platform: 'node',
  tsconfig: join(root, 'tsconfig.json'),
  external: [/^@playwright/, /^@tensorflow/, /^@spotify/],
  logLevel: 'warn',
  output: { file, format: 'esm', codeSplitting: false },
});
await import(pathToFileURL(file).href);
