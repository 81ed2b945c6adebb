import { seeded } from '../../src/core/basics/random';
import type { SmfEvent } from '../../src/core/sources/smf/events';
import { madeFile, madeTrack, type Stroke } from '../../tests/helpers/made-file';

/** How the beat divides, and how that is put down. */
export const FEELS = ['eighths', '16ths', 'swung', 'swung 16ths', 'shuffle', 'threes'] as const;
export type Feel = (typeof FEELS)[number];

/** A note as it is meant: places in quarter notes from the first bar line. */
export interface Meant {
  part: number;
  start: number;
  length: number;
  key: number;
  /** Crushed into the next on its place. */
  grace: boolean;
  /** As it lies in the file, in ticks. */
  on: number;
  off: number;
}

export interface Band {
  smf: ReturnType<typeof madeFile>;
  notes: Meant[];
  feel: Feel;
  /** What everything sounds late, in seconds. */
  delay: number;
  /** What single parts sound late beyond that (negative: early), in seconds. */
  late: number[];
  /** The file counts other beats than the music has. */
  isOffGrid: boolean;
  /** Sharps of the signature at each bar, as fifths. */
  keys: number[];
  seconds: number;
}

export const BARS = 32;
const TICKS = 480;
const PARTS = ['Drums', 'Bass Guitar', 'Electric Guitar', 'Strings', 'Alto Sax'] as const;
const [DRUMS, BASS, GUITAR, PAD, LEAD] = [0, 1, 2, 3, 4];
const SCALE = [0, 2, 4, 5, 7, 9, 11];

/** Usual beats of a line, of a bass and of chords in each feel, as places within the beat (common practice). */
const CELLS: Record<'binary' | 'fine' | 'threes', readonly (readonly number[])[][]> = {
  binary: [
    [[0], [0, 0.5], [0, 0.5], [0.5], []],
    [[0], [0], [0, 0.5]],
    [[0], [0.5], [], [0, 0.5]],
  ],
  fine: [
    [[0, 0.25, 0.5, 0.75], [0, 0.5, 0.75], [0, 0.25, 0.5], [0, 0.5], [0.25, 0.75], [0], []],
    [[0], [0, 0.5], [0, 0.75], [0, 0.5, 0.75]],
    [[0], [0.5], [0, 0.75], [0.25, 0.75], []],
  ],
  threes: [
    [[0, 1 / 3, 2 / 3], [0, 2 / 3], [0], [1 / 3, 2 / 3], []],
    [[0], [0, 2 / 3], [0, 2 / 3]],
    [[0], [2 / 3], [0, 2 / 3], []],
  ],
};
const HATS: Record<Feel, readonly number[]> = {
  eighths: [0, 0.5],
  '16ths': [0, 0.25, 0.5, 0.75],
  swung: [0, 0.5],
  'swung 16ths': [0, 0.25, 0.5, 0.75],
  shuffle: [0, 0.5],
  threes: [0, 1 / 3, 2 / 3],
};
const GATES = [1 / 4, 1 / 3, 1 / 2, 3 / 4, 5 / 6, 9 / 10, 1];

/** A seeded band of drums, bass, guitar, pad and saxophone over 32 bars, with the faults of sequenced files. */
export function makeBand(seed: number): Band {
  const random = seeded(seed * 7919 + 13);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const oneIn = (count: number) => random() < 1 / count;
  const feel = FEELS[seed % FEELS.length]!;
  const isPlayed = oneIn(2);
  const perMinute = 70 + 90 * random() * (feel.includes('16') ? 0.4 : 1);
  const seconds = 60 / perMinute;
  const isOffGrid = oneIn(6);
  // Off the grid the file counts 120 though the music goes at its own pace.
  const filed = isOffGrid ? 0.5 : seconds;
  const delay = !isOffGrid && oneIn(4) ? (0.05 + 0.12 * random()) * seconds : 0;
  const late = PARTS.map(() => 0);
  if (!isOffGrid && delay === 0) {
    if (oneIn(4)) late[PAD] = -(0.04 + 0.06 * random());
    if (oneIn(4)) late[LEAD] = 0.025 + 0.03 * random();
    if (oneIn(6)) late[DRUMS] = 0.015 + 0.02 * random();
  }
  const ratio = feel === 'shuffle' ? 2 / 3 : 0.58 + 0.1 * random();
  const pair = feel === 'swung 16ths' ? 0.5 : feel === 'swung' || feel === 'shuffle' ? 1 : 0;
  const swung = (at: number): number => {
    if (pair === 0) return at;
    const into = at % pair;
    const share = into / pair;
    return at - into + pair * (share < 0.5 ? share * 2 * ratio : ratio + (share - 0.5) * 2 * (1 - ratio));
  };
  const roots = [pick([-4, -3, -2, -1, 0, 1, 2, 3, 4]), 0];
  roots[1] = roots[0]! + pick([-3, -2, 2, 3]);
  const keys = Array.from({ length: BARS }, (_, bar) => roots[bar < BARS / 2 ? 0 : 1]!);
  const tonic = (bar: number) => (((keys[Math.min(bar, BARS - 1)]! * 7) % 12) + 12) % 12;
  const cells = CELLS[feel === 'threes' ? 'threes' : feel.includes('16') ? 'fine' : 'binary'];
  const notes: Meant[] = [];
  const jitter = isPlayed ? 0.006 + 0.009 * random() : 0;
  const put = (
    part: number,
    start: number,
    length: number,
    chord: readonly number[],
    held: number,
    spread = 0,
    grace = false,
  ) => {
    chord.forEach((key, at) => {
      const sounding = swung(start) * seconds + delay + late[part]! + normal() * jitter + at * spread;
      const until = swung(start + length) * seconds - swung(start) * seconds;
      const loose = isPlayed ? held * (0.92 + 0.08 * random()) : held;
      const on = Math.max(0, Math.round((sounding / filed) * TICKS));
      notes.push({
        part,
        start,
        length,
        key,
        grace,
        on,
        off: on + Math.max(12, Math.round(((until * loose) / filed) * TICKS)),
      });
    });
  };
  const degree = (bar: number, step: number, from: number) =>
    from + tonic(bar) + SCALE[((step % 7) + 7) % 7]! + 12 * Math.floor(step / 7);
  const chords = [0, 3, 4, 5, 0, 4, 3, 0];
  const placesOf = (part: number) =>
    Array.from({ length: 4 * BARS }, (_, beat) => pick(cells[part]!).map((phase) => beat + phase)).flat();
  /** Each note up to the next, or its own beat where a rest follows. */
  const line = (
    part: number,
    places: readonly number[],
    held: number,
    chordOf: (bar: number, at: number) => readonly number[],
    spread = 0,
  ) =>
    places.forEach((at, index) => {
      const next = places[index + 1] ?? 4 * BARS;
      const length = next - at > 2 ? Math.ceil(at + 1e-6) - at : next - at;
      put(part, at, length, chordOf(Math.floor(at / 4), at), held, spread);
    });
  // Drums: a beat with fills, struck for no length of its own.
  for (let beat = 0; beat < 4 * BARS; beat++) {
    for (const phase of HATS[feel]) put(DRUMS, beat + phase, 0.25, [42], 0.5);
    if (beat % 2 === 0) put(DRUMS, beat, 0.25, [36], 0.5);
    else put(DRUMS, beat, 0.25, [38], 0.5);
  }
  const gate = () => (isPlayed ? 0.75 + 0.2 * random() : pick(GATES));
  line(BASS, placesOf(1), gate(), (bar, at) => [
    degree(bar, chords[bar % 8]! + (at % 4 === 0 ? 0 : pick([0, 2, 4])), 24),
  ]);
  const strum = isPlayed && oneIn(2) ? 0.006 : 0;
  line(
    GUITAR,
    placesOf(2),
    gate(),
    (bar) => [0, 2, 4].map((step) => degree(bar, chords[bar % 8]! + step, 48)),
    strum,
  );
  for (let bar = 0; bar < BARS; bar++)
    put(
      PAD,
      4 * bar,
      4,
      [0, 2, 4].map((step) => degree(bar, chords[bar % 8]! + step, 48)),
      isPlayed ? 0.97 : 1,
    );
  const leadGate = gate();
  const tune = placesOf(0);
  let step = 7;
  tune.forEach((at, index) => {
    step = Math.max(0, Math.min(13, step + pick([-2, -1, -1, 0, 1, 1, 2])));
    const bar = Math.floor(at / 4);
    const next = tune[index + 1] ?? 4 * BARS;
    const length = next - at > 2 ? Math.ceil(at + 1e-6) - at : next - at;
    put(LEAD, at, length, [degree(bar, step, 60)], leadGate);
  });
  const tempo: SmfEvent = { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(filed * 1e6) };
  const tracks = PARTS.map((name, part) =>
    madeTrack(
      name,
      part === DRUMS ? 9 : part,
      notes.filter((note) => note.part === part).map(({ on, off, key }): Stroke => [on, off, key]),
    ),
  );
  return {
    smf: madeFile({ events: [tempo] }, ...tracks),
    notes,
    feel,
    delay,
    late,
    isOffGrid,
    keys,
    seconds,
  };
}
