import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { counted } from '../basics/words';
import type { Desk } from '../clean/desk';
import type { SourceId } from '../model/ids';
import type { Performance } from '../model/performance';
import { reconcile } from '../reconcile';
import { compareBars } from '../reconcile/compare-bars';
import type { ClockDifference } from '../reconcile/ledger';
import { type Side, sideOfPerformance } from '../reconcile/reading';
import type { Check, Found, Mend } from './finding';

const NAMES: Readonly<Record<ClockDifference['kind'], string>> = {
  tempo: 'tempo',
  meter: 'meter',
  key: 'key signature',
  number: 'bar number',
};
/** So many differences of a kind are told one by one. */
const MOST = 5;

const CLOCK_AGAINST = node(
  'clock against',
  ({ source, performance }: { source: Performance; performance: Performance }) =>
    differencesOf(sideOfPerformance(source), sideOfPerformance(performance)),
);

/** What other sources of the job say differently of tempo, meter, key and the numbers of bars. */
export const checkOtherSources: Check = ({ desk, result }) =>
  desk.others.flatMap((other): Found[] => {
    const { performance } = other;
    const differences = remembered(performance, CLOCK_AGAINST, { source: desk.source, performance });
    return (Object.keys(NAMES) as ClockDifference['kind'][]).flatMap((kind): Found[] => {
      // Where its tempo is played there is nothing to decide.
      if (kind === 'tempo' && isPlayed(desk, performance.source)) return [];
      const own = differences.filter((each) => each.kind === kind);
      const told = own.slice(0, MOST).map(({ one, says }): Found => {
        const bar = result.frame.bars[one];
        return {
          weight: 'doubtful',
          ...(bar && { at: bar.start }),
          about: `${other.name} ${kind} ${one}`,
          what: `${other.name} has another ${NAMES[kind]} from here on: ${says[1]}, and not ${says[0]}.`,
          ...(kind === 'tempo' &&
            performance.strands.length > 0 && { mends: [asPlayed(desk, performance.source)] }),
        };
      });
      if (own.length > MOST)
        told.push({
          weight: 'doubtful',
          about: `${other.name} ${kind} more`,
          what: `${other.name} differs in its ${NAMES[kind]} in ${counted(own.length - MOST, 'more place')}.`,
        });
      return told;
    });
  });

const isPlayed = ({ decisions: { playLike } }: Desk, source: SourceId): boolean =>
  playLike?.source === source && playLike.takes.includes('tempo');

/** Plays the piece at the tempo of a source, and as it was played like that source before. */
function asPlayed({ decisions: { playLike } }: Desk, source: SourceId): Mend {
  const before = playLike?.source === source ? playLike.takes : [];
  return {
    label: 'Play it at that tempo',
    directives: [{ kind: 'play-like', source, takes: ['tempo', ...before] }],
  };
}

function differencesOf(one: Side, two: Side): ClockDifference[] {
  const isClockOnly = two.lines.every(({ notes }) => notes.length === 0);
  if (!isClockOnly) return reconcile(one, two)?.clock ?? [];
  // A source without notes is there for its clock: bar by bar from the start.
  const pairs = one.bars.flatMap((_, index) => (two.bars[index] ? [{ one: index, two: index }] : []));
  return compareBars(pairs, one, two);
}
