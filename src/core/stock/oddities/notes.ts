import { counted } from '../../basics/words';
import { DOUBLE_STRIKE_SECONDS } from '../../clean/notes';
import { decidedFor } from '../../decisions/decisions';
import { instrumentOf } from '../../instruments/catalogue';
import { recogniseInstrument } from '../../instruments/recognise';
import { secondsAt } from '../../model/clock';
import type { PlayedNote, Strand } from '../../model/performance';
import { keyName } from '../../model/pitch';
import { placeAt } from '../place';
import type { Finder, Oddity, OddityKind } from './oddity';

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
    describe: (strand: Strand, found: PlayedNote[]) => Pick<Oddity, 'what' | 'mend'>,
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
      const isCommand = commandsOf(strand, chosen);
      return strand.notes.filter(
        (note) => !note.hanging && seconds(note) * 1000 < SPECK_MILLISECONDS && !isCommand(note),
      );
    },
    ({ id }, found) => ({
      what: `${counted(found.length, 'note')} under ${SPECK_MILLISECONDS} ms.`,
      mend: {
        label: 'Leave them out',
        directives: [{ kind: 'specks', strand: id, under: SPECK_MILLISECONDS }],
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
function commandsOf(strand: Strand, chosen: string | undefined): (note: PlayedNote) => boolean {
  const instrument = chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument;
  if (instrument.unpitched) return () => false;
  return ({ key }) => key < instrument.lowest - OUTSIDE || key > instrument.highest + OUTSIDE;
}

export const findKeySwitches: Finder = (performance, decisions) =>
  amongNotes(
    'key-switches',
    (strand) => {
      const isCommand = commandsOf(strand, decidedFor(decisions, strand.id).instrument);
      const outside = strand.notes.filter(isCommand);
      const inside = strand.notes.filter((note) => !isCommand(note));
      // Many notes outside mean a wrong instrument, not commands.
      if (inside.length === 0 || outside.length > inside.length / 4) return [];
      let lowest = 127;
      let highest = 0;
      for (const { key } of inside) {
        lowest = Math.min(lowest, key);
        highest = Math.max(highest, key);
      }
      return outside.filter(({ key }) => key <= lowest - APART || key >= highest + APART);
    },
    ({ id }, found) => {
      const keys = [...new Set(found.map((note) => note.key))].sort((a, b) => a - b);
      return {
        what: `${counted(found.length, 'note')} on ${keys.map(keyName).join(', ')}, far outside the instrument: most likely key switches.`,
        mend: { label: 'Take them out', directives: [{ kind: 'key-switches', strand: id, keys }] },
      };
    },
  )(performance, decisions);
