// Who may import whom: arrows point only down, no circles, no foreign package in the core; and nodes reach their inputs alone.
// `node scripts/borders.mjs [FOLDER]` prints every fault and fails where there is one.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parseAst } from 'rolldown/parseAst';
import { CORE_PACKAGES, PAGE_PACKAGES, ROOMS } from './rooms.mjs';
import { root } from './tools.mjs';

const SOURCE = /(?<!\.d)\.tsx?$/;
const TEST = /\.test\.tsx?$/;

function filesBelow(folder) {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return filesBelow(path);
    return SOURCE.test(name) ? [path] : [];
  });
}

const MAKERS = new Set(['node', 'steppedNode']);
const NODES = /from '[^']*basics\/graph'/;
/** What these keep is no state: scratch space that each call begins anew, and a model that never changes. */
const MAY_KEEP = new Set(['src/core/infer/rhythm/fit-span.ts', 'src/core/recording/note-model.ts']);

/**
 * Where a file of the core could give a node more than its inputs: a node that is made within a function, and a
 * variable at the top of a file. [What is wrong, line].
 */
function reaches(path, text, body) {
  const found = [];
  const atTop = new Set();
  for (const statement of body) {
    const { declaration } = statement;
    const own = declaration ?? statement;
    if (own.type !== 'VariableDeclaration') continue;
    if (own.kind !== 'const' && !MAY_KEEP.has(path))
      found.push(['state at the top of a file of the core', own.start]);
    for (const { init } of own.declarations) atTop.add(init);
  }
  const visit = (node) => {
    if (Array.isArray(node)) return node.forEach(visit);
    if (node === null || typeof node !== 'object') return;
    if (node.type === 'CallExpression' && MAKERS.has(node.callee.name) && !atTop.has(node))
      found.push([
        'a node stands at the top of its file, where it can reach nothing but its inputs',
        node.start,
      ]);
    for (const value of Object.values(node)) visit(value);
  };
  if (NODES.test(text)) visit(body);
  return found.map(([what, at]) => [what, lineAt(text, at)]);
}

/** What a file imports, types included: [specifier, line]. */
function importsOf(text, ast) {
  const found = [];
  const visit = (node) => {
    if (Array.isArray(node)) return node.forEach(visit);
    if (node === null || typeof node !== 'object') return;
    if (typeof node.source?.value === 'string') found.push([node.source.value, lineAt(text, node.start)]);
    for (const [key, value] of Object.entries(node)) if (key !== 'source') visit(value);
  };
  visit(ast);
  return found;
}

const lineAt = (text, offset) => text.slice(0, offset).split('\n').length;

/** What stands beside `app/` by the framework's rules belongs to it. */
const BESIDE_APP = new Set(['src/proxy.ts', 'src/instrumentation-client.ts']);

/** The index of the room that a file stands in. */
const roomOf = (path) =>
  BESIDE_APP.has(path) ? ROOMS.length - 1 : ROOMS.findIndex(([folder]) => path.startsWith(`${folder}/`));

/** The faults of the tree below `src` of a folder, a sentence each. */
export function bordersBroken(house) {
  const paths = filesBelow(join(house, 'src')).map((path) => relative(house, path));
  const known = new Set(paths);
  const faults = [];
  const arrows = new Map();
  for (const path of paths) {
    if (path.startsWith('src/types/')) continue;
    const own = roomOf(path);
    if (own < 0) {
      faults.push(`${path}: stands in no room of scripts/rooms.mjs.`);
      continue;
    }
    const targets = [];
    const text = readFileSync(join(house, path), 'utf8');
    const { body } = parseAst(text, { lang: path.endsWith('x') ? 'tsx' : 'ts' });
    if (path.startsWith('src/core/') && !TEST.test(path))
      for (const [what, line] of reaches(path, text, body)) faults.push(`${path}:${line}: ${what}.`);
    for (const [specifier, line] of importsOf(text, body)) {
      const target = resolved(house, path, specifier, known);
      if (target === null) {
        const name = specifier
          .split('/')
          .slice(0, specifier.startsWith('@') ? 2 : 1)
          .join('/');
        if (path.startsWith('src/core/') && !TEST.test(path) && !CORE_PACKAGES.includes(name))
          faults.push(`${path}:${line}: the core may not use "${specifier}".`);
        else if (PAGE_PACKAGES.includes(name) && !/^src\/(ui|app|proxy\.ts$)/.test(path))
          faults.push(`${path}:${line}: only the page may use "${specifier}".`);
        continue;
      }
      if (target.startsWith('tests/') && TEST.test(path)) continue;
      targets.push(target);
      // A test stands beside what it tests and may look anywhere below the page.
      if (!TEST.test(path) && roomOf(target) > own)
        faults.push(`${path}:${line}: ${ROOMS[own][0]} may not import ${target}: arrows point only down.`);
    }
    if (!TEST.test(path)) arrows.set(path, targets);
  }
  return [...faults, ...circles(arrows)];
}

function resolved(house, from, specifier, known) {
  if (!specifier.startsWith('.') && !specifier.startsWith('@/')) return null;
  const base = specifier.startsWith('@/')
    ? join('src', specifier.slice(2))
    : relative(house, resolve(house, dirname(from), specifier));
  return (
    ['.ts', '.tsx', '/index.ts', '/index.tsx'].map((end) => base + end).find((each) => known.has(each)) ??
    base
  );
}

/** Each circle of files once, found by a depth-first walk. */
function circles(arrows) {
  const done = new Set();
  const faults = [];
  const walk = (path, trail) => {
    const at = trail.indexOf(path);
    if (at >= 0) {
      faults.push(`${[...trail.slice(at), path].join(' → ')}: a circle.`);
      return;
    }
    if (done.has(path)) return;
    for (const target of arrows.get(path) ?? []) walk(target, [...trail, path]);
    done.add(path);
  };
  for (const path of arrows.keys()) walk(path, []);
  return faults;
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  const faults = bordersBroken(process.argv[2] ?? root);
  for (const fault of faults) console.error(fault);
  if (faults.length === 0) console.log('Borders hold.');
  process.exitCode = faults.length === 0 ? 0 : 1;
}
