import { finished } from '../../src/core/basics/steps';
import type { Candidate } from '../../src/core/recording/candidates';
import { among } from '../../src/core/recording/company';
import { RULES } from '../../src/core/recording/heard';
import { type AllWeights, alone, said } from '../../src/core/recording/weigh';
import type { Stretched } from '../../tests/helpers/note-measures';
import { boosted, type Rows } from './boost';

/** Candidates of a take, and which of them are notes of the truth. */
export interface Example {
  candidates: Candidate[];
  isNote: boolean[];
  perSecond: number;
}

/** Seconds within which a candidate is a note of the truth. */
const NEAR = 0.05;

/** Which candidates are notes of the truth: the nearest of each. */
export function matched(
  truth: readonly Stretched[],
  candidates: readonly Candidate[],
  perSecond: number,
): boolean[] {
  const isNote = candidates.map(() => false);
  for (const { on, key } of truth) {
    let best = -1;
    candidates.forEach((each, at) => {
      const away = Math.abs(each.on / perSecond - on);
      if (each.key !== key || isNote[at] || away > NEAR) return;
      if (best < 0 || away < Math.abs(candidates[best]!.on / perSecond - on)) best = at;
    });
    if (best >= 0) isNote[best] = true;
  }
  return isNote;
}

function rowsOf(all: readonly (readonly number[])[]): Rows {
  const size = all[0]!.length;
  const values = new Float32Array(all.length * size);
  all.forEach((row, at) => {
    values.set(row, at * size);
  });
  return { values, size, count: all.length };
}

const learntFrom = (rows: readonly (readonly number[])[], examples: readonly Example[]) =>
  boosted(
    rowsOf(rows),
    Uint8Array.from(
      examples.flatMap(({ isNote }) => isNote),
      Number,
    ),
  );

const seenOf = (examples: readonly Example[]) =>
  examples.flatMap(({ candidates }) => candidates.map(({ seen }) => seen));

/** Learns both rounds. What the first says of a take to the second was learnt from other takes, as it will be. */
export function learnt(examples: readonly Example[]): AllWeights {
  const halves = [0, 1].map((half) => examples.filter((_, at) => at % 2 === half));
  const firsts = halves.map((half) => learntFrom(seenOf(half), half));
  const rows = examples.flatMap(({ candidates, perSecond }, at) => {
    const first = firsts[1 - (at % 2)]!;
    const company = finished(among(candidates, alone(candidates, first), perSecond));
    return candidates.map(({ seen }, index) => [...seen, ...company[index]!]);
  });
  const second = learntFrom(rows, examples);
  const usual = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };
  const weights = { alone: learntFrom(seenOf(examples), examples), among: second, usual };
  const isNote = examples.flatMap((each) => each.isNote);
  const count = isNote.filter(Boolean).length;
  const mean = { ...usual };
  rows.forEach((row, at) => {
    if (!isNote[at]) return;
    const { rules } = said(row, weights);
    for (const rule of RULES) mean[rule] += rules[rule] / count;
  });
  for (const rule of RULES) usual[rule] = Math.round(mean[rule] * 1e4) / 1e4;
  return weights;
}
