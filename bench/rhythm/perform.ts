import { seeded } from '../../src/core/basics/random';
import { type Moment, QUARTER } from '../../src/core/model/time';
import type { SmfEvent, SmfTrack } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';
import type { TrueNote, Work } from './works';

/** Ticks a quarter. */
export const TICKS = 480;

export const LEVELS = [0, 1, 2, 3, 4, 5] as const;
export type Level = (typeof LEVELS)[number];

/** Standard deviation of an attack, in seconds. */
const JITTER: Record<Level, number> = { 0: 0, 1: 0.008, 2: 0.015, 3: 0.03, 4: 0.03, 5: 0 };

/** Gates of parts that were programmed, as shares of the value. */
const GATES = [1 / 12, 1 / 6, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4, 5 / 6, 9 / 10];

export interface PlayedTrack {
  /** Index of the part. */
  part: number;
  /** Seconds ahead of the beat: what was asked of the player, and what came of it on average. */
  ahead: number;
  heardAhead: number;
  notes: { on: number; off: number; truth: TrueNote }[];
}

export interface Performed {
  bytes: Uint8Array;
  tracks: PlayedTrack[];
  /** Where in the beat the offbeat eighth sounds; 0.5 for straight. */
  swing: number;
  upbeatQuarters: number;
}

/**
 * A seeded player:
 * 0 exact; 1 jitter 8 ms; 2 jitter 15 ms, rolled chords, half of the joined
 * notes overlap by 5–60 ms; 3 jitter 30 ms, rolled chords, releases at 60–100 %
 * of the value; 4 as 3, and of the parts of an ensemble about every third 40–120
 * ms early, about half of the pieces in simple meters without triplets swung (0.58–0.68), keyboards on one
 * track; 5 programmed: to the tick, each part with a gate of its own from 1/12 to 9/10 of the value (every
 * third with none), and two files in three late as a whole by 15–90 ms. Notes of one attack share its jitter and differ by 3 ms. Grace notes
 * come 70 ms before their note each.
 */
export function perform(work: Work, level: Level, seed: number): Performed {
  const random = seeded(seed * 7919 + level * 104_729 + hash(work.name));
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const ticksPerSecond = (TICKS * work.quartersPerMinute) / 60;
  const swing = level === 4 && canSwing(work) && random() < 0.5 ? 0.58 + 0.1 * random() : 0.5;
  const leads = work.parts.map(() =>
    level === 4 && work.parts.length > 1 && random() < 1 / 3 ? 0.04 + 0.08 * random() : 0,
  );
  const late = level === 5 && random() < 2 / 3 ? Math.round((0.015 + 0.075 * random()) * ticksPerSecond) : 0;
  const gates = work.parts.map(() =>
    level === 5 && random() < 2 / 3 ? GATES[Math.floor(random() * GATES.length)]! : 1,
  );
  const ticksOf = (moment: Moment) => late + (swungMoment(moment, work, swing) / QUARTER) * TICKS;
  const tracks: PlayedTrack[] = [];
  work.parts.forEach((part, index) => {
    const ahead = leads[index]!;
    const groups: TrueNote[][] =
      level === 4 || part.staves === 1
        ? [part.notes]
        : Array.from({ length: part.staves }, (_, staff) =>
            part.notes.filter((note) => note.staff === staff + 1),
          );
    for (const all of groups) {
      const group = struckOnce(all);
      const jitters = new Map<string, number>();
      const played = group.map((truth) => {
        const attack = `${truth.staff} ${truth.voice} ${truth.start}`;
        const jitter = jitters.get(attack) ?? normal() * JITTER[level];
        jitters.set(attack, jitter);
        const spread = level === 0 || level === 5 ? 0 : normal() * 0.003;
        const roll = level >= 2 && level < 5 ? rollOf(truth, group, work.name, level, seed) : 0;
        const from = ticksOf(truth.start) + (jitter + spread + roll - ahead) * ticksPerSecond;
        if (truth.grace) {
          const after = graceDistance(truth, group);
          const on = Math.max(0, Math.round(from - after * 0.07 * ticksPerSecond));
          return { on, off: on + Math.max(1, Math.round(0.06 * ticksPerSecond)), truth };
        }
        const length = ticksOf(truth.end) - ticksOf(truth.start);
        let held = length;
        if (level === 1) held += normal() * JITTER[1] * ticksPerSecond;
        if (level === 2) held += overlapOf(truth, group, random) * ticksPerSecond;
        if (level === 3 || level === 4) held *= 0.6 + 0.4 * random();
        held *= gates[index]!;
        const on = Math.max(0, Math.round(from));
        return { on, off: Math.max(on + 1, Math.round(on + held)), truth };
      });
      const notes = withoutClashes(played);
      const early = notes
        .filter(({ truth }) => !truth.grace)
        .map(({ on, truth }) => (ticksOf(truth.start) - on) / ticksPerSecond);
      const heardAhead = early.reduce((sum, each) => sum + each, 0) / Math.max(1, early.length);
      tracks.push({ part: index, ahead, heardAhead, notes });
    }
  });
  const upbeatQuarters = upbeatOf(work);
  return { bytes: fileOf(work, tracks), tracks, swing, upbeatQuarters };
}

/** What was played as a MIDI file: its clock, then a track for each that was played. */
export const fileOf = (work: Work, tracks: readonly PlayedTrack[]): Uint8Array =>
  writeSmf({
    format: 1,
    division: { kind: 'quarter', ticks: TICKS },
    tracks: [clockOf(work, upbeatOf(work)), ...tracks.map((track, index) => trackOf(work, track, index))],
  });

export function hash(text: string): number {
  let value = 7;
  for (const letter of text) value = (Math.imul(value, 31) + letter.charCodeAt(0)) >>> 0;
  return value;
}

const isCompoundBar = (bar: { numerator: number; denominator: number }) =>
  bar.denominator >= 8 && bar.numerator % 3 === 0;

/** Swing is played where there are eighths to swing and no triplets or compound beats. */
function canSwing(work: Work): boolean {
  const notes = work.parts.flatMap((part) => part.notes);
  const offbeats = notes.filter((note) => note.start % QUARTER === QUARTER / 2).length;
  return (
    !work.bars.some(isCompoundBar) && !notes.some((note) => note.tuplet) && offbeats >= notes.length / 10
  );
}

function swungMoment(moment: Moment, work: Work, swing: number): Moment {
  if (swing === 0.5) return moment;
  const zero = work.bars[1]?.start ?? 0;
  const phase = (((moment - zero) % QUARTER) + QUARTER) % QUARTER;
  const half = QUARTER / 2;
  const warped = phase < half ? phase * 2 * swing : QUARTER * swing + (phase - half) * 2 * (1 - swing);
  return moment - phase + warped;
}

/** Every third chord of three notes and more is rolled upwards, 8–18 ms a note. */
function rollOf(
  note: TrueNote,
  group: readonly TrueNote[],
  name: string,
  level: number,
  seed: number,
): number {
  const chord = group.filter(
    (other) =>
      other.start === note.start && other.staff === note.staff && other.voice === note.voice && !other.grace,
  );
  if (chord.length < 3) return 0;
  const dice = seeded(hash(`${name} ${level} ${seed} ${note.staff} ${note.start}`));
  if (dice() > 1 / 3) return 0;
  const step = 0.008 + 0.01 * dice();
  return step * chord.filter((other) => other.key < note.key).length;
}

function overlapOf(note: TrueNote, group: readonly TrueNote[], random: () => number): number {
  const joined = group.some(
    (other) =>
      other.start === note.end && other.key !== note.key && other.voice === note.voice && !other.grace,
  );
  return joined && random() < 0.5 ? 0.005 + 0.055 * random() : 0;
}

/** How many grace notes before its main note this one stands. */
export function graceDistance(note: TrueNote, group: readonly TrueNote[]): number {
  const graces = group.filter(
    (other) =>
      other.grace && other.start === note.start && other.voice === note.voice && other.staff === note.staff,
  );
  return graces.length - graces.indexOf(note);
}

/** Two voices that meet on one key at once strike it once, for the longer note. */
export function struckOnce(notes: readonly TrueNote[]): TrueNote[] {
  const longest = new Map<string, TrueNote>();
  for (const note of notes) {
    const name = `${note.key} ${note.start} ${note.grace}`;
    const known = longest.get(name);
    if (!known || known.end < note.end) longest.set(name, note);
  }
  return notes.filter((note) => longest.get(`${note.key} ${note.start} ${note.grace}`) === note);
}

/** A key cannot be struck while it is down: what runs into its own next stroke ends there. */
export function withoutClashes(notes: PlayedTrack['notes']): PlayedTrack['notes'] {
  const sorted = notes.toSorted((a, b) => a.on - b.on || a.truth.key - b.truth.key);
  const last = new Map<number, (typeof sorted)[number]>();
  for (const note of sorted) {
    const before = last.get(note.truth.key);
    if (before && before.on < note.on) before.off = Math.max(before.on + 1, Math.min(before.off, note.on));
    last.set(note.truth.key, note);
  }
  return sorted;
}

export function upbeatOf(work: Work): number {
  const [first, second] = work.bars;
  if (!first || !second) return 0;
  const full = (4 * QUARTER * first.numerator) / first.denominator;
  return first.length < full ? first.length / QUARTER : 0;
}

function clockOf(work: Work, upbeatQuarters: number): SmfTrack {
  const events: SmfEvent[] = [
    { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(6e7 / work.quartersPerMinute) },
  ];
  let before = '';
  work.bars.forEach((bar, index) => {
    const full = (4 * QUARTER * bar.numerator) / bar.denominator;
    const isUpbeat = index === 0 && upbeatQuarters > 0;
    const isLast = index === work.bars.length - 1;
    // A bar of another length than its meter says is told by a meter of its own.
    const odd = bar.length !== full && !isUpbeat && !isLast;
    const eighths = (bar.length / QUARTER) * 2;
    const meter = odd && Number.isInteger(eighths) ? [eighths, 8] : [bar.numerator, bar.denominator];
    const [numerator, denominator] =
      odd && eighths % 2 === 0 ? [eighths / 2, 4] : (meter as [number, number]);
    const name = `${numerator}/${denominator}`;
    if (name === before) return;
    before = name;
    const tick = Math.round((bar.start / QUARTER) * TICKS);
    events.push({
      kind: 'timeSignature',
      tick,
      numerator: numerator!,
      denominator: denominator!,
      clocks: 24,
      thirtySeconds: 8,
    });
  });
  return { events: [...events, { kind: 'endOfTrack', tick: events.at(-1)!.tick }] };
}

function trackOf(work: Work, track: PlayedTrack, index: number): SmfTrack {
  const name = work.parts[track.part]!.name;
  const channel = index % 15 >= 9 ? (index % 15) + 1 : index % 15;
  const notes = track.notes.flatMap((note): SmfEvent[] => [
    { kind: 'noteOn', tick: note.on, channel, key: note.truth.key, velocity: 80 },
    { kind: 'noteOff', tick: note.off, channel, key: note.truth.key, velocity: 0, asNoteOn: false },
  ]);
  // Within a tick, what ends goes before what begins.
  const rank = (event: SmfEvent) => (event.kind === 'noteOff' ? 0 : 1);
  notes.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
  const bytes = new TextEncoder().encode(name);
  return {
    events: [
      { kind: 'trackName', tick: 0, type: 3, bytes },
      ...notes,
      { kind: 'endOfTrack', tick: notes.at(-1)?.tick ?? 0 },
    ],
  };
}
