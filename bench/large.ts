/**
 * `npm run bench:large [NOTES…]`: the whole job on large pieces, step by step: seconds, the longest stretch without a
 * pause (in milliseconds, where a step has any) and the memory of the process. Each piece has a process of its own.
 * Made here, half of the strands to the tick and half played, seed 5: 10,000 notes to a million by length (100 strands,
 * up to 20,000 bars), the same many tracks (2,000), and ten hours. What is near linear has the same microseconds a note.
 */
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { seeded } from '../src/core/basics/random';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { deliverMidi } from '../src/core/deliver';
import { deliverScore } from '../src/core/deliver/score';
import { timelineOf } from '../src/core/sound/timeline';
import type { SmfEvent } from '../src/core/sources/smf/events';
import { writeSmf } from '../src/core/sources/smf/write';
import { noteBars } from '../src/core/workbench/note-bars';
import { goingOutOf, proofOf } from '../src/core/workbench/proof';
import { stockOf } from '../src/core/workbench/stock';
import { summarise } from '../src/core/workbench/summary';
import { Workbench } from '../src/core/workbench/workbench';

const TICKS = 480;
const SEED = 5;

/** What a piece is like: strands, notes of each, and ticks from note to note. */
interface Shape {
  strands: number;
  each: number;
  step: number;
}

const PIECES: Readonly<Record<string, Shape>> = {
  '10,000 notes': { strands: 100, each: 100, step: 240 },
  '50,000 notes': { strands: 100, each: 500, step: 240 },
  '200,000 notes': { strands: 100, each: 2000, step: 240 },
  '1,000,000 notes': { strands: 50, each: 20_000, step: 240 },
  '2,000 tracks': { strands: 2000, each: 100, step: 240 },
  'ten hours': { strands: 10, each: 9000, step: 3840 },
};

function made({ strands, each, step }: Shape): Uint8Array {
  const next = seeded(SEED);
  const tracks = Array.from({ length: strands }, (_, strand) => {
    const channel = strand % 9;
    const name = new TextEncoder().encode(strand % 2 ? `Violin ${strand + 1}` : `Flute ${strand + 1}`);
    const events: SmfEvent[] = [{ kind: 'trackName', tick: 0, type: 3, bytes: name }];
    let key = 60 + (strand % 12);
    let ends = 0;
    for (let at = 0; at < each; at++) {
      const loose = strand % 2 ? Math.round((next() - 0.5) * 0.1 * TICKS) : 0;
      const on = Math.max(ends, at * step + loose);
      ends = on + Math.round(step * 0.9) - 30;
      key = Math.max(56, Math.min(92, key + Math.round((next() - 0.5) * 6)));
      events.push({ kind: 'noteOn', tick: on, channel, key, velocity: 60 + Math.floor(next() * 40) });
      events.push({ kind: 'noteOff', tick: ends, channel, key, velocity: 0, asNoteOn: true });
    }
    return { events };
  });
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: TICKS }, tracks });
}

interface Step {
  step: string;
  seconds: number;
  /** Milliseconds; null where it has no pauses. */
  stretch: number | null;
  /** Of the process after it, in MB. */
  memory: number;
}

function measured(shape: Shape): Step[] {
  const steps: Step[] = [];
  const told = (step: string, from: number, stretch: number | null) =>
    steps.push({
      step,
      seconds: (performance.now() - from) / 1000,
      stretch,
      memory: Math.round(process.memoryUsage.rss() / 2 ** 20),
    });
  const once = <T>(step: string, work: () => T): T => {
    const from = performance.now();
    const result = work();
    told(step, from, null);
    return result;
  };
  const inSteps = <T>(step: string, work: Generator<unknown, T>): T => {
    const from = performance.now();
    let longest = 0;
    for (;;) {
      const since = performance.now();
      const { done, value } = work.next();
      longest = Math.max(longest, performance.now() - since);
      if (!done) continue;
      told(step, from, Math.round(longest));
      return value as T;
    }
  };
  const bytes = once('made', () => made(shape));
  const bench = once('read', () => new Workbench([{ id: '1', version: 1, name: 'large.mid', bytes }]));
  const state = once('cleaned', () => bench.layOut(1, EMPTY_BRIEF));
  inSteps('stock', stockOf(state));
  once('note bars', () => noteBars(state.desk, false));
  once('played', () => timelineOf(state.desk, 'cleaned', null));
  const written = inSteps('written', bench.write(1));
  once('summary', () => summarise(written));
  inSteps('proof', proofOf(written));
  const { score } = written.transcription;
  const { desk } = written;
  once('MusicXML', () => deliverScore(desk, score, 'musicxml'));
  once('MIDI', () => deliverMidi(desk, desk.decisions.handOver, written.transcription));
  inSteps('read back', goingOutOf(written));
  return steps;
}

const wanted = process.argv[3];
if (process.send && wanted) {
  process.send(measured(PIECES[wanted]!));
} else {
  const asked = process.argv.slice(3);
  const names = Object.keys(PIECES).filter((name) => asked.length === 0 || asked.includes(name));
  for (const name of names) {
    const { strands, each } = PIECES[name]!;
    const child = fork(fileURLToPath(import.meta.url), ['large', name], {
      execArgv: ['--max-old-space-size=12000'],
    });
    const steps = await new Promise<Step[] | null>((resolve) => {
      child.on('message', (message) => resolve(message as Step[]));
      child.on('exit', () => resolve(null));
    });
    console.log(`\n${name}: ${strands} strands of ${each} notes`);
    if (steps === null) console.log('The process was ended: it had no memory left.');
    else
      console.table(
        Object.fromEntries(
          steps.map(({ step, seconds, stretch, memory }) => [
            step,
            {
              seconds: Number(seconds.toFixed(2)),
              'µs a note': Number(((1e6 * seconds) / (strands * each)).toFixed(1)),
              'longest stretch, ms': stretch,
              'memory, MB': memory,
            },
          ]),
        ),
      );
  }
}
