/**
 * Puts the engraver where the browser can fetch it: `public/engraver`. Its package has the program as a text within its
 * script, which is parsed, unpacked and compiled anew each time; in a file of its own it is compiled as it comes, and kept
 * compiled (WebAssembly Web API, streaming).
 */

import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { parseAst } from 'rolldown/parseAst';
import createVerovioModule from 'verovio/wasm';

const TARGET = join(import.meta.dirname, '..', 'public', 'engraver');
const source = createRequire(import.meta.url).resolve('verovio/wasm');
const { version } = JSON.parse(readFileSync(join(dirname(source), '..', 'package.json'), 'utf8'));
const stamp = join(TARGET, 'stamp');

/** The program, as the script hands it to the browser. */
async function program() {
  const { instantiate } = WebAssembly;
  let found;
  WebAssembly.instantiate = (bytes, imports) => {
    found = bytes;
    return instantiate(bytes, imports);
  };
  await createVerovioModule();
  WebAssembly.instantiate = instantiate;
  return found;
}

/** The script without the text: the longest in it by far. */
function withoutText(script) {
  let longest = { start: 0, end: 0 };
  const visit = (node) => {
    if (Array.isArray(node)) return node.forEach(visit);
    if (node === null || typeof node !== 'object') return;
    if (
      node.type === 'Literal' &&
      typeof node.value === 'string' &&
      node.end - node.start > longest.end - longest.start
    )
      longest = node;
    Object.values(node).forEach(visit);
  };
  visit(parseAst(script).body);
  return `${script.slice(0, longest.start)}''${script.slice(longest.end)}`;
}

if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== version) {
  mkdirSync(TARGET, { recursive: true });
  writeFileSync(join(TARGET, 'verovio.wasm'), await program());
  writeFileSync(join(TARGET, 'verovio.js'), withoutText(readFileSync(source, 'utf8')));
  writeFileSync(stamp, version);
}
