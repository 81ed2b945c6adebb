import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { briefDocument } from '@/core/decisions/document';
import { rerunTable } from '@/core/workbench/reruns';
import { constantsDocument } from '../scripts/constants.mjs';
import { roomTable } from '../scripts/rooms.mjs';

describe('the documents that are made of the code', () => {
  it('say what the code says: run `npm run docs` after a change', () => {
    expect(readFileSync('docs/brief.md', 'utf8')).toBe(briefDocument());
    expect(readFileSync('docs/constants.md', 'utf8')).toBe(constantsDocument());
    expect(readFileSync('docs/architecture.md', 'utf8')).toContain(roomTable());
    expect(readFileSync('docs/architecture.md', 'utf8')).toContain(rerunTable());
  });
});
