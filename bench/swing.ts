/**
 * Whether swing of 16ths is found, and not invented: `npm run bench:swing`.
 * Grooves made from usual beats (seeded, not tuned on), three parts, half of
 * them swung at 0.57–0.69, at rising jitter and with releases at 60–100 % of
 * the value. Beside it rounding to the nearest 16th.
 */

import { seeded } from '../src/core/basics/random';
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { QUARTER } from '../src/core/model/time';
import { soundedNotes } from '../src/core/perform/play';
import { readPerformance } from '../src/core/sources/smf/performance';
import { transcribeNow } from '../src/core/transcribe';
import { madeFile, madeTrack, type Stroke } from '../tests/helpers/made-file';

const PIECES = 40;
const BARS = 24;
const TICKS = 480;
/** Quarters a minute where no tempo is given: 120, so that a tick is this long. */
const SECONDS = 0.5 / TICKS;
const JITTERS = [0, 0.005, 0.01, 0.015, 0.02];
const SEED = Number(process.env.SEED ?? 1);

/** Usual beats of 16th music by how often they come, for a line, for chords and for a bass; common practice. */
const CELLS: readonly (readonly number[])[][] = [
  [[0, 0.25, 0.5, 0.75], [0, 0.25, 0.5, 0.75], [0, 0.5, 0.75], [0, 0.25, 0.75], [0.25, 0.5], [0, 0.5], [0]],
  [[0], [0.25, 0.75], [0, 0.75], [0.5], [0, 0.5]],
  [[0], [0, 0.5], [0, 0.75], [0, 0.5, 0.75]],
];
const NAMES = ['Alto Sax', 'Electric Piano', 'Fingered Bass'];

const rows = JITTERS.map((jitter) => {
  const row = { swung: 0, found: 0, straight: 0, invented: 0, away: 0, notes: 0, right: 0, rounded: 0 };
  for (let piece = 0; piece < PIECES; piece++) measure(piece, jitter, row);
  return {
    'jitter ms': 1000 * jitter,
    'swing found': `${row.found}/${row.swung}`,
    'straight swung': `${row.invented}/${row.straight}`,
    'ratio away': (row.away / Math.max(1, row.found)).toFixed(3),
    'position %': ((100 * row.right) / row.notes).toFixed(2),
    rounded: ((100 * row.rounded) / row.notes).toFixed(2),
  };
});
console.log(`${PIECES} grooves of ${BARS} bars at each jitter, seed ${SEED}.`);
console.table(rows);

function measure(piece: number, jitter: number, row: Record<string, number>): void {
  const random = seeded(SEED * 1009 + piece);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const ratio = piece % 2 === 0 ? 0.57 + 0.12 * random() : 0.5;
  const written = CELLS.map((cells) =>
    Array.from({ length: 4 * BARS }, (_, beat) =>
      cells[Math.floor(random() * cells.length)]!.map((phase) => beat + phase),
    ).flat(),
  );
  const swung = (at: number) => {
    const into = (2 * at) % 1;
    return at - into / 2 + (into === 0 ? 0 : ratio / 2);
  };
  const tracks = written.map((places, part) => {
    const strokes = places.map((at, index): Stroke => {
      const on = Math.max(0, Math.round(swung(at) * TICKS + (normal() * jitter) / SECONDS));
      const length = (swung(places[index + 1] ?? 4 * BARS) - swung(at)) * TICKS * (0.6 + 0.4 * random());
      return [on, Math.round(on + Math.max(20, length)), 40 + 12 * (2 - part) + ((index * 5) % 12)];
    });
    return { strokes, file: madeTrack(NAMES[part]!, part, strokes) };
  });
  const { score, swings } = transcribeNow(
    readPerformance(madeFile(...tracks.map(({ file }) => file))),
    EMPTY_BRIEF,
  );
  if (ratio === 0.5) {
    row.straight!++;
    if (swings.length > 0) row.invented!++;
  } else {
    row.swung!++;
    const [swing] = swings;
    if (swing?.value === '16th') {
      row.found!++;
      row.away! += Math.abs(swing.ratio - ratio);
    }
  }
  written.forEach((places, part) => {
    const right = new Set(places.map((at) => at * QUARTER));
    row.notes! += places.length;
    for (const { start } of soundedNotes(score, score.parts[part]!)) if (right.has(start)) row.right!++;
    tracks[part]!.strokes.forEach(([on], index) => {
      if (Math.round((4 * on) / TICKS) / 4 === places[index]) row.rounded!++;
    });
  });
}
