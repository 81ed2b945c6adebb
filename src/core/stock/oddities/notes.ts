import { medianOf } from '../../basics/average';
import { lastAtOrBefore } from '../../basics/search';
import { counted } from '../../basics/words';
import { DOUBLE_STRIKE_SECONDS } from '../../clean/notes';
import { decidedFor } from '../../decisions/decisions';
import { instrumentOf } from '../../instruments/catalogue';
import { recogniseInstrument } from '../../instruments/recognise';
import { secondsAt } from '../../model/clock';
import type { PlayedNote, Strand } from '../../model/performance';
import { keyName } from '../../model/pitch';
import { placeAt } from '../place';
import { type Finder, NEXT_TO_CERTAIN, type Oddity, type OddityKind } from './oddity';

/** Shorter notes are slips of a finger or a string (common practice). */
const SPECK_MILLISECONDS = 30;
/** Semitones outside the instrument's range, and from the nearest note in it, from which a key commands. */
const OUTSIDE = 3;
const APART = 7;

/** A finder that looks at the notes of each strand by themselves. */
const amongNotes =
  (
    kind: OddityKind,
    pick: (strand: Strand, seconds: (note: PlayedNote) => number) => PlayedNote[],
    describe: (strand: Strand, found: PlayedNote[]) => Pick<Oddity, 'what' | 'sure' | 'harm' | 'mend'>,
  ): Finder =>
  ({ strands, clock }) =>
    strands.flatMap((strand) => {
      const found = pick(strand, (note) => secondsAt(clock, note.off) - secondsAt(clock, note.on));
      if (found.length === 0) return [];
      return {
        id: `${kind} ${strand.id}`,
        kind,
        strand: strand.id,
        place: placeAt(clock, found[0]!.on),
        count: found.length,
        ...describe(strand, found),
      };
    });

export const findHanging = amongNotes(
  'hanging',
  ({ notes }) => notes.filter((note) => note.hanging),
  ({ id }, found) => ({
    what: `${counted(found.length, 'note')} never ${found.length === 1 ? 'ends' : 'end'}.`,
    sure: 1,
    harm: null,
    mend: { label: 'End at the next attack', directives: [{ kind: 'hanging', strand: id, close: true }] },
  }),
);

/** A key struck again this much before its release is more than a late finger. */
const LATE_RELEASE_SECONDS = 0.1;

export const findStacked: Finder = (performance, decisions) => {
  const { clock } = performance;
  return amongNotes(
    'stacked',
    ({ notes }) => {
      const last = new Map<number, PlayedNote>();
      return notes.filter((note) => {
        const before = last.get(note.key);
        last.set(note.key, note);
        if (!note.stacked || !before) return false;
        const seconds = (tick: number) => secondsAt(clock, tick);
        return (
          seconds(note.on) - seconds(before.on) < DOUBLE_STRIKE_SECONDS ||
          seconds(before.off) - seconds(note.on) > LATE_RELEASE_SECONDS
        );
      });
    },
    ({ id }, found) => ({
      what: `${counted(found.length, 'note')} ${found.length === 1 ? 'strikes' : 'strike'} a key that still sounds.`,
      sure: 0.99,
      harm: null,
      mend: { label: 'End the earlier note', directives: [{ kind: 'stacked', strand: id, mend: true }] },
    }),
  )(performance, decisions);
};

export const findSpecks: Finder = (performance, decisions) =>
  amongNotes(
    'specks',
    (strand, seconds) => {
      const chosen = decidedFor(decisions, strand.id).instrument;
      if (isStruck(strand, chosen) || isAllShort(strand, seconds)) return [];
      const isCommand = beyondRange(strand, chosen);
      const found = strand.notes.filter(
        (note) => !note.hanging && seconds(note) * 1000 < SPECK_MILLISECONDS && !isCommand(note.key),
      );
      return areRare(strand, found) ? found : [];
    },
    (strand, found) => ({
      what: `${counted(found.length, 'note')} under ${SPECK_MILLISECONDS} ms.`,
      sure: speckSurety(strand, found),
      harm: { takes: 'notes', notes: found.length },
      mend: {
        label: 'Leave them out',
        directives: [{ kind: 'specks', strand: strand.id, under: SPECK_MILLISECONDS }],
      },
    }),
  )(performance, decisions);

/** What is struck needs no length: drums and mallets are short by habit. */
const isStruck = (strand: Strand, chosen: string | undefined): boolean =>
  (chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument).family === 'percussion';

/** A strand of nothing but triggers. */
function isAllShort(strand: Strand, seconds: (note: PlayedNote) => number): boolean {
  const short = strand.notes.filter((note) => seconds(note) * 1000 < SPECK_MILLISECONDS).length;
  return short > strand.notes.length / 3;
}

/** Tells the keys that lie outside a strand's instrument and so are commands, not music. */
function beyondRange(strand: Strand, chosen: string | undefined): (key: number) => boolean {
  const instrument = chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument;
  if (instrument.unpitched) return () => false;
  return (key) => key < instrument.lowest - OUTSIDE || key > instrument.highest + OUTSIDE;
}

/** Commands are few, and rare beside the music that they command (common practice). */
const MOST_KEYS = 12;
const MOST_SHARE = 1 / 8;
/** What no such instrument plays may be more of all. */
const MOST_BEYOND = 1 / 2;
/** One note alone proves nothing. */
const LEAST = 2;
/** Sound libraries put commands outside of these keys, where few instruments play (common practice). */
const REGISTER = [36, 96] as const;
/** Commands are touched for no longer than this, in seconds. */
const TOUCHED = 0.25;
/** A command comes within this before what it is for, in seconds; what strikes nearer than that strikes together. */
const JUST_BEFORE = 0.6;
const TOGETHER = 0.008;
/** Commands differ in velocity by no more than this. */
const ALIKE = 4;
/** Each kind of evidence that keys command, and what all together come to. */
const WEIGHTS = { alike: 0.3, touched: 0.3, before: 0.1, alone: 0.3, beyond: 0.3 } as const;
/** With less than this nothing is said. */
const CLAIMED = 0.89;

/**
 * The keys of a strand that command rather than sound, by evidence of their
 * own, whatever the instrument is taken for: they lie beyond the music's
 * register with a gap or the instrument has none of them, are few and rare, touched or held without rhythm, alike
 * in velocity, and come just before what they are for.
 */
function commandsIn(strand: Strand, isBeyond: (key: number) => boolean, seconds: (tick: number) => number) {
  const { notes } = strand;
  const groups = [outerKeys(notes, 1, isBeyond), outerKeys(notes, -1, isBeyond)].flatMap((keys) => {
    if (keys.size === 0) return [];
    const found = notes.filter((note) => keys.has(note.key));
    const music = notes.filter((note) => !keys.has(note.key));
    const sure = suretyOf(found, music, seconds) + ([...keys].every(isBeyond) ? WEIGHTS.beyond : 0);
    return sure >= CLAIMED ? [{ found, sure }] : [];
  });
  return {
    found: groups.flatMap(({ found }) => found).sort((one, other) => one.on - other.on),
    sure: Math.min(1, ...groups.map(({ sure }) => sure)),
  };
}

/**
 * The keys below the lowest wide gap, or above the highest, if they are few and rare.
 *
 * @param side 1 from below, −1 from above
 * @param isBeyond keys that the instrument does not have
 */
function outerKeys(
  notes: readonly PlayedNote[],
  side: 1 | -1,
  isBeyond: (key: number) => boolean,
): Set<number> {
  const keys = [...new Set(notes.map(({ key }) => key))].sort((one, other) => side * (one - other));
  const gap = keys.findIndex((key, at) => at > 0 && Math.abs(key - keys[at - 1]!) >= APART);
  const outer = new Set(keys.slice(0, Math.max(0, gap)));
  const count = notes.filter(({ key }) => outer.has(key)).length;
  const areBeyond = [...outer].every(isBeyond);
  const most = (areBeyond ? MOST_BEYOND : MOST_SHARE) * notes.length;
  const areFew = outer.size <= MOST_KEYS && count >= LEAST && count <= most;
  const areApart = areBeyond || [...outer].every((key) => key < REGISTER[0] || key > REGISTER[1]);
  return areFew && areApart ? outer : new Set();
}

function suretyOf(
  found: readonly PlayedNote[],
  music: readonly PlayedNote[],
  seconds: (tick: number) => number,
): number {
  const velocities = found.map(({ velocity }) => velocity);
  const alike = Math.max(...velocities) - Math.min(...velocities) <= ALIKE;
  const length = (note: PlayedNote) => seconds(note.off) - seconds(note.on);
  const usual = medianOf(music.map(length));
  // A key may also be held down for as long as it commands, over many notes.
  const covers = (note: PlayedNote) =>
    music.filter((other) => other.on >= note.on && other.on < note.off).length >= 4;
  const touched = found.every((note) => length(note) <= Math.min(TOUCHED, usual) || covers(note));
  const starts = music.map(({ on }) => seconds(on));
  const nextAfter = (at: number) => {
    const index = lastAtOrBefore(starts, at, (each) => each);
    return starts[index]! > at ? starts[index]! : starts[index + 1];
  };
  const before = found.filter((note) => {
    const next = nextAfter(seconds(note.on) - TOGETHER);
    return next !== undefined && next - seconds(note.on) <= JUST_BEFORE;
  });
  const together = found.filter((note) => {
    const next = nextAfter(seconds(note.on) - TOGETHER);
    return next !== undefined && Math.abs(next - seconds(note.on)) < TOGETHER;
  });
  // Bass notes, too, are few and low; they strike with the music.
  return (
    (alike ? WEIGHTS.alike : 0) +
    (touched ? WEIGHTS.touched : 0) +
    (before.length >= 0.8 * found.length ? WEIGHTS.before : 0) +
    (together.length <= 0.2 * found.length ? WEIGHTS.alone : 0)
  );
}

export const findKeySwitches: Finder = ({ strands, clock }, decisions) =>
  strands.flatMap((strand): Oddity[] => {
    const chosen = decidedFor(decisions, strand.id).instrument;
    const { unpitched } = chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument;
    if (unpitched) return [];
    const isBeyond = beyondRange(strand, chosen);
    const { found, sure } = commandsIn(strand, isBeyond, (tick) => secondsAt(clock, tick));
    if (found.length === 0) return [];
    const keys = [...new Set(found.map((note) => note.key))].sort((one, other) => one - other);
    return [
      {
        id: `key-switches ${strand.id}`,
        kind: 'key-switches',
        strand: strand.id,
        place: placeAt(clock, found[0]!.on),
        count: found.length,
        what: `${counted(found.length, 'note')} on ${keys.map(keyName).join(', ')}, far from the music, alike and short, just before it: most likely key switches.`,
        sure,
        harm: { takes: 'notes', notes: found.length },
        mend: { label: 'Take them out', directives: [{ kind: 'key-switches', strand: strand.id, keys }] },
        switches: governed(strand, keys, (tick) => placeAt(clock, tick).bar),
      },
    ];
  });

/** The notes that each switch governs: those before the first one are under that one, too. */
function governed(
  { notes }: Strand,
  keys: readonly number[],
  barAt: (tick: number) => number,
): NonNullable<Oddity['switches']> {
  const uses = new Map<number, { notes: number; bar: number }>();
  let current = notes.find(({ key }) => keys.includes(key))?.key ?? 0;
  for (const { key, on } of notes) {
    if (keys.includes(key)) current = key;
    else {
      const use = uses.get(current) ?? { notes: 0, bar: barAt(on) };
      uses.set(current, use);
      use.notes++;
    }
  }
  return keys.map((key) => ({ key, ...(uses.get(key) ?? { notes: 0, bar: 0 }) }));
}

/** A slip is softer than what is meant, by this share. */
const SOFT = 0.75;

/** A slip is rare beside the music; what comes often is played. */
const areRare = ({ notes }: Strand, found: readonly PlayedNote[]): boolean =>
  found.length <= Math.max(3, 0.02 * notes.length);

/** A slip is soft beside the music. */
function speckSurety({ notes }: Strand, found: readonly PlayedNote[]): number {
  const velocity = (all: readonly PlayedNote[]) => medianOf(all.map((note) => note.velocity));
  const isSoft = velocity(found) <= SOFT * velocity(notes);
  return isSoft ? NEXT_TO_CERTAIN : 0.9;
}
