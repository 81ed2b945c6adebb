import { type ClockBar, isSameMeter } from '../../model/clock';
import { type Groups, groupings } from '../../model/groups';
import type { Strand } from '../../model/performance';
import { accentsAt } from './accents';

/** How much stronger the first of a group is than the others, in standard deviations of the accents. */
const STRONGER = 1;
/** What a grouping other than the usual one costs, and what a change from bar to bar costs; nats. */
const UNUSUAL = 2;
const CHANGE = 4;

/**
 * How bars of irregular meters group. Each grouping of a bar is
 * weighed by the accents on its places; a search over the bars (Viterbi)
 * changes the grouping only where the music insists.
 *
 * @returns groups of each bar in units of its meter; null where the meter leaves no choice
 */
export function groupBars(
  strands: readonly Strand[],
  bars: readonly ClockBar[],
  ticksPerQuarter: number,
): (Groups | null)[] {
  const out: (Groups | null)[] = bars.map(() => null);
  for (const run of irregularRuns(bars))
    findGroups(run, strands, ticksPerQuarter).forEach((groups, at) => {
      out[run.at + at] = groups;
    });
  return out;
}

/** Bars of one irregular meter that follow each other, from one index on. */
interface Run {
  at: number;
  bars: ClockBar[];
  choices: readonly Groups[];
}

function irregularRuns(bars: readonly ClockBar[]): Run[] {
  const runs: Run[] = [];
  bars.forEach((bar, index) => {
    const last = runs.at(-1);
    const goesOn =
      last && last.at + last.bars.length === index && isSameMeter(last.bars[0]!.meter, bar.meter);
    if (goesOn) last.bars.push(bar);
    else {
      const choices = groupings(bar.meter);
      if (choices.length > 0) runs.push({ at: index, bars: [bar], choices });
    }
  });
  return runs;
}

function findGroups({ bars, choices }: Run, strands: readonly Strand[], ticksPerQuarter: number): Groups[] {
  const { numerator, denominator } = bars[0]!.meter;
  const unit = (4 * ticksPerQuarter) / denominator;
  const places = bars.flatMap(({ start, length, isUpbeat }) => {
    // An upbeat stands at the end of its bar.
    const zero = isUpbeat ? start + length - numerator * unit : start;
    return Array.from({ length: numerator }, (_, at) => zero + at * unit);
  });
  const accents = standardised(accentsAt(strands, places, unit), numerator);
  const starts = choices.map(startsOf);
  const costs = choices.map((_, choice): number => (choice === 0 ? 0 : UNUSUAL));
  const came: number[][] = [];
  bars.forEach((_, bar) => {
    const best = costs.indexOf(Math.min(...costs));
    const from = costs.map((cost, choice) => (bar > 0 && costs[best]! + CHANGE < cost ? best : choice));
    const before = [...costs];
    choices.forEach((_, choice) => {
      const way = from[choice]!;
      costs[choice] = before[way]! + (way === choice ? 0 : CHANGE);
      for (let at = 1; at < numerator; at++) {
        const speaks = (STRONGER * accents[bar * numerator + at]!) / 2;
        costs[choice] += starts[choice]!.has(at) ? -speaks : speaks;
      }
    });
    came.push(from);
  });
  let choice = costs.indexOf(Math.min(...costs));
  const found: Groups[] = [];
  for (let bar = bars.length - 1; bar >= 0; bar--) {
    found.unshift(choices[choice]!);
    choice = came[bar]![choice]!;
  }
  return found;
}

/** Where groups begin within the bar, but for the first. */
function startsOf(groups: Groups): ReadonlySet<number> {
  const starts = new Set<number>();
  groups.slice(0, -1).reduce((at, length) => {
    starts.add(at + length);
    return at + length;
  }, 0);
  return starts;
}

/** Accents less their mean, in standard deviations of all but the downbeats, which every grouping has. */
function standardised(accents: readonly number[], perBar: number): number[] {
  const inner = accents.filter((_, at) => at % perBar !== 0);
  const mean = inner.reduce((sum, each) => sum + each, 0) / Math.max(1, inner.length);
  const spread = Math.sqrt(
    inner.reduce((sum, each) => sum + (each - mean) ** 2, 0) / Math.max(1, inner.length),
  );
  return accents.map((each) => (spread > 1e-9 ? (each - mean) / spread : 0));
}
