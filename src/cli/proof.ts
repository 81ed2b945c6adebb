import { parseArgs } from 'node:util';
import { finished } from '../core/basics/steps';
import { counted } from '../core/basics/words';
import { EMPTY_BRIEF } from '../core/decisions/brief';
import { CHECKS } from '../core/proof/finding';
import type { GoingOut } from '../core/proof/going-out';
import { DIFFERENCES } from '../core/reconcile/ledger';
import { goingOutOf, type Proof, proofOf } from '../core/workbench/proof';
import { openFile, readBrief, sayRefusals } from './files';
import { UsageError } from './usage-error';

/** Says what wants a look before hand-over; gives 1 where something is wrong, or does not agree. */
export function proof(args: string[]): number {
  const { values, positionals } = parseArgs({
    args,
    options: { json: { type: 'boolean', default: false }, brief: { type: 'string' } },
    allowPositionals: true,
  });
  const [path, ...rest] = positionals;
  if (!path || rest.length > 0) throw new UsageError('proof takes one file.');
  const workbench = openFile(path);
  const { desk } = workbench.layOut(0, values.brief ? readBrief(values.brief) : EMPTY_BRIEF);
  sayRefusals(path, desk);
  const written = finished(workbench.write(0));
  const { findings, more, agreement } = finished(proofOf(written));
  const outward = finished(goingOutOf(written));
  const { bars, parts } = written.transcription.score;
  const told = findings
    .filter(({ id }) => !desk.decisions.meant.has(id))
    .map(({ check, weight, part, bar, place, what }) => ({
      check: CHECKS[check],
      weight,
      part: part === null ? null : (parts[part]?.name ?? null),
      bar: bar === null ? null : (bars[bar]?.number ?? null),
      place,
      what,
    }));
  process.stdout.write(
    values.json
      ? `${JSON.stringify({ agreement, outward, findings: told, more }, null, 1)}\n`
      : proofText(agreement, outward, told),
  );
  const unexplained = agreement.notes - agreement.agree - agreement.meant;
  const isWrong = told.some(({ weight }) => weight === 'wrong') || outward.some(({ differ }) => differ > 0);
  return unexplained > 0 || isWrong ? 1 : 0;
}

interface Told {
  check: string;
  weight: string;
  part: string | null;
  bar: number | null;
  place: string;
  what: string;
}

const proofText = (
  { notes, agree, meant }: Proof['agreement'],
  outward: readonly GoingOut[],
  told: readonly Told[],
): string =>
  [
    `source and score: ${agree} of ${counted(notes, 'note')} agree, ${meant} otherwise by decision, ${notes - agree - meant} unexplained`,
    ...outward.map(({ form, agree: same, differ, kinds }) => {
      const which = DIFFERENCES.filter((kind) => kinds[kind] > 0).map((kind) => `${kind} ${kinds[kind]}`);
      return `${form}, read back: ${counted(same, 'note')} agree, ${differ} differ${which.length > 0 ? ` (${which.join(', ')})` : ''}`;
    }),
    ...told.map(
      ({ check, weight, part, bar, place, what }) =>
        `${weight}: ${part ?? 'whole piece'}${bar === null ? '' : `, bar ${bar}${place && `, ${place}`}`}: ${what} (${check})`,
    ),
    '',
  ].join('\n');
