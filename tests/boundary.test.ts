import { spawnSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

/** Plants a file in a folder for a moment and tells whether it breaks the rules about who may import whom. */
function breaksRules(folder: string, text: string): boolean {
  const path = join(folder, `planted-${process.pid}.ts`);
  writeFileSync(path, text);
  try {
    const rules = ['--only=style/noRestrictedImports', '--only=style/noRestrictedGlobals'];
    const biome = 'node_modules/@biomejs/biome/bin/biome';
    return spawnSync(process.execPath, [biome, 'lint', ...rules, path]).status !== 0;
  } finally {
    rmSync(path);
  }
}

describe('arrows point only down', () => {
  it.each([
    ['src/core', "import { useState } from 'react';\nexport const x = useState;\n"],
    ['src/core', "import { database } from '../store/database';\nexport const x = database;\n"],
    ['src/core', "import { readFileSync } from 'node:fs';\nexport const x = readFileSync;\n"],
    ['src/workers', "import { Button } from 'antd';\nexport const x = Button;\n"],
  ])('%s may not hold %s', (folder, text) => {
    expect(breaksRules(folder, text)).toBe(true);
  });

  it('the core may not touch the page', () => {
    expect(breaksRules('src/core', 'export const x = window.innerWidth;\n')).toBe(true);
  });

  it('an import downward is fine', () => {
    const text = "import { readSmf } from '../core/smf/read';\nexport const x = readSmf;\n";
    expect(breaksRules('src/store', text)).toBe(false);
  });
});
