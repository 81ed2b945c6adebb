/**
 * Learns what speaks for a note in a recording: `npm run fit:recordings` writes src/core/recording/weights.json.
 *
 * Data: the takes of bench/recordings/takes.ts that are tuned on, through the bank that ships and two of recorded
 * samples (Debian packages), and through those two as other keyboards and guitars, coloured as by microphones.
 * `WITHOUT=BANK` learns from all but one, which shows what is heard of a bank that is not known; `OUT=FILE` writes it there.
 * Method: boosted trees (bench/recordings/boost.ts); first of each candidate by itself, then among the others.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { noteModel } from '../src/cli/note-model';
import { finished } from '../src/core/basics/steps';
import { candidatesOf } from '../src/core/recording/candidates';
import { pictureOf } from '../src/core/recording/constant-q';
import { hearKeys } from '../src/core/recording/hearing';
import { type Example, learnt, matched } from './recordings/learn';
import { type BankName, bankOf, guitars, others, pianos, RATE } from './recordings/takes';

/** Bank, seed, and whether they are varied. */
const SETS: readonly [BankName, number, boolean][] = [
  ['ours', 1, false],
  ['timgm6mb-soundfont', 1, false],
  ['fluid-soundfont-gm', 1, false],
  ['timgm6mb-soundfont', 3, true],
  ['fluid-soundfont-gm', 3, true],
];

const model = await noteModel();
const examples: Example[] = [];
for (const [name, seed, isVaried] of SETS) {
  if (name === process.env.WITHOUT) continue;
  const bank = bankOf(name);
  for (const takes of isVaried ? [pianos, guitars] : [pianos, guitars, others])
    for (const { instrument, name: take, truth, samples } of takes(bank, true, seed, isVaried)) {
      const { perSecond, ...hearing } = finished(hearKeys(samples, model));
      const picture = finished(pictureOf({ samples, rate: RATE }, perSecond));
      const candidates = finished(candidatesOf({ perSecond, ...hearing }, picture));
      const isNote = matched(truth, candidates, perSecond);
      console.log(
        `${name}, ${instrument}, ${take}: ${truth.length} notes, ${isNote.filter(Boolean).length} may be found`,
      );
      examples.push({ candidates, isNote, perSecond });
    }
}
const file = process.env.OUT ?? join(import.meta.dirname, '..', 'src/core/recording/weights.json');
writeFileSync(file, `${JSON.stringify(learnt(examples))}\n`);
