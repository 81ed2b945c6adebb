import { lastAtOrBefore } from '../../basics/search';
import type { Steps } from '../../basics/steps';
import type { Beat } from '../../model/beats';
import type { Moment, Span } from '../../model/time';
import type { Ensemble, Familiar, Support } from './known';

/** A body of notes on its first hearing: one part, or one hand of it. */
export interface Heard {
  /** Where it attacks, but for grace notes. */
  starts: readonly Moment[];
  /** The pattern of each beat that holds attacks, by its index. */
  patterns: ReadonlyMap<number, string>;
}

/** Attacks that all other parts make weigh this much, in nats. */
const TOGETHER = 1.6;
/** The prior counts as much as this many beats heard. */
const PRIOR_WEIGHT = 12;
/** Another part's rhythms count this much of the part's own. */
const OTHERS = 0.25;
const FAMILIAR = 12;

/**
 * Hears all bodies together. Everything comes from first hearings that no
 * decision of a single part has touched, so that one changed decision leaves
 * what the other parts know as it was.
 */
export class Listening {
  /** For each beat the moments at which bodies attack, and which do. */
  private readonly attacksIn: Map<Moment, Set<number>>[];
  private readonly activeIn: Uint16Array;
  private readonly counts: Map<string, number>[] = [];
  private readonly totals: number[] = [];
  private readonly shared = new Map<string, number>();
  private sharedTotal = 0;

  private constructor(
    private readonly heard: readonly Heard[],
    beats: readonly Beat[],
  ) {
    this.activeIn = new Uint16Array(beats.length);
    this.attacksIn = beats.map(() => new Map());
  }

  /** Hears all bodies, one after another. */
  static *to(heard: readonly Heard[], beats: readonly Beat[]): Steps<Listening> {
    const listening = new Listening(heard, beats);
    for (const body of heard.keys()) {
      listening.hear(body, beats);
      yield;
    }
    return listening;
  }

  private hear(body: number, beats: readonly Beat[]): void {
    const { starts, patterns } = this.heard[body]!;
    for (const start of starts) {
      const moments = this.attacksIn[beatAt(beats, start)]!;
      const set = moments.get(start) ?? new Set();
      moments.set(start, set);
      set.add(body);
    }
    const own = new Map<string, number>();
    for (const [beat, pattern] of patterns) {
      this.activeIn[beat]!++;
      own.set(pattern, (own.get(pattern) ?? 0) + 1);
      this.shared.set(pattern, (this.shared.get(pattern) ?? 0) + 1);
      this.sharedTotal++;
    }
    this.counts.push(own);
    this.totals.push(patterns.size);
  }

  /** What the body at `index` may know. */
  for(index: number): Ensemble {
    const { heard, attacksIn, activeIn, shared, sharedTotal } = this;
    const own = this.counts[index]!;
    const ownTotal = this.totals[index]!;
    const { patterns } = heard[index]!;
    const activeNear = (beat: number) => {
      const near = Math.max(activeIn[beat] ?? 0, activeIn[beat + 1] ?? 0, activeIn[beat - 1] ?? 0);
      return near - (patterns.has(beat) ? 1 : 0);
    };
    const familiar = new Map<string, Familiar[]>();
    return {
      support(beat) {
        const out: Support[] = [];
        for (const [moment, set] of attacksIn[beat]!) {
          const others = set.size - (set.has(index) ? 1 : 0);
          const share = Math.min(1, others / Math.max(1, activeNear(beat)));
          if (others > 0) out.push({ moment, bonus: TOGETHER * share });
        }
        return out;
      },
      surprise(pattern, beat, prior) {
        const mine = patterns.get(beat) === pattern ? 1 : 0;
        const counted =
          (own.get(pattern) ?? 0) - mine + OTHERS * ((shared.get(pattern) ?? 0) - (own.get(pattern) ?? 0));
        const total = Math.max(0, ownTotal - 1) + OTHERS * (sharedTotal - ownTotal);
        const chance = (counted + PRIOR_WEIGHT * Math.exp(-prior)) / (total + PRIOR_WEIGHT);
        // The prior is part of the reading's cost already; what is added is the difference.
        return -Math.log(chance) - prior;
      },
      familiar(beat, together) {
        const length = beat.length * together;
        const name = `${length}`;
        const known = familiar.get(name);
        if (known) return known;
        const made = mostUsed(own, shared, length, together, beat);
        familiar.set(name, made);
        return made;
      },
    };
  }
}

function mostUsed(
  own: ReadonlyMap<string, number>,
  shared: ReadonlyMap<string, number>,
  length: Span,
  together: number,
  beat: Beat,
): Familiar[] {
  const weighed = [...shared]
    .filter(([pattern]) => pattern.startsWith(`${length}:`))
    .map(([pattern, count]): [string, number] => [pattern, count * OTHERS + (own.get(pattern) ?? 0)])
    .sort((a, b) => b[1] - a[1])
    .slice(0, FAMILIAR);
  return weighed.flatMap(([pattern]) => {
    const offsets = pattern
      .slice(pattern.indexOf(':') + 1)
      .split(' ')
      .filter(Boolean)
      .map(Number);
    const division = divisionFor(offsets, length, beat.ternary, together);
    return offsets.length > 0 && division ? [{ pattern, offsets, division }] : [];
  });
}

/** The simplest division on whose slots all places fall. */
function divisionFor(
  offsets: readonly number[],
  length: Span,
  ternary: boolean,
  together: number,
): number | null {
  const counts =
    together > 1 ? [3] : ternary ? [1, 3, 6, 2, 12, 4, 9, 5] : [1, 2, 4, 3, 8, 6, 5, 12, 16, 7, 9, 10];
  return (
    counts.find((count) => offsets.every((offset) => Number.isInteger((offset * count) / length))) ?? null
  );
}

const beatAt = (beats: readonly Beat[], moment: Moment): number =>
  lastAtOrBefore(beats, moment, (beat) => beat.start);
