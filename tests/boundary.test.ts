import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { bordersBroken } from '../scripts/borders.mjs';
import { ROOMS } from '../scripts/rooms.mjs';

let house: string;

beforeEach(() => {
  house = mkdtempSync(join(tmpdir(), 'house-'));
});
afterEach(() => rmSync(house, { recursive: true }));

function plant(files: Record<string, string>): string[] {
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(join(house, dirname(path)), { recursive: true });
    writeFileSync(join(house, path), text);
  }
  return bordersBroken(house);
}

const borders = ROOMS.slice(1).map(([above], index): [string, string] => [ROOMS[index]![0]!, above!]);

describe('arrows point only down', () => {
  it.each(borders)('from %s nothing of %s can be seen', (below, above) => {
    const faults = plant({
      [`${below}/planted.ts`]: `import type { X } from '@/${above.slice(4)}/seen';\nexport type Y = X;\n`,
      [`${above}/seen.ts`]: 'export type X = 1;\n',
    });
    expect(faults).toEqual([
      `${below}/planted.ts:1: ${below} may not import ${above}/seen.ts: arrows point only down.`,
    ]);
  });

  it.each(borders)('%s can be seen from %s', (below, above) => {
    expect(
      plant({
        [`${above}/planted.ts`]: `import type { X } from '@/${below.slice(4)}/seen';\nexport type Y = X;\n`,
        [`${below}/seen.ts`]: 'export type X = 1;\n',
      }),
    ).toEqual([]);
  });

  it('siblings may not go round in a circle, types included', () => {
    const faults = plant({
      'src/core/model/a.ts': "import type { B } from './b';\nexport type A = B;\n",
      'src/core/model/b.ts': "export { C } from './c';\nexport type B = 1;\n",
      'src/core/model/c.ts': "export const C = () => import('./a');\n",
    });
    expect(faults).toEqual([
      'src/core/model/a.ts → src/core/model/b.ts → src/core/model/c.ts → src/core/model/a.ts: a circle.',
    ]);
  });

  it('a node can reach nothing but its inputs', () => {
    const faults = plant({
      'src/core/basics/graph.ts': 'export const node = 1;\n',
      'src/core/model/a.ts': [
        "import { node } from '../basics/graph';",
        'let last = 0;',
        "const GOOD = node('good', ({ a }: { a: number }) => a);",
        'export function of(b: number) {',
        "  return graph.of(node('bad', ({ a }: { a: number }) => a + b + last), '', { a: 1 });",
        '}',
      ].join('\n'),
    });
    expect(faults).toEqual([
      'src/core/model/a.ts:2: state at the top of a file of the core.',
      'src/core/model/a.ts:5: a node stands at the top of its file, where it can reach nothing but its inputs.',
    ]);
  });

  it('every file stands in a room', () => {
    expect(plant({ 'src/core/loose.ts': 'export const x = 1;\n' })).toEqual([
      'src/core/loose.ts: stands in no room of scripts/rooms.mjs.',
    ]);
  });

  it.each([
    ['src/core/model', 'react', 'the core may not use "react".'],
    ['src/core/clean', 'node:fs', 'the core may not use "node:fs".'],
    ['src/core/workbench', 'dexie', 'the core may not use "dexie".'],
    ['src/workers', 'antd', 'only the page may use "antd".'],
    ['src/store', 'react', 'only the page may use "react".'],
    ['src/cli', 'next/link', 'only the page may use "next/link".'],
  ])('%s may not use %s', (folder, name, why) => {
    const text = `import x from '${name}';\nexport default x;\n`;
    expect(plant({ [`${folder}/planted.ts`]: text })).toEqual([`${folder}/planted.ts:1: ${why}`]);
  });

  it('the core may not touch the page', () => {
    const path = `src/core/planted-${process.pid}.ts`;
    writeFileSync(path, 'export const x = window.innerWidth;\n');
    try {
      const biome = 'node_modules/@biomejs/biome/bin/biome';
      const args = [biome, 'lint', '--only=style/noRestrictedGlobals', path];
      expect(spawnSync(process.execPath, args).status).not.toBe(0);
    } finally {
      rmSync(path);
    }
  });
});
