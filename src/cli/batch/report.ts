import { renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import type { Outcome } from './outcome';

/** A line of the report: what became of a file, or that nobody came to it yet. */
type Line = Omit<Outcome, 'state' | 'task'> & { state: Outcome['state'] | 'waiting' };

const COLUMNS = [
  'file',
  'state',
  'why',
  'target',
  'bytes',
  'notes',
  'agree',
  'meant',
  'unexplained',
  'wrong',
  'doubtful',
  'left',
  'seconds',
] as const;

const unexplained = ({ notes, agree, meant }: Pick<Outcome, 'notes' | 'agree' | 'meant'>): number =>
  notes - agree - meant;

/** Whether a file was made and all its notes are where they were played, or where it was decided. */
export const isClean = (outcome: Outcome): boolean => outcome.state === 'made' && unexplained(outcome) === 0;

/**
 * Writes what became of every file, as `report.csv` and `report.json`, each whole.
 *
 * @param files paths of all, in order
 */
export function writeReport(
  out: string,
  scratch: string,
  files: readonly string[],
  known: ReadonlyMap<string, Outcome>,
): void {
  const lines = files.map((file): Line => {
    const outcome = known.get(file);
    if (outcome) {
      const { task: _, ...line } = outcome;
      return line;
    }
    const nothing = { bytes: 0, notes: 0, agree: 0, meant: 0, wrong: 0, doubtful: 0, seconds: 0 };
    return { file, state: 'waiting', why: '', target: '', ...nothing };
  });
  const rows = lines.map((line) => ({
    ...line,
    unexplained: unexplained(line),
    left: line.left?.join(' ') ?? '',
  }));
  const counts = Object.fromEntries(
    (['made', 'refused', 'failed', 'waiting'] as const).map((state) => [
      state,
      lines.filter((line) => line.state === state).length,
    ]),
  );
  const put = (name: string, text: string) => {
    const part = join(scratch, `${process.pid}-${name}.part`);
    writeFileSync(part, text);
    renameSync(part, join(out, name));
  };
  put('report.csv', `${Papa.unparse(rows, { columns: [...COLUMNS], escapeFormulae: true })}\r\n`);
  put('report.json', `${JSON.stringify({ ...counts, files: lines }, null, 1)}\n`);
}
