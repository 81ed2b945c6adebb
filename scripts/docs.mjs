// Writes the pages that are made of the code: docs/brief.md, docs/constants.md, and the rooms and reruns in docs/architecture.md.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'rolldown';
import { constantsDocument } from './constants.mjs';
import { roomTable } from './rooms.mjs';
import { root } from './tools.mjs';

const file = join(root, '.dragoman', 'document.mjs');
await build({
  input: join(root, 'src/core/decisions/document.ts'),
  platform: 'node',
  tsconfig: join(root, 'tsconfig.json'),
  logLevel: 'warn',
  output: { file, format: 'esm' },
});
const { briefDocument } = await import(pathToFileURL(file).href);
writeFileSync(join(root, 'docs/brief.md'), briefDocument());

const reruns = join(root, '.dragoman', 'reruns.mjs');
await build({
  input: join(root, 'src/core/workbench/reruns.ts'),
  platform: 'node',
  tsconfig: join(root, 'tsconfig.json'),
  logLevel: 'warn',
  output: { file: reruns, format: 'esm' },
});
const { rerunTable } = await import(pathToFileURL(reruns).href);

const architecture = join(root, 'docs/architecture.md');
const text = readFileSync(architecture, 'utf8');
writeFileSync(
  architecture,
  text
    .replace(/<!-- rooms -->[\s\S]*<!-- \/rooms -->/, `<!-- rooms -->\n${roomTable()}<!-- /rooms -->`)
    .replace(/<!-- reruns -->[\s\S]*<!-- \/reruns -->/, `<!-- reruns -->\n${rerunTable()}<!-- /reruns -->`),
);
writeFileSync(join(root, 'docs/constants.md'), constantsDocument());
