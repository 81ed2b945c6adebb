import { medianOf } from '../../basics/average';
import { beatsOf } from '../../model/meter';
import { type Bar, barIndexOf } from '../../model/score';
import type { SketchNote } from '../../model/sketch';
import type { Moment } from '../../model/time';

/** How loud an attack of a part is, on the scale of velocities (1–127). */
export interface Loudness {
  at: Moment;
  /** When the last of its notes ends. */
  until: Moment;
  /** As it was struck or bowed, what one staff has over another apart. */
  heard: number;
  /** The same without what its place in the bar alone makes louder. */
  level: number;
}

/** How loud a note of some velocity is that begins at a tick, where controllers shape what sounds (MIDI 1.0: 1 modulation, 11 expression). */
export type Curve = (tick: number, velocity: number) => number;

/** So few notes of a staff, or at a kind of place, tell nothing of it. */
const FEWEST = 8;
/** Attacks on both sides that are the surroundings of one. */
const AROUND = 4;

/**
 * The loudness of a part attack by attack: the loudest note of each, once what
 * one staff has over another is taken out, with the curve of its strand where
 * one shapes it. Accents that come with the meter are no dynamics (common practice:
 * players do them unasked).
 *
 * @param notes as written, without grace notes
 * @param curveOf the curve that shapes a note's strand (index), if one does
 */
export function loudnessOf(
  notes: readonly SketchNote[],
  bars: readonly Bar[],
  curveOf: (strand: number) => Curve | undefined,
): Loudness[] {
  const struck = notes.map((note) => {
    const curve = curveOf(note.strike.strand);
    return { note, loud: curve ? curve(note.on, note.velocity) : note.velocity };
  });
  const staves = new Map<number, number[]>();
  for (const { note, loud } of struck) {
    const own = staves.get(note.staff);
    if (own) own.push(loud);
    else staves.set(note.staff, [loud]);
  }
  const all = medianOf(struck.map(({ loud }) => loud));
  const over = new Map(
    [...staves].map(([staff, own]) => [staff, own.length < FEWEST ? 0 : medianOf(own) - all] as const),
  );
  const byMoment = new Map<Moment, Loudness>();
  for (const { note, loud } of struck) {
    const heard = loud - over.get(note.staff)!;
    const known = byMoment.get(note.start);
    if (known) {
      known.heard = Math.max(known.heard, heard);
      known.until = Math.max(known.until, note.end);
    } else byMoment.set(note.start, { at: note.start, until: note.end, heard, level: heard });
  }
  const out = [...byMoment.values()].sort((a, b) => a.at - b.at);
  takeMeterOut(out, bars);
  return out;
}

/** An attack of a part, and how loud the loudest of its notes was struck. */
export interface StruckAttack {
  at: Moment;
  until: Moment;
  struck: number;
}

/** The attacks of a part in order, as loud as they were struck; nothing is taken out. As `loudnessOf`. */
export function struckAttacks(
  notes: readonly SketchNote[],
  curveOf: (strand: number) => Curve | undefined,
): StruckAttack[] {
  const byMoment = new Map<Moment, StruckAttack>();
  for (const { start, end, on, velocity, strike } of notes) {
    const loud = curveOf(strike.strand)?.(on, velocity) ?? velocity;
    const known = byMoment.get(start);
    if (known) {
      known.struck = Math.max(known.struck, loud);
      known.until = Math.max(known.until, end);
    } else byMoment.set(start, { at: start, until: end, struck: loud });
  }
  return [...byMoment.values()].sort((a, b) => a.at - b.at);
}

/** Takes out by how much attacks on first beats, on other beats and between them differ from their surroundings. */
function takeMeterOut(all: readonly Loudness[], bars: readonly Bar[]): void {
  const around = runningMedian(all.map(({ heard }) => heard));
  const places = all.map(({ at }) => placeInBar(bars, at));
  for (const place of [0, 1, 2]) {
    const apart = all.flatMap(({ heard }, index) =>
      places[index] === place ? [heard - around[index]!] : [],
    );
    if (apart.length < FEWEST) continue;
    const more = medianOf(apart);
    all.forEach((each, index) => {
      if (places[index] === place) each.level -= more;
    });
  }
}

/** 0 where a bar begins, 1 on another beat, 2 anywhere else. */
export function placeInBar(bars: readonly Bar[], at: Moment): number {
  const bar = bars[barIndexOf(bars, at)]!;
  const inBar = at - bar.start + bar.missing;
  if (inBar === 0) return 0;
  return beatsOf(bar).some(({ start }) => start === inBar) ? 1 : 2;
}

/** The median of each value's surroundings. */
export const runningMedian = (values: readonly number[]): number[] =>
  values.map((_, at) => medianOf(values.slice(Math.max(0, at - AROUND), at + AROUND + 1)));
