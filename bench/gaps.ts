/**
 * How long work on a job goes on without giving way: `npm run bench:gaps`.
 * Stop, a newer decision and every other question wait for as long. The pieces
 * are made here with fixed seeds. Budget: 50 ms; the worker pauses after 25.
 */
import { seeded } from '../src/core/basics/random';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import type { SmfEvent } from '../src/core/sources/smf/events';
import { writeSmf } from '../src/core/sources/smf/write';
import { stockOf } from '../src/core/workbench/stock';
import { Workbench } from '../src/core/workbench/workbench';
import { large } from './rhythm/speed';

const BUDGET = 50;

/** Strands of so many notes each, on a 16th grid or played loosely. */
function piece(strands: number, notes: number, loose: number): Uint8Array {
  const random = seeded(3);
  const tracks = Array.from({ length: strands }, (_, index) => {
    const channel = index % 9;
    const events: SmfEvent[] = [];
    for (let at = 0; at < notes; at++) {
      const on = Math.max(0, at * 120 + Math.round((random() - 0.5) * loose));
      const key = 40 + Math.round(random() * 40);
      events.push({ kind: 'noteOn', tick: on, channel, key, velocity: 80 });
      events.push({ kind: 'noteOff', tick: on + 100, channel, key, velocity: 0, asNoteOn: false });
    }
    events.sort((a, b) => a.tick - b.tick);
    const bytes = new TextEncoder().encode(index % 3 === 0 ? `Piano ${index}` : `Violin ${index}`);
    return { events: [{ kind: 'trackName' as const, tick: 0, type: 3, bytes }, ...events] };
  });
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
}

/** The longest time between two yields, and the whole, in milliseconds. */
function gapsOf(steps: Generator<unknown, unknown>): { longest: number; whole: number; over: number } {
  const begun = performance.now();
  let last = begun;
  let longest = 0;
  let over = 0;
  for (;;) {
    const { done } = steps.next();
    const now = performance.now();
    longest = Math.max(longest, now - last);
    if (now - last > BUDGET) over++;
    last = now;
    if (done) return { longest: Math.round(longest), whole: Math.round(now - begun), over };
  }
}

const pieces: [name: string, bytes: Uint8Array][] = [
  ['40 played strands × 1,600 notes', large()],
  ['100 strands × 2,000 notes to the tick', piece(100, 2000, 0)],
  ['1 played strand × 60,000 notes', piece(1, 60_000, 30)],
];
const rows: Record<string, object> = {};
for (const [name, bytes] of pieces) {
  const begun = performance.now();
  const workbench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
  const state = workbench.layOut(1, EMPTY_BRIEF);
  rows[`${name}: opened and cleaned`] = { longest: Math.round(performance.now() - begun) };
  rows[`${name}: stock taken`] = gapsOf(stockOf(state));
  rows[`${name}: written`] = gapsOf(workbench.write(1));
}
console.log(
  `Milliseconds; longest without giving way (budget ${BUDGET}), the whole, and how often over budget`,
);
console.table(rows);
