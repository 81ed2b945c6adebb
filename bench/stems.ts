/**
 * How long stems take: `npm run bench:stems`.
 *
 * Data: made (seed 1), twenty strands of three minutes with eight notes a bar at 120, programs all over the bank.
 * Budget: 60 s for all twenty as WAV. Beside it one file of the whole, and each stem rendered by itself, which is the
 * plain way; both with the same synthesizer.
 */

import { seeded } from '../src/core/basics/random';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { makeBank } from '../src/core/sound/bank';
import { flacFile, loadFlac } from '../src/core/sound/flac';
import { readBank } from '../src/core/sound/render';
import { type SoundFile, type SoundForm, wavFile } from '../src/core/sound/sound-file';
import type { Stem, StemsChoice } from '../src/core/sound/stem-choice';
import { renderStems } from '../src/core/sound/stems';
import { timelineOf } from '../src/core/sound/timeline';
import type { SmfEvent } from '../src/core/sources/smf/events';
import { writeSmf } from '../src/core/sources/smf/write';
import { stemsOf } from '../src/core/workbench/stems';
import { Workbench } from '../src/core/workbench/workbench';

const STRANDS = 20;
const BARS = 90;
const EIGHTH = 240;
const CHOICE: StemsChoice = { format: 'wav', rate: 48_000, bits: 16, leadInBars: 0, click: false };

const random = seeded(1);
const tracks = Array.from({ length: STRANDS }, (_, strand) => {
  const channel = strand % 9;
  const events: SmfEvent[] = [
    { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(`Strand ${strand + 1}`) },
    { kind: 'program', tick: 0, channel, program: (strand * 6) % 112 },
  ];
  let key = 48 + Math.floor(random() * 24);
  for (let at = 0; at < BARS * 8; at++) {
    key = Math.max(40, Math.min(88, key + Math.floor(random() * 7) - 3));
    events.push({ kind: 'noteOn', tick: at * EIGHTH, channel, key, velocity: 80 });
    events.push({ kind: 'noteOff', tick: at * EIGHTH + 210, channel, key, velocity: 0, asNoteOn: true });
  }
  return { events };
});
const bytes = writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
const workbench = new Workbench([{ id: '1', version: 1, name: 'made.mid', bytes }]);
const { desk } = workbench.layOut(0, EMPTY_BRIEF);
const timeline = timelineOf(desk, 'cleaned', null);
const bank = readBank(makeBank());
const flac = await loadFlac();

/** Renders and throws away. @returns seconds, files and their bytes */
function timed(stems: readonly Stem[], choice: StemsChoice) {
  let size = 0;
  const fileOf = (form: SoundForm): SoundFile =>
    form.format === 'flac' ? flacFile(flac, form) : wavFile(form);
  const started = performance.now();
  const steps = renderStems(bank, timeline, stems, choice, new Map(), fileOf, {
    begin: () => {
      size = 0;
    },
    drop: () => {},
    add: (_, { length }) => {
      size += length;
    },
    head: () => {},
  });
  let step = steps.next();
  while (!step.done) step = steps.next();
  return {
    files: step.value.names.length,
    seconds: Number(((performance.now() - started) / 1000).toFixed(1)),
    'MB of files': Math.round(size / 1e6),
  };
}

const parts = stemsOf(desk, 'cleaned', 'part');
const all = stemsOf(desk, 'cleaned', 'all');
console.log(
  `${STRANDS} strands of ${(timeline.end / 60).toFixed(1)} minutes; budget for all stems as WAV: 60 s`,
);
const alone = parts.slice(0, 2).map((stem) => timed([stem], CHOICE).seconds);
console.table({
  'one file': timed(all, CHOICE),
  stems: timed(parts, CHOICE),
  'stems, 24 bit': timed(parts, { ...CHOICE, bits: 24 }),
  'stems, FLAC': timed(parts, { ...CHOICE, format: 'flac' }),
  'each by itself (two, and reckoned up)': {
    files: parts.length,
    seconds: Number(((alone.reduce((sum, each) => sum + each, 0) / alone.length) * parts.length).toFixed(1)),
  },
});
