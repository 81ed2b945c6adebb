/**
 * How well signatures are found: `npm run bench:keys`.
 *
 * Data: works.json and keys.json (scripts/rhythm-facts.py, scripts/key-facts.py),
 * the written signatures of public-domain works; every other work was tuned on,
 * the table is of the rest. And pieces made of these: three works, or parts of
 * them, one after another and each transposed (seeded), so that the signature
 * changes within. A bar counts as right when its signature is the written one.
 * Beside it one key for the whole piece, by profile correlation.
 */
import { seeded } from '../src/core/basics/random';
import { findKeys } from '../src/core/infer/key/find-keys';
import { estimateKey } from '../src/core/infer/key/key';
import { QUARTER } from '../src/core/model/time';
import facts from './keys.json';
import { loadWorks, type Work } from './rhythm/works';

interface Case {
  name: string;
  weights: number[][];
  truth: number[];
}

const written = facts as unknown as Record<string, [number, number][]>;

function caseOf(work: Work): Case {
  const weights = work.bars.map(() => new Array<number>(12).fill(0));
  for (const { notes } of work.parts)
    for (const { start, end, key } of notes) {
      let bar = work.bars.findLastIndex((each) => each.start <= start);
      for (; bar >= 0 && bar < work.bars.length && work.bars[bar]!.start < end; bar++) {
        const own = work.bars[bar]!;
        const inside = Math.min(end, own.start + own.length) - Math.max(start, own.start);
        if (inside > 0) weights[bar]![key % 12]! += inside / QUARTER;
      }
    }
  const signs = written[work.name] ?? [];
  const truth = work.bars.map(
    ({ start }) => signs.findLast(([at]) => at <= start / QUARTER + 1e-6)?.[1] ?? signs[0]?.[1] ?? 0,
  );
  return { name: work.name, weights, truth };
}

const withinSix = (fifths: number): number => (fifths > 6 ? fifths - 12 : fifths < -5 ? fifths + 12 : fifths);

function transposed({ name, weights, truth }: Case, by: number): Case {
  return {
    name,
    weights: weights.map((own) => own.map((_, pc) => own[(pc - by + 120) % 12]!)),
    truth: truth.map((fifths) => withinSix((((fifths + 7 * by) % 12) + 12) % 12)),
  };
}

function joined(cases: readonly Case[], random: () => number): Case {
  const three = Array.from({ length: 3 }, () => {
    const one = cases[Math.floor(random() * cases.length)]!;
    const length = Math.min(one.truth.length, 12 + Math.floor(random() * 20));
    const from = Math.floor(random() * (one.truth.length - length + 1));
    const cut = {
      name: one.name,
      weights: one.weights.slice(from, from + length),
      truth: one.truth.slice(from, from + length),
    };
    return transposed(cut, Math.floor(random() * 12));
  });
  return {
    name: three.map(({ name }) => name).join(', '),
    weights: three.flatMap(({ weights }) => weights),
    truth: three.flatMap(({ truth }) => truth),
  };
}

const isSame = (a: number, b: number): boolean => (((a - b) % 12) + 12) % 12 === 0;

function measure(cases: readonly Case[]) {
  let bars = 0;
  let right = 0;
  let plain = 0;
  let changes = 0;
  let found = 0;
  for (const { name, weights, truth } of cases) {
    const { keys } = findKeys(weights);
    const one = estimateKey(weights.reduce((sum, own) => sum.map((each, pc) => each + own[pc]!)));
    let own = 0;
    truth.forEach((fifths, bar) => {
      bars++;
      if (isSame(keys.findLast((key) => key.bar <= bar)!.fifths, fifths)) own++;
      if (isSame(one.fifths, fifths)) plain++;
    });
    right += own;
    changes += truth.filter((fifths, bar) => bar > 0 && !isSame(fifths, truth[bar - 1]!)).length;
    found += keys.length - 1;
    if (process.env.BY && own < truth.length)
      console.log(
        name,
        `${own}/${truth.length}`,
        'truth',
        [...new Set(truth)].join(' '),
        'found',
        keys.map((k) => `${k.bar}:${k.fifths}${k.minor ? 'm' : ''}`).join(' '),
      );
  }
  const share = (count: number) => `${((100 * count) / bars).toFixed(1)} %`;
  return { pieces: cases.length, bars, 'one key': share(plain), ours: share(right), changes, found };
}

const seed = Number(process.env.SEED ?? 5);
const all = loadWorks().map(caseOf);
const table: Record<string, object> = {};
for (const [label, half] of [
  ['tuned on', 0],
  ['reported', 1],
] as const) {
  const own = all.filter((_, index) => index % 2 === half);
  table[`works, ${label}`] = measure(own);
  const random = seeded(seed + half);
  table[`three joined, ${label}`] = measure(Array.from({ length: 60 }, () => joined(own, random)));
}
console.log(`seed ${seed}`);
console.table(table);
