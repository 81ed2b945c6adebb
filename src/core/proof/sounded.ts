import type { EventId } from '../model/ids';
import type { Bar, Chord, Note, Part } from '../model/score';
import type { Moment } from '../model/time';

/** Notes that begin together in a voice of a part, ties joined. Moments of the piece. */
export interface Sounded {
  chord: Chord;
  /** Those that begin here, from low to high. */
  notes: readonly Note[];
  start: Moment;
  end: Moment;
  staff: number;
  voice: number;
  bar: number;
}

/** What sounds in a part, in order; tablature beside a staff says the same once more. */
export function soundedOf(part: Part, bars: readonly Bar[]): Sounded[] {
  const out: Sounded[] = [];
  const tied = new Map<string, Sounded>();
  part.bars.forEach(({ voices }, bar) => {
    const zero = bars[bar]!.start;
    for (const { items, staff, voice } of voices) {
      if (staff > 1 && part.clefs[staff - 1] === 'tab') continue;
      for (const chord of items) {
        if (chord.kind !== 'chord' || chord.cue) continue;
        const start = zero + chord.onset;
        const end = start + chord.duration;
        const begun = chord.notes.filter(({ key, tieStop }) => !tieStop || !tied.has(`${key} ${start}`));
        const own: Sounded = { chord, notes: begun, start, end, staff, voice, bar };
        if (begun.length > 0) out.push(own);
        for (const { key, tieStart, tieStop } of chord.notes) {
          const from = (tieStop && tied.get(`${key} ${start}`)) || own;
          from.end = Math.max(from.end, end);
          if (tieStart) tied.set(`${key} ${end}`, from);
        }
      }
    }
  });
  return out.sort((a, b) => a.start - b.start || b.staff - a.staff);
}

/** The source notes of some written ones, the first of each. */
export const eventsOf = (notes: readonly Note[]): EventId[] =>
  notes.flatMap(({ sources }) => sources.slice(0, 1));
