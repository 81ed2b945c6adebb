// Writes the pages that are made of the code: docs/brief.md, docs/constants.md, and the rooms and reruns in docs/architecture.md.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'rolldown';
import { constantsDocument } from './constants.mjs';
import { roomTable } from './rooms.mjs';
import { root } from './tools.mjs';

/** What a file of the core exports. */
async function made(source, name) {
  const file = join(root, '.dragoman', `${name}.mjs`);
  await build({
    input: join(root, source),
    platform: 'node',
    tsconfig: join(root, 'tsconfig.json'),
    logLevel: 'warn',
    output: { file, format: 'esm' },
  });
  return import(pathToFileURL(file).href);
}
const { briefDocument } = await made('src/core/decisions/document.ts', 'document');
const { rerunTable } = await made('src/core/workbench/reruns.ts', 'reruns');
writeFileSync(join(root, 'docs/brief.md'), briefDocument());

const architecture = join(root, 'docs/architecture.md');
const text = readFileSync(architecture, 'utf8');
writeFileSync(
  architecture,
  text
    .replace(/<!-- rooms -->[\s\S]*<!-- \/rooms -->/, `<!-- rooms -->\n${roomTable()}<!-- /rooms -->`)
    .replace(/<!-- reruns -->[\s\S]*<!-- \/reruns -->/, `<!-- reruns -->\n${rerunTable()}<!-- /reruns -->`),
);
writeFileSync(join(root, 'docs/constants.md'), constantsDocument());
