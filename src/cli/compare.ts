import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { counted } from '../core/basics/words';
import { reconcile } from '../core/reconcile';
import { readSource } from '../core/sources';
import { type Comparison, comparisonCsv, comparisonOf, sidesOfReadings } from '../core/workbench/compare';
import { sourceOf } from './files';
import { UsageError } from './usage-error';

/** Lays two files over each other; gives 1 where they do not agree. */
export function compareFiles(args: string[]): number {
  const { values, positionals } = parseArgs({
    args,
    options: { json: { type: 'boolean', default: false }, csv: { type: 'boolean', default: false } },
    allowPositionals: true,
  });
  const [first, second, ...rest] = positionals;
  if (!first || !second || rest.length > 0) throw new UsageError('compare takes two files.');
  const [one, two] = sidesOfReadings(readSource(sourceOf(first)), readSource(sourceOf(second)));
  const comparison = comparisonOf({ one, two, ledger: reconcile(one, two) });
  process.stdout.write(
    values.json
      ? `${JSON.stringify(comparison, null, 1)}\n`
      : values.csv
        ? `${comparisonCsv(comparison)}\n`
        : comparedText(comparison, [basename(first), basename(second)]),
  );
  const { by, differ, passages, clock } = comparison;
  return by !== null && differ + passages.length + clock.length === 0 ? 0 : 1;
}

function comparedText(
  { by, agree, differ, passages, clock, lines, rows }: Comparison,
  [first, second]: readonly [string, string],
): string {
  if (by === null) return `${first} and ${second} have nothing in common.\n`;
  return [
    `${counted(agree, 'note')} agree, ${differ} differ; laid over each other by ${by}`,
    ...lines.flatMap(({ one, two, transposed }) =>
      !one
        ? [`only in ${second}: ${two}`]
        : !two
          ? [`only in ${first}: ${one}`]
          : transposed !== 0
            ? [`${one} sounds ${transposed} semitones higher in ${second}`]
            : [],
    ),
    ...passages.map(({ kind, from, to, of }) => {
      const file = kind.endsWith('one') ? first : second;
      return of === null
        ? `only in ${file}: bars ${from}–${to}`
        : `${file} plays bars ${of} again: bars ${from}–${to}`;
    }),
    ...clock.map(({ kind, bar, one, two }) => `from bar ${bar} another ${kind}: ${one} and ${two}`),
    ...rows.map(
      ({ one, two, kinds, count, says }) =>
        `${(one ?? two)?.name}, bar ${one?.number ?? two?.number}, ${(one ?? two)?.words}: ${kinds.join(', ')} (${counted(count, 'note')}): ${says}`,
    ),
    '',
  ].join('\n');
}
