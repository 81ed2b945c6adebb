import { spawn, spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { tidyFile } from '@/core/demo/tidy';
import { parseXml, schemaFaults } from './helpers/schema';
import { tune } from './helpers/tunes';

const folder = mkdtempSync(join(tmpdir(), 'dragoman-batch-'));
const IN = join(folder, 'in');
let out = '';
let round = 0;

/** Files that can be made; the others are refused. */
const MADE = ['deep/er/three.mid', 'five.mid', 'four.mid', 'one.mid', 'six.mid', 'two.mid'];

beforeAll(() => {
  // Bundled once, not by each process at the same time.
  spawnSync(process.execPath, ['scripts/dragoman.mjs', '--bundle-only']);
  mkdirSync(join(IN, 'deep', 'er'), { recursive: true });
  for (const [index, name] of MADE.entries()) writeFileSync(join(IN, name), tune(index));
  writeFileSync(join(IN, 'no music.mid'), 'no music');
  writeFileSync(join(IN, 'notes.txt'), 'Nobody asks for this.');
  writeFileSync(join(IN, '.hidden.mid'), tune(0));
  symlinkSync(IN, join(IN, 'deep', 'circle'));
});
beforeEach(() => {
  out = join(folder, `out ${++round}`);
});
afterAll(() => rmSync(folder, { recursive: true }));

const args = (...more: string[]) => ['scripts/dragoman.mjs', 'batch', IN, '-o', out, ...more];
const batch = (...more: string[]) => spawnSync(process.execPath, args(...more), { encoding: 'utf8' });

/** All that was made, by its path. */
function made(below = out, path = ''): string[] {
  return readdirSync(below, { withFileTypes: true })
    .filter(({ name }) => !name.startsWith('.') && !name.startsWith('report.'))
    .flatMap((entry) =>
      entry.isDirectory() ? made(join(below, entry.name), `${path}${entry.name}/`) : [`${path}${entry.name}`],
    )
    .sort();
}
const named = (extension: string) => MADE.map((name) => name.replace(/mid$/, extension)).sort();

interface Report {
  made: number;
  refused: number;
  failed: number;
  waiting: number;
  files: { file: string; state: string; why: string; notes: number; agree: number }[];
}
const report = (): Report => JSON.parse(readFileSync(join(out, 'report.json'), 'utf8')) as Report;

const journal = (): string[] =>
  readdirSync(join(out, '.batch'))
    .filter((name) => name.endsWith('.jsonl'))
    .flatMap((name) => readFileSync(join(out, '.batch', name), 'utf8').split('\n'))
    .filter((line) => line !== '');

describe('a folder of files', () => {
  it('is made whole, each as the command for one file makes it, and reported', () => {
    const { status, stderr } = batch('--to', 'musicxml', '--workers', '2');
    expect(status).toBe(1);
    expect(stderr).toContain('no music.mid: refused: This is not a Standard MIDI File');
    expect(stderr).toContain('1 file of 7 not made');
    expect(made()).toEqual(named('musicxml'));
    const one = join(folder, 'alone.musicxml');
    spawnSync(process.execPath, [
      'scripts/dragoman.mjs',
      'convert',
      join(IN, 'two.mid'),
      '--to',
      'musicxml',
      '-o',
      one,
    ]);
    const text = readFileSync(join(out, 'two.musicxml'), 'utf8');
    expect(text).toBe(readFileSync(one, 'utf8'));
    expect(schemaFaults(parseXml(text))).toEqual([]);
    const { files, ...counts } = report();
    expect(counts).toEqual({ made: 6, refused: 1, failed: 0, waiting: 0 });
    expect(files.map(({ file }) => file)).toEqual([...MADE, 'no music.mid'].sort());
    for (const { state, notes, agree } of files) if (state === 'made') expect(agree).toBe(notes);
    expect(readFileSync(join(out, 'report.csv'), 'utf8').split('\r\n')).toHaveLength(9);
  });

  it('is not done twice; what changed, and another order, is done anew', () => {
    batch('--to', 'midi');
    const before = journal().length;
    expect(before).toBe(7);
    expect(batch('--to', 'midi').stderr).toContain('7 of 7 files done before.');
    expect(journal()).toHaveLength(before);
    const kept = readFileSync(join(IN, 'one.mid'));
    writeFileSync(join(IN, 'one.mid'), tune(9));
    rmSync(join(out, 'two.mid'));
    batch('--to', 'midi');
    expect(journal()).toHaveLength(before + 2);
    expect(made()).toEqual(named('mid'));
    writeFileSync(join(IN, 'one.mid'), kept);
    batch('--to', 'mxl');
    expect(made()).toEqual([...named('mid'), ...named('mxl')].sort());
  });

  it('comes out as pages, and as packets', async () => {
    batch('--to', 'pdf', '--share', '2/7');
    const [name = ''] = made();
    const pdf = await getDocument({ data: new Uint8Array(readFileSync(join(out, name))), verbosity: 0 })
      .promise;
    const { items } = await (await pdf.getPage(1)).getTextContent();
    expect(items.flatMap((item) => ('str' in item ? [item.str] : [])).join(' ')).toContain('Tune');
    batch('--to', 'packet', '--share', '2/7');
    expect(made().some((each) => each.endsWith('.zip'))).toBe(true);
  });

  it('says in a sentence what it cannot begin with', () => {
    const refusal = (...of: string[]) => {
      const { status, stderr } = spawnSync(process.execPath, ['scripts/dragoman.mjs', 'batch', ...of], {
        encoding: 'utf8',
      });
      expect(status).toBe(2);
      return stderr.trim();
    };
    expect(refusal(IN, '--to', 'wax', '-o', out)).toBe(
      'dragoman: --to takes musicxml, mxl, midi, pdf, packet.',
    );
    expect(refusal('nowhere', '--to', 'midi', '-o', out)).toBe('dragoman: nowhere is not a folder.');
    expect(refusal(IN, '--to', 'midi', '--share', '9/8', '-o', out)).toBe(
      'dragoman: --share takes which of how many, as 2/8.',
    );
    expect(refusal(join(IN, 'deep', 'er'), '--to', 'midi')).toBe('dragoman: batch needs -o FOLDER.');
  });

  it('keeps the names of two that would be called the same apart', () => {
    const both = join(folder, 'both');
    mkdirSync(both);
    writeFileSync(join(both, 'tune.mid'), tune(1));
    writeFileSync(join(both, 'tune.midi'), tune(2));
    spawnSync(process.execPath, ['scripts/dragoman.mjs', 'batch', both, '--to', 'mxl', '-o', out]);
    expect(made()).toEqual(['tune.mid.mxl', 'tune.midi.mxl']);
  });
});

/** Waits until something is so, or its process ended. */
async function until(isSo: () => boolean, child: { exitCode: number | null }): Promise<void> {
  while (!isSo() && child.exitCode === null) await new Promise((resolve) => setTimeout(resolve, 5));
}

/** Whether a process does a share of the batch into a folder, itself and not as the shell around it. */
function isShareOf(pid: string, into: string): boolean {
  try {
    const [program, ...words] = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
    return program === process.execPath && words.includes('--share') && words.includes(into);
  } catch {
    // It ended meanwhile.
    return false;
  }
}

describe('a batch that is ended', () => {
  it('at any moment leaves whole files only, and goes on where it was', async () => {
    for (const after of [1, 3]) {
      const child = spawn(process.execPath, args('--to', 'musicxml', '--workers', '2'), {
        stdio: 'ignore',
      });
      const lines = () => (existsSync(join(out, '.batch')) ? journal().length : 0);
      await until(() => lines() >= after, child);
      child.kill('SIGKILL');
      await until(() => child.signalCode !== null, child);
      for (const name of made())
        expect(readFileSync(join(out, name), 'utf8').trimEnd()).toMatch(/<\/score-partwise>$/);
    }
    // A line that was cut in the middle is none.
    writeFileSync(join(out, '.batch', 'journal-1-of-9.jsonl'), '{"file":"one.mid","task":"');
    const { status } = batch('--to', 'musicxml');
    expect(status).toBe(1);
    expect(made()).toEqual(named('musicxml'));
    expect(report()).toMatchObject({ made: 6, refused: 1, waiting: 0 });
  });

  it('under GNU parallel in two slots, one of them killed, has every file once', async () => {
    const command = `${process.execPath} ${args().slice(0, 3).join(' ')} --to musicxml --workers 1 --share {}/4 -o '${out}'`;
    const child = spawn(
      'parallel',
      ['--will-cite', '-j2', '--retries', '3', command, ':::', '1', '2', '3', '4'],
      {
        stdio: ['ignore', 'ignore', 'pipe'],
        env: { ...process.env, PARALLEL_HOME: folder },
      },
    );
    let said = '';
    child.stderr.on('data', (text: Buffer) => {
      said += text.toString();
    });
    const ended = new Promise((resolve) => child.on('close', resolve));
    const working = () => readdirSync('/proc').filter((pid) => /^\d+$/.test(pid) && isShareOf(pid, out));
    await until(() => existsSync(join(out, '.batch')) && working().length > 0, child);
    process.kill(Number(working()[0]), 'SIGKILL');
    await ended;
    expect(made(), said).toEqual(named('musicxml'));
    expect(report()).toMatchObject({ made: 6, refused: 1, failed: 0, waiting: 0 });
    const files = journal().map((line) => (JSON.parse(line) as { file: string }).file);
    expect(files.sort()).toEqual([...MADE, 'no music.mid'].sort());
  });
});

it('the demo as a file of a folder has all of its notes', () => {
  const demo = join(folder, 'demo');
  mkdirSync(demo);
  writeFileSync(join(demo, 'tidy.mid'), tidyFile());
  const { status } = spawnSync(process.execPath, [
    'scripts/dragoman.mjs',
    'batch',
    demo,
    '--to',
    'musicxml',
    '-o',
    out,
  ]);
  expect(status).toBe(0);
});
