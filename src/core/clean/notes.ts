import { barAt, secondsAt } from '../model/clock';
import { makeStrand, PERCUSSION_CHANNEL, type PlayedNote, type Strand } from '../model/performance';
import type { Interval } from '../model/pitch';
import type { CleanStep } from './step';

/** A strand with other notes, as far as these go; null without any. */
export const withNotes = (
  strand: Strand,
  notes: PlayedNote[],
  clock: Parameters<CleanStep>[2],
): Strand | null =>
  notes.length === 0
    ? null
    : {
        ...strand,
        ...makeStrand({ ...strand, notes }, clock),
        programs: strand.programs,
        banks: strand.banks,
      };

/** Takes out the keys that are commands. */
export const takeOutKeySwitches: CleanStep = (strand, { keySwitches }, clock, report) => {
  if (!keySwitches || keySwitches.length === 0) return strand;
  const keys = new Set(keySwitches);
  const gone = strand.notes.filter((note) => keys.has(note.key));
  if (gone.length === 0) return strand;
  const notes = strand.notes.filter((note) => !keys.has(note.key));
  report('notes', strand.notes.length, notes.length, gone);
  return withNotes(strand, notes, clock);
};

/** Ends hanging notes at the next attack, at the latest at the end of their bar. */
export const closeHanging: CleanStep = (strand, { closeHanging: close }, clock, report) => {
  const hanging = strand.notes.filter((note) => note.hanging).length;
  if (!close || hanging === 0) return strand;
  report('hanging notes', hanging, 0);
  const notes = strand.notes.map((note, index) => {
    if (!note.hanging) return note;
    const { hanging: _, ...closed } = note;
    const bar = barAt(clock, note.on);
    // Notes that begin almost together are one attack.
    let next = index + 1;
    while (next < strand.notes.length && strand.notes[next]!.on < note.on + clock.ticksPerQuarter / 8) next++;
    closed.off = Math.min(
      Math.floor(bar.start + bar.length),
      strand.notes[next]?.on ?? Number.POSITIVE_INFINITY,
    );
    return closed;
  });
  return withNotes(strand, notes, clock);
};

/** Two strikes of one key so near are one, double-triggered: a repeated note needs at least this long (common practice). */
export const DOUBLE_STRIKE_SECONDS = 0.03;

/** Ends a note where its key is struck again; strikes of one key at (almost) the same moment become one. */
export const mendStacked: CleanStep = (strand, { mendStacked: mend }, clock, report) => {
  const stacked = strand.notes.filter((note) => note.stacked).length;
  if (!mend || stacked === 0) return strand;
  const last = new Map<number, PlayedNote>();
  const notes: PlayedNote[] = [];
  const gone: PlayedNote[] = [];
  for (const note of strand.notes) {
    const before = last.get(note.key);
    const { stacked: wasStacked, ...plain } = note;
    if (before && before.off > note.on) {
      if (secondsAt(clock, note.on) - secondsAt(clock, before.on) < DOUBLE_STRIKE_SECONDS) {
        before.off = Math.max(before.off, note.off);
        before.velocity = Math.max(before.velocity, note.velocity);
        gone.push(note);
        continue;
      }
      before.off = note.on;
    }
    const kept = wasStacked ? plain : { ...note };
    notes.push(kept);
    last.set(note.key, kept);
  }
  report('stacked notes', stacked, 0);
  if (gone.length > 0) report('notes', strand.notes.length, notes.length, gone);
  return withNotes(strand, notes, clock);
};

/** Leaves out notes too short to be meant. */
export const dropSpecks: CleanStep = (strand, { specksUnder = 0 }, clock, report) => {
  if (specksUnder === 0) return strand;
  const isSpeck = ({ on, off }: PlayedNote) =>
    1000 * (secondsAt(clock, off) - secondsAt(clock, on)) < specksUnder;
  const gone = strand.notes.filter(isSpeck);
  if (gone.length === 0) return strand;
  const notes = strand.notes.filter((note) => !isSpeck(note));
  report('notes', strand.notes.length, notes.length, gone);
  return withNotes(strand, notes, clock);
};

/** Moves drum keys to where another kit has those sounds. */
export const translateKit: CleanStep = (strand, { kit }, clock, report) => {
  if (!kit || kit.length === 0) return strand;
  const target = new Map(kit.map(({ from, to }) => [from, to]));
  let moved = 0;
  const notes = strand.notes.map((note) => {
    const key = target.get(note.key) ?? note.key;
    if (key !== note.key) moved++;
    return key === note.key ? note : { ...note, key };
  });
  if (moved === 0) return strand;
  report('notes on another key', 0, moved);
  return withNotes(strand, notes, clock);
};

/** Moves the notes of a pitched strand by an interval; none where one of them would leave what MIDI can say. */
export const transposeNotes: CleanStep = (strand, { transpose }, clock, report) => {
  if (!transpose || !canBeTransposed(strand, transpose)) return strand;
  const { chromatic } = transpose;
  if (chromatic === 0) return strand;
  report('notes on another key', 0, strand.notes.length);
  return withNotes(
    strand,
    strand.notes.map((note) => ({ ...note, key: note.key + chromatic })),
    clock,
  );
};

/** Whether a strand has pitches, and all of them have room (MIDI 1.0: keys 0 to 127). */
export const canBeTransposed = (
  { channel, lowest, highest }: Pick<Strand, 'channel' | 'lowest' | 'highest'>,
  { chromatic }: Interval,
): boolean => channel !== PERCUSSION_CHANNEL && lowest + chromatic >= 0 && highest + chromatic <= 127;

/** Scales velocities, then draws them towards one value. */
export const shapeVelocities: CleanStep = (strand, { velocities }, clock, report) => {
  if (!velocities || (velocities.scale === 100 && velocities.strength === 0)) return strand;
  const { scale, level, strength } = velocities;
  let changed = 0;
  const notes = strand.notes.map((note) => {
    const scaled = (note.velocity * scale) / 100;
    const drawn = Math.round(scaled + ((level - scaled) * strength) / 100);
    const velocity = Math.min(127, Math.max(1, drawn));
    if (velocity !== note.velocity) changed++;
    return { ...note, velocity };
  });
  const spread = (all: readonly PlayedNote[]) => new Set(all.map((note) => note.velocity)).size;
  if (changed > 0) report('different velocities', spread(strand.notes), spread(notes));
  return withNotes(strand, notes, clock);
};
