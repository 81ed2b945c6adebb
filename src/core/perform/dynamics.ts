import { lastAtOrBefore } from '../basics/search';
import { type ChordMark, VELOCITIES } from '../model/marks';
import { barIndexOf, type Part, type Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { placesOf } from './places';

/** Before any dynamic. */
const USUAL = 80;
/** How far a hairpin goes that leads to no dynamic: one step. */
const STEP = 15;
/** A dynamic this far behind the end of a hairpin is its goal, in bars. */
const GOAL_BARS = 1;

/** A dynamic is drawn a little before or after the note that it is meant for, and files say where it is drawn. */
const DRAWN_BESIDE = QUARTER / 4;

/** Dynamics of one attack: how much louder it is, and what holds after it. */
const ATTACKS: Record<string, { more: number; after?: string }> = {
  sf: { more: 25 },
  sfz: { more: 25 },
  sffz: { more: 35 },
  fz: { more: 25 },
  rf: { more: 20 },
  rfz: { more: 20 },
  fp: { more: 15, after: 'p' },
  sfp: { more: 25, after: 'p' },
  sfpp: { more: 25, after: 'pp' },
  sfzp: { more: 25, after: 'p' },
  pf: { more: 0, after: 'f' },
};

/** Accents and the like at a chord, as more or less velocity (common practice). */
const MARKS: Partial<Record<string, number>> = {
  accent: 15,
  'strong-accent': 25,
  'soft-accent': 8,
  stress: 8,
  unstress: -8,
};

interface Level {
  at: Moment;
  velocity: number;
}

/** Velocity at every moment of a part as its dynamics and hairpins say, by written moments. */
export interface Dynamics {
  at: (moment: Moment) => number;
  /** What an attack at this moment adds by itself. */
  attack: (moment: Moment) => number;
}

/** Reads the dynamics of a part; staves of one part go together. */
export function dynamicsOf(score: Score, part: Part): Dynamics {
  const steps: Level[] = [];
  const attacks = new Map<Moment, number>();
  const onsets = onsetsOf(score, part);
  const meantFor = (moment: Moment): Moment => {
    const before = lastAtOrBefore(onsets, moment, (at) => at);
    const distance = (at: Moment | undefined) =>
      at === undefined ? Number.POSITIVE_INFINITY : Math.abs(at - moment);
    const [one, two] = [onsets[before], onsets[before + 1]];
    const nearest = distance(two) < distance(one) ? two : one;
    return nearest !== undefined && distance(nearest) <= DRAWN_BESIDE ? nearest : moment;
  };
  part.bars.forEach((bar, index) => {
    for (const mark of bar.marks ?? []) {
      if (mark.kind !== 'dynamic') continue;
      const at = meantFor(score.bars[index]!.start + mark.at);
      const level = VELOCITIES[mark.dynamic];
      if (level !== undefined) steps.push({ at, velocity: level });
      const attack = ATTACKS[mark.dynamic];
      if (attack) attacks.set(at, attack.more);
      if (attack?.after) steps.push({ at: at + 1, velocity: VELOCITIES[attack.after]! });
    }
  });
  steps.sort((a, b) => a.at - b.at);
  const { momentOf } = placesOf(score, part);
  const wedges = (part.spanners ?? [])
    .filter((spanner) => spanner.kind === 'wedge')
    .map((wedge) => ({ opens: wedge.opens, from: momentOf(wedge.from), to: momentOf(wedge.to) }))
    .filter(
      (wedge): wedge is { opens: boolean; from: Moment; to: Moment } =>
        wedge.from !== undefined && wedge.to !== undefined && wedge.to > wedge.from,
    )
    .sort((a, b) => a.from - b.from);
  /** Hairpins as ramps, each from what holds where it begins to the dynamic that it leads to. */
  const ramps: { from: Moment; to: Moment; low: number; high: number }[] = [];
  const levelAt = (moment: Moment): number => {
    const step = steps.findLast(({ at }) => at <= moment);
    const ramp = ramps.findLast(({ from }) => from <= moment);
    if (!ramp || (step && step.at > ramp.from)) return step?.velocity ?? USUAL;
    const share = Math.min(1, (moment - ramp.from) / (ramp.to - ramp.from));
    return ramp.low + share * (ramp.high - ramp.low);
  };
  for (const { opens, from, to } of [...wedges, ...wordedWedges(score, part, steps)].sort(
    (a, b) => a.from - b.from,
  )) {
    const low = levelAt(from);
    const near = GOAL_BARS * score.bars[barIndexOf(score.bars, to)]!.length;
    const goal = steps.find(({ at, velocity }) => at >= to && at <= to + near && velocity > low === opens);
    const high = goal?.velocity ?? Math.min(127, Math.max(1, low + (opens ? STEP : -STEP)));
    ramps.push({ from, to, low, high });
  }
  return { at: levelAt, attack: (moment) => attacks.get(moment) ?? 0 };
}

/** Where notes of a part begin, in order. */
const onsetsOf = (score: Score, part: Part): Moment[] =>
  [
    ...new Set(
      part.bars.flatMap(({ voices }, index) =>
        voices.flatMap(({ items }) =>
          items.flatMap((item) =>
            item.kind === 'chord' && item.notes.some(({ tieStop }) => !tieStop)
              ? [score.bars[index]!.start + item.onset]
              : [],
          ),
        ),
      ),
    ),
  ].sort((a, b) => a - b);

/** Words for a hairpin. */
const GROWING = /^(poco a poco |sempre |molto |più )*(cresc)/i;
const FADING = /^(poco a poco |sempre |molto |più )*(dim|decresc|smorz|morendo|calando)/i;
/** Without a dynamic to go to they take so many bars (common practice). */
const WORDED_BARS = 2;

/** "cresc." and "dim.", up to the next dynamic. */
function wordedWedges(score: Score, part: Part, steps: readonly Level[]) {
  return part.bars.flatMap((bar, index) =>
    (bar.marks ?? []).flatMap((mark) => {
      if (mark.kind !== 'words' || !(GROWING.test(mark.text) || FADING.test(mark.text))) return [];
      const from = score.bars[index]!.start + mark.at;
      const last = score.bars[Math.min(score.bars.length - 1, index + WORDED_BARS)]!;
      const next = steps.find(({ at }) => at > from)?.at ?? Number.POSITIVE_INFINITY;
      return [{ opens: GROWING.test(mark.text), from, to: Math.min(next, last.start + last.length) }];
    }),
  );
}

/** Whether words change the dynamics. */
export const isDynamicWord = (text: string): boolean => GROWING.test(text) || FADING.test(text);

/** What the marks of a chord add to its velocity. */
export const accentOf = (marks: readonly ChordMark[] | undefined): number =>
  (marks ?? []).reduce((sum, mark) => sum + (mark.kind === 'articulation' ? (MARKS[mark.name] ?? 0) : 0), 0);
