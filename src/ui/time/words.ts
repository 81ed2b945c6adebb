import { counted } from '../../core/basics/words';
import type { Uses } from '../../core/explain/uses';
import { swingNumbers } from '../../core/model/swing';
import type { GroupedBar, ScoreSummary } from '../../core/workbench/replies';
import { SMALLEST_NAMES } from '../common/names';

/** Nats as odds, which people weigh more easily. */
export function oddsWords(worse: number): string {
  if (worse <= 0) return 'as likely';
  const odds = Math.exp(worse);
  return odds >= 100
    ? 'less likely by far'
    : `${odds < 10 ? odds.toFixed(1) : Math.round(odds)} times less likely`;
}

/** What a part's rhythm came to, as a reason for holding it to that. */
export function usesWords({ smallest, finer, tuplets, attacks }: Uses): string {
  const finerWords = finer > 0 ? `, ${finer} on finer places` : '';
  return `Of ${counted(attacks, 'attack')} ${attacks - finer - tuplets} stand on ${SMALLEST_NAMES[smallest].toLowerCase()}, ${tuplets} in tuplets${finerWords}.`;
}

/** Where the piece was found to swing, in a few words. */
export function swingWords({ foundSwings, bars }: Pick<ScoreSummary, 'foundSwings' | 'bars'>): string {
  const [first] = foundSwings;
  if (!first) return 'As found: straight';
  if (foundSwings.length > 1) return `As found: in ${foundSwings.length} passages`;
  const swing = `${first.value === '16th' ? '16ths' : 'eighths'} ${swingNumbers(first.ratio).join(':')}`;
  const whole = first.from === 0 && first.to === bars.length;
  return whole ? `As found: ${swing}` : `Bars ${bars[first.from]}–${bars[first.to - 1]}: ${swing}`;
}

/** How the bars of one irregular meter were found to group, in a few words. */
export function groupsWords(bars: readonly Pick<GroupedBar, 'found'>[]): string {
  const ways = new Set(bars.map(({ found }) => found.join('+')));
  return ways.size === 1 ? `As found: ${[...ways][0]}` : `As found: in ${ways.size} ways`;
}
