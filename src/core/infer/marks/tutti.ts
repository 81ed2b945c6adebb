import { meanOf, medianOf } from '../../basics/average';
import { lastAtOrBefore } from '../../basics/search';
import { type Bar, barIndexOf } from '../../model/score';
import type { Moment } from '../../model/time';
import {
  CHANGE,
  type DynamicStep,
  edgesOf,
  type Hairpin,
  KNEE,
  LONG_REST,
  type Range,
  type ReadDynamics,
  restBefore,
  SHORTEST,
  WITHIN,
} from './dynamics';
import { type Loudness, runningMedian } from './loudness';

/** How loud the parts of a piece are together. */
export interface Ensemble extends Range {
  /** By how much each part is louder than the others at the same time. */
  over: readonly number[];
}

/** What is soft in one part is so in all, but that a mixer, or a player, may have one louder than the others. */
export function ensembleOf(parts: readonly (readonly Loudness[])[], bars: readonly Bar[]): Ensemble {
  const inBars = parts.map((all) => {
    const levels = bars.map((): number[] => []);
    for (const { at, level } of all) levels[barIndexOf(bars, at)]!.push(level);
    return levels.map((own) => (own.length > 0 ? medianOf(own) : null));
  });
  const together = bars.map((_, bar) => medianOf(inBars.flatMap((own) => own[bar] ?? [])));
  const over = inBars.map((own) =>
    medianOf(own.flatMap((level, bar) => (level === null ? [] : [level - together[bar]!]))),
  );
  const levels = parts.flatMap((all, index) =>
    runningMedian(all.map(({ level }) => level)).map((level) => level - over[index]!),
  );
  const [low, high] = edgesOf(levels);
  return { low, high, over };
}

/** What all parts show together. */
export interface Tutti extends ReadDynamics {
  all: readonly Loudness[];
}

/** All parts as one: how loud they are at each moment together, balance aside. */
export function tuttiOf(parts: readonly (readonly Loudness[])[], { over }: Ensemble): Loudness[] {
  const moments = new Map<Moment, Loudness[]>();
  parts.forEach((all, part) => {
    for (const each of all) {
      const own = { ...each, level: each.level - over[part]!, heard: each.heard - over[part]! };
      const known = moments.get(each.at);
      if (known) known.push(own);
      else moments.set(each.at, [own]);
    }
  });
  return [...moments.entries()]
    .map(([at, own]) => ({
      at,
      until: own.reduce((last, { until }) => Math.max(last, until), 0),
      heard: meanOf(own.map(({ heard }) => heard)),
      level: meanOf(own.map(({ level }) => level)),
    }))
    .sort((a, b) => a.at - b.at);
}

/**
 * A part's dynamics are those of all together where these explain it about as
 * well as its own do: players of one piece are told one thing (common practice),
 * and what all show together is clearer than what each does.
 */
export function alongWith(
  own: ReadDynamics,
  tutti: Tutti,
  all: readonly Loudness[],
  over: number,
): ReadDynamics {
  if (tutti.steps.length === 0 || all.length === 0) return own;
  const twice = 2 * (own.spread ** 2 + WITHIN ** 2);
  const explained = all.map(
    ({ at }) =>
      over +
      tutti.explained[
        Math.max(
          0,
          lastAtOrBefore(tutti.all, at, (each) => each.at),
        )
      ]!,
  );
  const constant = own.steps.length === 0 ? medianOf(all.map(({ level }) => level)) : null;
  const off = (values: (index: number) => number) =>
    all.reduce(
      (sum, { level }, index) => sum + Math.min((level - values(index)) ** 2 / twice, (KNEE * KNEE) / 2),
      0,
    );
  const marks = own.steps.filter(({ margin }) => Number.isFinite(margin)).length + own.hairpins.length;
  const costOfOwn = off((index) => constant ?? own.explained[index]!) + CHANGE * marks;
  if (off((index) => explained[index]!) > costOfOwn) return own;
  return { ...followed(tutti, all, over), explained, spread: own.spread };
}

/** The marks of all together as far as a part plays under them. */
function followed(
  tutti: ReadDynamics,
  all: readonly Loudness[],
  over: number,
): Pick<ReadDynamics, 'steps' | 'hairpins'> {
  const steps: DynamicStep[] = [];
  const hairpins: Hairpin[] = [];
  for (const hairpin of tutti.hairpins) {
    const under = all.filter(({ at, until }) => until > hairpin.from && at < hairpin.to);
    const [first] = under;
    if (!first) continue;
    const from = Math.max(hairpin.from, first.at);
    const to = Math.min(
      hairpin.to,
      under.reduce((last, { until }) => Math.max(last, until), first.until),
    );
    if (to - from >= SHORTEST)
      hairpins.push({ ...hairpin, from, to, heard: [hairpin.heard[0] + over, hairpin.heard[1] + over] });
  }
  let said: string | null = null;
  tutti.steps.forEach((step, index) => {
    const next = tutti.steps[index + 1]?.at ?? Number.POSITIVE_INFINITY;
    const isGoal = hairpins.some(({ to }) => to === step.at);
    all.forEach(({ at }, each) => {
      if (at < step.at || at >= next) return;
      const isLate = each > 0 && restBefore(all, each) >= LONG_REST;
      if (said === step.dynamic && !isLate && !(isGoal && at === step.at)) return;
      const margin = at === step.at ? step.margin : Number.POSITIVE_INFINITY;
      said = step.dynamic;
      steps.push({ at, dynamic: step.dynamic, heard: step.heard + over, margin });
    });
  });
  return { steps, hairpins };
}
