/**
 * How well one strand is divided over the chairs of a section: `npm run bench:chairs`.
 *
 * Data: works.json (scripts/rhythm-facts.py): four-part chorales and two quartet
 * movements, all parts collapsed into one strand, then divided again. The
 * chorales BWV 253–276 and Mozart K. 458 iii were tuned on, BWV 277–300 and
 * Beethoven op. 18/1 iv only reported. A note counts as right where its part has one with the same times
 * and key. Beside it the plain rule: of what sounds together the highest is
 * the first, and so on.
 */

import { divideNotes, type Seat, type SeatNote } from '../src/core/infer/chairs/divide';
import { instrumentOf } from '../src/core/instruments/catalogue';
import { QUARTER } from '../src/core/model/time';
import { loadWorks, type Work } from './rhythm/works';

const CHOIR = ['soprano', 'alto', 'tenor', 'bass-voice'];
const QUARTET = ['violin', 'violin', 'viola', 'cello'];

const seatsFor = (ids: readonly string[]): Seat[] =>
  ids.map((id) => {
    const { lowest, highest, comfortable, singleLine } = instrumentOf(id);
    return { lowest, highest, comfortable, doubles: !singleLine };
  });

interface Owned extends SeatNote {
  part: number;
}

const collapsed = ({ parts }: Work): Owned[] =>
  parts
    .flatMap((part, index) =>
      part.notes
        .filter(({ grace }) => !grace)
        .map(({ start, end, key }) => ({ on: start, off: end, key, part: index })),
    )
    .sort((a, b) => a.on - b.on || a.key - b.key || a.off - b.off);

function plainly(notes: readonly SeatNote[], count: number): number[] {
  return notes.map((note) => {
    const sounding = notes.filter(({ on, off }) => on <= note.on && off > note.on);
    return Math.min(count - 1, sounding.filter(({ key }) => key > note.key).length);
  });
}

function rightOf(notes: readonly Owned[], seats: readonly number[]): number {
  // Notes that are alike in all that counts may change places.
  const of = (at: number, part: number) => `${notes[at]!.on} ${notes[at]!.off} ${notes[at]!.key} ${part}`;
  const left = new Map<string, number>();
  notes.forEach(({ part }, at) => {
    left.set(of(at, part), (left.get(of(at, part)) ?? 0) + 1);
  });
  let right = 0;
  seats.forEach((seat, at) => {
    const key = of(at, seat);
    const there = left.get(key) ?? 0;
    if (there > 0) {
      left.set(key, there - 1);
      right++;
    }
  });
  return right;
}

const works = loadWorks();
const number = ({ name }: Work) => Number(/bwv(\d+)/.exec(name)?.[1] ?? 0);
const table: Record<string, object> = {};
const verbose = process.argv.includes('--tune');
for (const [label, own, ids] of [
  ['chorales, tuned on', works.filter((work) => number(work) > 0 && number(work) <= 276), CHOIR],
  ['chorales, reported', works.filter((work) => number(work) > 276), CHOIR],
  ['Beethoven op. 18/1 iv, reported', works.filter(({ name }) => name.startsWith('beethoven')), QUARTET],
  ['Mozart K. 458 iii, tuned on', works.filter(({ name }) => name.startsWith('mozart/k458')), QUARTET],
] as const) {
  let all = 0;
  let ours = 0;
  let plain = 0;
  let seconds = 0;
  for (const work of own) {
    if (work.parts.length !== ids.length) continue;
    const notes = collapsed(work);
    const from = performance.now();
    const seats = divideNotes(notes, seatsFor(ids), QUARTER, QUARTER / 10);
    seconds += (performance.now() - from) / 1000;
    const right = rightOf(notes, seats);
    if (verbose && label.includes('tuned')) console.log(work.name, `${right} of ${notes.length}`);
    all += notes.length;
    ours += right;
    plain += rightOf(notes, plainly(notes, ids.length));
  }
  table[label] = {
    works: own.length,
    notes: all,
    'plain rule': `${((100 * plain) / all).toFixed(2)} %`,
    ours: `${((100 * ours) / all).toFixed(2)} %`,
    seconds: seconds.toFixed(2),
  };
}
console.table(table);
