/**
 * Speed of the core: `npm run bench`.
 * - SMF reading beside midi-file on the same bytes, in the same run.
 * - 40 tidy strands × 200 bars × 8 notes from bytes to MusicXML, with its memory peak.
 * Data: made here with fixed seeds; real files from Debian's packages
 * where they are installed (bench/real-files.ts).
 */
import { parseMidi, writeMidi } from 'midi-file';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { deliverMidi } from '../src/core/deliver';
import { tidyFile } from '../src/core/demo/tidy';
import { untidyFile } from '../src/core/demo/untidy';
import { timelineOf } from '../src/core/sound/timeline';
import { writeMusicXml } from '../src/core/sources/musicxml/write';
import type { SmfEvent } from '../src/core/sources/smf/events';
import { readPerformance } from '../src/core/sources/smf/performance';
import { readSmf } from '../src/core/sources/smf/read';
import { writeSmf } from '../src/core/sources/smf/write';
import { takeStock } from '../src/core/stock/inventory';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import { realFiles } from './real-files';

const ROUNDS = 31;

function large(strands: number, bars: number, perBar: number): Uint8Array {
  const step = 1920 / perBar;
  const tracks = Array.from({ length: strands }, (_, index) => {
    const channel = index % 9;
    const events: SmfEvent[] = [
      { kind: 'trackName', tick: 0, type: 3, bytes: new TextEncoder().encode(`Violin ${index + 1}`) },
    ];
    for (let at = 0; at < bars * perBar; at++) {
      const key = 60 + ((at * 5 + index * 3) % 24);
      events.push({ kind: 'noteOn', tick: at * step, channel, key, velocity: 80 });
      events.push({ kind: 'noteOff', tick: (at + 1) * step, channel, key, velocity: 64, asNoteOn: false });
    }
    return { events };
  });
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
}

const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;

/** Median milliseconds of two workers that take turns, so that neither gets the better machine. */
function race(first: () => void, second: () => void): [number, number] {
  const times: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++)
    [first, second].forEach((work, index) => {
      const start = performance.now();
      work();
      times[index]!.push(performance.now() - start);
    });
  return [median(times[0]), median(times[1])];
}

const real = realFiles().map(({ bytes }) => bytes);
const sets: [string, Uint8Array[]][] = [
  ['demo, tidy and untidy (seed 7)', [tidyFile(), untidyFile(7)]],
  ['40 strands × 200 bars × 8 notes', [large(40, 200, 8)]],
  ...(real.length > 0 ? ([[`${real.length} real files`, real]] as [string, Uint8Array[]][]) : []),
];

console.log('SMF reading, median milliseconds of', ROUNDS, 'rounds');
console.table(
  Object.fromEntries(
    sets.map(([name, files]) => {
      const [ours, theirs] = race(
        () => files.forEach((file) => void readSmf(file)),
        () => files.forEach((file) => void parseMidi(file)),
      );
      const kilobytes = files.reduce((sum, file) => sum + file.length, 0) / 1024;
      return [
        name,
        {
          kB: Math.round(kilobytes),
          Dragoman: Number(ours.toFixed(2)),
          'midi-file': Number(theirs.toFixed(2)),
          'times as fast': Number((theirs / ours).toFixed(2)),
        },
      ];
    }),
  ),
);

console.log('SMF writing, median milliseconds of', ROUNDS, 'rounds');
console.table(
  Object.fromEntries(
    sets.map(([name, files]) => {
      const [read, parsed] = [files.map((file) => readSmf(file)), files.map((file) => parseMidi(file))];
      const [ours, theirs] = race(
        () => read.forEach((smf) => void writeSmf(smf)),
        () => parsed.forEach((midi) => void writeMidi(midi)),
      );
      return [
        name,
        {
          Dragoman: Number(ours.toFixed(2)),
          'midi-file': Number(theirs.toFixed(2)),
          'times as fast': Number((theirs / ours).toFixed(2)),
        },
      ];
    }),
  ),
);

const crowd = layOutFile(readSmf(large(100, 250, 8)), EMPTY_BRIEF);
const timed = (work: () => void): { ms: number } => {
  const begun = performance.now();
  work();
  return { ms: Math.round(performance.now() - begun) };
};
console.log('100 strands × 2,000 notes, first run, milliseconds');
console.table({
  'take stock': timed(() => void takeStock(crowd.file, crowd.performance, crowd.decisions)),
  'plain file': timed(() => void deliverMidi(crowd)),
  timeline: timed(() => void timelineOf(crowd, 'cleaned', null)),
});

const bytes = large(40, 200, 8);
globalThis.gc?.();
const before = process.memoryUsage().heapUsed;
let start = performance.now();
const smf = readSmf(bytes);
const read = performance.now() - start;
start = performance.now();
const { score } = transcribeNow(readPerformance(smf), EMPTY_BRIEF);
const transcribed = performance.now() - start;
start = performance.now();
const document = writeMusicXml(score);
const written = performance.now() - start;
console.log('Bytes to MusicXML: 40 strands × 200 bars × 8 notes, first run of the process, milliseconds');
console.table({
  read: { ms: Math.round(read) },
  transcribe: { ms: Math.round(transcribed) },
  'write MusicXML': { ms: Math.round(written) },
  total: { ms: Math.round(read + transcribed + written), budget: 2000 },
});
console.log(
  `Memory: ${Math.round((process.memoryUsage().heapUsed - before) / 2 ** 20)} MB held, peak ${Math.round(process.resourceUsage().maxRSS / 1024)} MB resident; document ${(document.length / 2 ** 20).toFixed(1)} MB`,
);
