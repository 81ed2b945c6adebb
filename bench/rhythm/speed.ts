import { Graph } from '../../src/core/basics/graph';
import { seeded } from '../../src/core/basics/random';
import { EMPTY_BRIEF } from '../../src/core/decisions/brief';
import { withDirectives } from '../../src/core/decisions/decisions';
import type { SmfEvent } from '../../src/core/sources/smf/events';
import { readSmf } from '../../src/core/sources/smf/read';
import { writeSmf } from '../../src/core/sources/smf/write';
import { transcribeNow } from '../../src/core/transcribe';
import { layOutFile } from '../../tests/helpers/desk';

const TICKS = 480;

/** 40 strands × 200 bars × 8 notes, played with 15 ms of jitter and loose releases. */
export function large(): Uint8Array {
  const random = seeded(5);
  const tracks = Array.from({ length: 40 }, (_, index) => {
    const channel = index % 15 >= 9 ? (index % 15) + 1 : index % 15;
    const events: SmfEvent[] = [];
    for (let eighth = 0; eighth < 1600; eighth++) {
      const on = Math.max(0, Math.round(eighth * 240 + (random() + random() - 1) * 24));
      const key = 60 + Math.round(random() * 14);
      events.push({ kind: 'noteOn', tick: on, channel, key, velocity: 80 });
      const off = on + Math.round(240 * (0.6 + 0.35 * random()));
      events.push({ kind: 'noteOff', tick: off, channel, key, velocity: 0, asNoteOn: false });
    }
    events.sort((a, b) => a.tick - b.tick);
    const name = new TextEncoder().encode(`Violin ${index + 1}`);
    return {
      events: [
        { kind: 'trackName' as const, tick: 0, type: 3, bytes: name },
        ...events,
        { kind: 'endOfTrack' as const, tick: 1600 * 240 },
      ],
    };
  });
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: TICKS }, tracks });
}

/** Prints how long a whole transcription takes, and one part of it after one changed decision. */
export function measureSpeed(): void {
  const smf = readSmf(large());
  const workings = new Graph();
  const timed = (brief: typeof EMPTY_BRIEF): number => {
    const { performance: played } = layOutFile(smf, brief);
    const begun = performance.now();
    transcribeNow(played, brief, workings);
    return Math.round(performance.now() - begun);
  };
  const whole = timed(EMPTY_BRIEF);
  const decided = withDirectives(EMPTY_BRIEF, [
    { kind: 'grid', strand: '1/t1c1', smallest: 'eighth', triplets: false },
  ]);
  const one = timed(decided);
  console.log('40 played strands × 200 bars × 8 notes, first run of the process, milliseconds');
  console.table({
    'all parts': { ms: whole, budget: 3000 },
    'one changed decision': { ms: one, budget: 100 },
  });
}
