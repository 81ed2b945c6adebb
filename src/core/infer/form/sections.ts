/** What a bar is like, all parts together. */
export interface BarLook {
  /** How long each pitch class sounds, C first. */
  chroma: readonly number[];
  /** How much each part plays: attacks. */
  attacks: readonly number[];
  /** Mean velocity; 0 where nothing is struck. */
  loudness: number;
  /** A key, a meter or a tempo begins with it. */
  begins: boolean;
}

export interface Section {
  /** Index of its first bar. */
  bar: number;
  /** How much more the music changes there than usual, in deviations. */
  change: number;
}

/** Bars on either side that are compared. */
const WIDTH = 4;
/** How the looks of a bar weigh: harmony, who plays how much, loudness. */
const WEIGHTS = { chroma: 0.8, attacks: 1.2, loudness: 0.6 };
/** What a section must gain, in deviations of change, and what a new key, meter or tempo counts for. */
const COST = 1.3;
const BEGINS = 1.5;
/** Sections of so many bars at least; in fours rather than not, in eights rather still (common practice of forms). */
const LEAST = 4;
const NOT_FOUR = 1.2;
const NOT_EIGHT = 0.25;
const MOST_BARS = 2000;

/**
 * Where sections begin: bars before and after which the music is like itself and
 * unlike the other side (checkerboard novelty over the bars' looks, Foote 2000),
 * in lengths that sections have. The beginning of the piece is none.
 */
export function findSections(bars: readonly BarLook[]): Section[] {
  if (bars.length < 2 * LEAST || bars.length > MOST_BARS) return [];
  const looks = looksOf(bars);
  const novelty = bars.map((_, bar) => noveltyAt(looks, bar));
  const mean = novelty.reduce((sum, each) => sum + each, 0) / novelty.length;
  const spread = Math.sqrt(novelty.reduce((sum, each) => sum + (each - mean) ** 2, 0) / novelty.length);
  if (spread < 1e-9 && !bars.some(({ begins }) => begins)) return [];
  const gains = novelty.map(
    (each, bar) => (spread < 1e-9 ? 0 : (each - mean) / spread) + (bars[bar]!.begins ? BEGINS : 0) - COST,
  );
  /** The best division of the bars before one, with a section that begins there. */
  const best: { score: number; before: number }[] = [{ score: 0, before: -1 }];
  for (let bar = 1; bar < bars.length; bar++) {
    best[bar] = { score: Number.NEGATIVE_INFINITY, before: -1 };
    for (let before = 0; before <= bar - LEAST; before++) {
      // An upbeat bar, or a bar of introduction, shifts the first section only.
      const length = bar - before;
      const offset = before === 0 ? Math.min(length % LEAST, 1) * 0.5 : length % LEAST === 0 ? 0 : NOT_FOUR;
      const score = best[before]!.score + gains[bar]! - offset - (length % 8 === 0 ? 0 : NOT_EIGHT);
      if (score > best[bar]!.score) best[bar] = { score, before };
    }
  }
  let last = 0;
  for (let bar = LEAST; bar <= bars.length - LEAST; bar++)
    if (best[bar]!.score > best[last]!.score) last = bar;
  const found: Section[] = [];
  for (let bar = last; bar > 0; bar = best[bar]!.before) found.push({ bar, change: gains[bar]! + COST });
  return found.reverse();
}

/** Each bar as one vector, all its looks on one scale. */
function looksOf(bars: readonly BarLook[]): number[][] {
  const most = Math.max(1, ...bars.flatMap(({ attacks }) => attacks.map(Math.log1p)));
  const parts = Math.max(1, bars[0]!.attacks.length);
  return bars.map(({ chroma, attacks, loudness }) => {
    const whole = Math.hypot(...chroma) || 1;
    return [
      ...chroma.map((each) => (WEIGHTS.chroma * each) / whole),
      ...attacks.map((each) => (WEIGHTS.attacks * Math.log1p(each)) / most / Math.sqrt(parts / 4)),
      (WEIGHTS.loudness * loudness) / 64,
    ];
  });
}

/** How unlike the bars before and after a bar line are, less how unlike they are among themselves. */
function noveltyAt(looks: readonly (readonly number[])[], bar: number): number {
  const before = looks.slice(Math.max(0, bar - WIDTH), bar);
  const after = looks.slice(bar, bar + WIDTH);
  if (before.length === 0) return 0;
  const among = (own: readonly (readonly number[])[]) =>
    own.length < 2
      ? 0
      : meanOf(own.flatMap((one, at) => own.slice(at + 1).map((other) => apart(one, other))));
  const between = meanOf(before.flatMap((one) => after.map((other) => apart(one, other))));
  return between - (among(before) + among(after)) / 2;
}

const meanOf = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

const apart = (one: readonly number[], other: readonly number[]): number =>
  Math.sqrt(one.reduce((sum, each, at) => sum + (each - other[at]!) ** 2, 0));

/** A, B … Z, AA, BB … (common practice). */
export const sectionName = (index: number): string =>
  String.fromCharCode(65 + (index % 26)).repeat(1 + Math.floor(index / 26));
