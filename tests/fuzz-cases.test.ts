import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Chance } from './fuzz/chance';
import { FUZZ_KINDS } from './fuzz/kinds';

const CASES = join(import.meta.dirname, 'fuzz/cases');
/** Inputs of each kind that are made anew here; `npm run fuzz` makes as many as there is time for. */
const FEW = 4;

/** The kind that the name of a case begins with: the longest, as one may begin another. */
const kindOf = (file: string) =>
  Object.keys(FUZZ_KINDS)
    .filter((name) => file.startsWith(`${name}-`))
    .sort((a, b) => b.length - a.length)[0]!;

describe('inputs that once failed', () => {
  for (const file of readdirSync(CASES))
    it(`come to a result or a sentence: ${file}`, async () => {
      const came = await FUZZ_KINDS[kindOf(file)]!.through(new Uint8Array(readFileSync(join(CASES, file))));
      expect(['done', 'refused', 'in part']).toContain(came);
    });
});

describe('made inputs', () => {
  for (const [name, kind] of Object.entries(FUZZ_KINDS))
    it(`come to a result or a sentence: ${name}`, async () => {
      for (let seed = 1; seed <= FEW; seed++) {
        const bytes = await kind.make(new Chance(seed));
        expect(['done', 'refused', 'in part']).toContain(await kind.through(bytes));
      }
    });
});
