import { steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import { lastAtOrBefore } from '../basics/search';
import { finished, type Steps } from '../basics/steps';
import { secondsAt } from '../model/clock';
import type { StrandId } from '../model/ids';
import type { Performance, Strand } from '../model/performance';

/** A strand that repeats another one a little later, as a delay effect would. */
export interface Echo {
  strand: StrandId;
  of: StrandId;
  /** How much later, in seconds. */
  later: number;
  /** Share of its notes that the other one has so much earlier. */
  share: number;
}

/** Delays that are heard as an echo; a canon answers later (common practice). */
const SHORTEST = 0.05;
const LONGEST = 0.75;
/** Lags within this are one, in seconds. */
const BIN = 0.01;
const NEARLY_ALL = 0.85;
/** Fewer notes, or fewer different keys, may agree by chance. */
const FEWEST = 16;
const KEYS = 5;
const SAMPLE = 200;

/**
 * Finds strands all of whose notes another one has at the same distance before
 * them: the lags to equal keys of the other, counted, have one high peak.
 */
export const echoesInSteps = (performance: Performance): Steps<Echo[]> =>
  rememberedInSteps(performance, ECHOES, { performance });

const ECHOES = steppedNode('echoes', ({ performance }: { performance: Performance }) => search(performance));

export const findEchoes = (performance: Performance): Echo[] => finished(echoesInSteps(performance));

function* search({ strands, clock }: Performance): Steps<Echo[]> {
  const able = strands.filter(
    ({ notes }) => notes.length >= FEWEST && new Set(notes.map((note) => note.key)).size >= KEYS,
  );
  const times = new Map(able.map((strand) => [strand, byKey(strand, (tick) => secondsAt(clock, tick))]));
  const echoes: Echo[] = [];
  for (const strand of able) {
    const stride = Math.ceil(strand.notes.length / SAMPLE);
    const sample = strand.notes
      .filter((_, index) => index % stride === 0)
      .map((note) => ({ key: note.key, seconds: secondsAt(clock, note.on) }));
    let best: Echo | null = null;
    for (const other of able) {
      if (other === strand) continue;
      const found = lagTo(times.get(other)!, sample);
      if (found && found.share > (best?.share ?? NEARLY_ALL))
        best = { strand: strand.id, of: other.id, ...found };
      yield;
    }
    if (best) echoes.push(best);
  }
  return echoes;
}

function byKey({ notes }: Strand, at: (tick: number) => number): ReadonlyMap<number, number[]> {
  const times = new Map<number, number[]>();
  for (const note of notes) {
    const known = times.get(note.key);
    if (known) known.push(at(note.on));
    else times.set(note.key, [at(note.on)]);
  }
  for (const own of times.values()) own.sort((a, b) => a - b);
  return times;
}

/** The lag that most notes of a sample have to equal keys before them, if nearly all have it. */
function lagTo(
  times: ReadonlyMap<number, readonly number[]>,
  sample: readonly { key: number; seconds: number }[],
): { later: number; share: number } | null {
  const counts = new Uint16Array(Math.ceil(LONGEST / BIN) + 2);
  let together = 0;
  for (const { key, seconds } of sample) {
    const own = times.get(key) ?? [];
    // From the last that may count as struck together back to the farthest that may echo.
    for (let index = lastAtOrBefore(own, seconds + SHORTEST / 2, (time) => time); index >= 0; index--) {
      const lag = seconds - (own[index] ?? Number.NEGATIVE_INFINITY);
      if (lag > LONGEST) break;
      if (Math.abs(lag) < SHORTEST / 2) together++;
      if (lag >= SHORTEST) counts[Math.round(lag / BIN)]!++;
    }
  }
  // A peak may lie between two bins.
  let best = 1;
  for (let bin = 1; bin + 1 < counts.length; bin++)
    if (around(counts, bin) > around(counts, best)) best = bin;
  const total = around(counts, best);
  const share = Math.min(1, total / sample.length);
  if (share <= NEARLY_ALL || together >= sample.length / 2) return null;
  const aside = (counts[best + 1]! - counts[best - 1]!) / total;
  return { later: (best + aside) * BIN, share };
}

const around = (counts: Uint16Array, bin: number): number =>
  counts[bin - 1]! + counts[bin]! + counts[bin + 1]!;
