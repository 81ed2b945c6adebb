/**
 * Weighs what speaks for a note in a recording: `npm run fit:recordings` writes src/core/recording/weights.json.
 *
 * Data: the takes of bench/recordings/takes.ts that are tuned on, seed 1. Method: logistic regression with a light
 * ridge, by Newton's steps; first of each candidate by itself, then among the others.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { noteModel } from '../src/cli/note-model';
import { finished } from '../src/core/basics/steps';
import { type Candidate, candidatesOf, FEATURES } from '../src/core/recording/candidates';
import { pictureOf } from '../src/core/recording/constant-q';
import { RULES } from '../src/core/recording/heard';
import { hearKeys } from '../src/core/recording/hearing';
import { type AllWeights, alone, among, COMPANY, type Weights } from '../src/core/recording/weigh';
import type { Stretched } from '../tests/helpers/note-measures';
import { bankOf, guitars, others, pianos, RATE } from './recordings/takes';

const SEED = 1;
/** The bank that ships, and two of recorded samples. A third of those is judged and not learnt from. */
const BANKS = ['ours', 'timgm6mb-soundfont', 'csound-soundfont'] as const;
const RIDGE = 1;
const ROUNDS = 25;
/** Seconds within which a candidate is a note of the truth. */
const NEAR = 0.05;

interface Learned {
  candidates: Candidate[];
  isNote: boolean[];
  perSecond: number;
}

function matched(truth: readonly Stretched[], candidates: readonly Candidate[], perSecond: number) {
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

/** Solves a symmetric system of equations by elimination. */
function solved(matrix: Float64Array[], right: Float64Array): Float64Array {
  const size = right.length;
  for (let at = 0; at < size; at++)
    for (let row = at + 1; row < size; row++) {
      const by = matrix[row]![at]! / matrix[at]![at]!;
      for (let column = at; column < size; column++) matrix[row]![column]! -= by * matrix[at]![column]!;
      right[row]! -= by * right[at]!;
    }
  for (let at = size - 1; at >= 0; at--) {
    for (let column = at + 1; column < size; column++) right[at]! -= matrix[at]![column]! * right[column]!;
    right[at]! /= matrix[at]![at]!;
  }
  return right;
}

function fitted(rows: readonly number[][], isNote: readonly boolean[]): Weights {
  const size = rows[0]!.length + 1;
  const flat = new Float64Array(rows.length * size);
  rows.forEach((seen, index) => {
    flat.set(seen, index * size);
    flat[(index + 1) * size - 1] = 1;
  });
  const weights = new Float64Array(size);
  for (let round = 0; round < ROUNDS; round++) {
    const slope = weights.map((weight) => RIDGE * weight);
    const bend = Array.from({ length: size }, (_, at) => {
      const row = new Float64Array(size);
      row[at] = RIDGE;
      return row;
    });
    for (let index = 0; index < rows.length; index++) {
      const full = flat.subarray(index * size, (index + 1) * size);
      let odds = 0;
      for (let at = 0; at < size; at++) odds += weights[at]! * full[at]!;
      const share = 1 / (1 + Math.exp(-Math.max(-30, Math.min(30, odds))));
      const spread = share * (1 - share);
      for (let at = 0; at < size; at++) {
        slope[at]! += (share - (isNote[index] ? 1 : 0)) * full[at]!;
        const scaled = spread * full[at]!;
        for (let to = 0; to < size; to++) bend[at]![to]! += scaled * full[to]!;
      }
    }
    const step = solved(bend, slope);
    for (let at = 0; at < size; at++) weights[at]! -= step[at]!;
  }
  const round = (value: number) => Math.round(value * 1e4) / 1e4;
  return { of: [...weights.slice(0, -1)].map(round), bias: round(weights.at(-1)!) };
}

const model = await noteModel();
const learned: Learned[] = [];
for (const name of BANKS) {
  const bank = bankOf(name);
  for (const takes of [pianos, guitars, others])
    for (const { instrument, name: take, truth, samples } of takes(bank, true, SEED)) {
      const hearing = finished(hearKeys(samples, model));
      const picture = finished(pictureOf({ samples, rate: RATE }, hearing.perSecond));
      const candidates = finished(candidatesOf(hearing, picture));
      const isNote = matched(truth, candidates, hearing.perSecond);
      console.log(
        `${name}, ${instrument}, ${take}: ${truth.length} notes, ${isNote.filter(Boolean).length} may be found`,
      );
      learned.push({ candidates, isNote, perSecond: hearing.perSecond });
    }
}
const isNote = learned.flatMap((each) => each.isNote);
const first = fitted(
  learned.flatMap(({ candidates }) => candidates.map(({ seen }) => seen)),
  isNote,
);
const usual = { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 };
const soFar: AllWeights = { alone: first, among: first, usual };
const rows = learned.flatMap(({ candidates, perSecond }) => {
  const company = finished(among(candidates, alone(candidates, soFar), perSecond));
  return candidates.map(({ seen }, at) => [...seen, ...company[at]!]);
});
const second = fitted(rows, isNote);
const count = isNote.filter(Boolean).length;
rows.forEach((seen, index) => {
  if (!isNote[index]) return;
  [...FEATURES, ...COMPANY].forEach((rule, at) => {
    if (rule !== 'strength') usual[rule] += (second.of[at]! * seen[at]!) / count;
  });
});
for (const rule of RULES) usual[rule] = Math.round(usual[rule] * 1e4) / 1e4;
const file = join(import.meta.dirname, '..', 'src/core/recording/weights.json');
writeFileSync(file, `${JSON.stringify({ alone: first, among: second, usual }, null, 2)}\n`);
console.log(`${count} notes of ${isNote.length} candidates`);
