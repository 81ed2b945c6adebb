import type { Score } from '../../src/core/model/score';
import { type Moment, QUARTER, type Span } from '../../src/core/model/time';
import type { Performed } from './perform';
import type { TrueNote } from './works';

/** How a note was read. */
export interface ReadNote {
  start: Moment;
  end: Moment;
  staff: number;
  voice: number;
  tuplet: boolean;
  grace: boolean;
}

/** Counts of what was right; `of` counts what could be. */
export interface Tally {
  notes: number;
  positions: number;
  lengths: number;
  graces: number;
  gracesOf: number;
  tuplets: number;
  tupletsOf: number;
  staves: number;
  /** Staff right when everything from middle C up goes to the upper one. */
  middleC: number;
  voices: number;
  keyboardNotes: number;
  symbols: number;
  symbolsOf: number;
}

export const emptyTally = (): Tally => ({
  notes: 0,
  positions: 0,
  lengths: 0,
  graces: 0,
  gracesOf: 0,
  tuplets: 0,
  tupletsOf: 0,
  staves: 0,
  middleC: 0,
  voices: 0,
  keyboardNotes: 0,
  symbols: 0,
  symbolsOf: 0,
});

/** The written notes of a score by the ids of their sources, ties joined. */
export function readNotes(score: Score): Map<string, ReadNote> {
  const found = new Map<string, ReadNote>();
  for (const part of score.parts)
    part.bars.forEach((bar, index) => {
      const zero = score.bars[index]!.start;
      for (const line of bar.voices)
        for (const item of line.items) {
          if (item.kind !== 'chord') continue;
          const start = zero + item.onset;
          const end = start + item.duration;
          const common = { staff: line.staff, voice: line.voice, tuplet: item.tuplet !== undefined };
          for (const note of item.graces ?? [])
            for (const id of note.sources)
              found.set(id, { start, end: start, ...common, tuplet: false, grace: true });
          for (const note of item.notes)
            for (const id of note.sources) {
              const known = found.get(id);
              if (note.tieStop && known) {
                known.end = end;
                known.tuplet ||= common.tuplet;
              } else found.set(id, { start, end, ...common, grace: false });
            }
        }
    });
  return found;
}

/** Written chords and rests of a score. */
export const countSymbols = (score: Score): number =>
  score.parts.reduce(
    (sum, part) =>
      sum + part.bars.reduce((all, bar) => all + bar.voices.reduce((n, line) => n + line.items.length, 0), 0),
    0,
  );

export function judge(
  tally: Tally,
  pairs: Iterable<[TrueNote, ReadNote | undefined]>,
  isKeyboard: boolean,
): void {
  for (const [truth, read] of pairs) {
    if (truth.grace) {
      tally.gracesOf++;
      if (read?.grace && read.start === truth.start) tally.graces++;
      continue;
    }
    tally.notes++;
    const placed = read?.start === truth.start && !read.grace;
    if (placed) tally.positions++;
    if (placed && read.end === truth.end) tally.lengths++;
    if (truth.tuplet || read?.tuplet) {
      tally.tupletsOf++;
      if (truth.tuplet && read?.tuplet && placed) tally.tuplets++;
    }
    if (!isKeyboard) continue;
    tally.keyboardNotes++;
    if (read?.staff === truth.staff) tally.staves++;
    if ((truth.key >= 60 ? 1 : 2) === truth.staff) tally.middleC++;
    if (read?.staff === truth.staff && read.voice === truth.voice) tally.voices++;
  }
}

const GRIDS: Span[] = [2, 3, 4, 6, 8, 12].map((division) => QUARTER / division);

/** The baseline: every onset and release at the nearest slot of the one grid that serves this work best. */
export function roundAll(performed: Performed): Tally {
  const quartersPerTick = 1 / 480;
  const of = (step: Span): Tally => {
    const tally = emptyTally();
    const nearest = (tick: number) => Math.round((tick * quartersPerTick * QUARTER) / step) * step;
    for (const track of performed.tracks)
      judge(
        tally,
        track.notes.map(({ on, off, truth }) => {
          const start = nearest(on);
          const end = Math.max(start + step, nearest(off));
          return [truth, { start, end, staff: 1, voice: 1, tuplet: false, grace: false }];
        }),
        false,
      );
    return tally;
  };
  return GRIDS.map(of).reduce((best, each) => (each.positions > best.positions ? each : best));
}

export function add(into: Tally, from: Tally): void {
  for (const key of Object.keys(into) as (keyof Tally)[]) into[key] += from[key];
}
