import { seeded } from '../basics/random';
import { type Decisions, decidedFor } from '../decisions/decisions';
import type { Vary } from '../decisions/kinds/vary';
import { recogniseInstrument } from '../instruments/recognise';
import { barAt, type Clock, positionAt, secondsAt, tickAt } from '../model/clock';
import type { StrandId } from '../model/ids';
import { makeStrand, type Performance, type PlayedNote, type Strand } from '../model/performance';
import { untangled } from './untangled';

type Amounts = Pick<Vary, 'time' | 'velocity' | 'seed'>;

/** Shares of the whole amount; each sum is at most 1, so that no note strays farther than was asked for. */
const TIME = { ensemble: 0.35, strand: 0.25, note: 0.4 };
const VELOCITY = { accent: 0.45, phrase: 0.35, note: 0.2 };
/** A rest of this many quarter notes ends a phrase. */
const PHRASE_REST = 0.75;
/** Quarter notes over which the ensemble drifts once. */
const DRIFT_QUARTERS = 6;
/** Kit keys that a foot plays (General MIDI: both bass drums and the pedal hi-hat). */
const FEET = new Set([35, 36, 44]);

/**
 * Gives strands that stand on the grid a gentle life, as the brief asks:
 * metrical accents and phrase arches in velocity, and in time a slow drift
 * that strands of one seed share, a smaller one of their own, and a little for
 * each attack; chords stay together, and a drummer's hands and feet go their
 * own ways. No note moves more than the amount asked for, none is lost, and
 * the same seed gives the same result.
 */
export function vary(performance: Performance, decisions: Decisions): Performance {
  const { clock } = performance;
  let changed = false;
  const strands = performance.strands.map((strand) => {
    const amounts = decidedFor(decisions, strand.id).vary;
    if (!amounts || (amounts.time === 0 && amounts.velocity === 0)) return strand;
    changed = true;
    return varyStrand(strand, amounts, clock);
  });
  return changed ? { ...performance, strands } : performance;
}

function varyStrand(strand: Strand, amounts: Amounts, clock: Clock): Strand {
  const ensemble = drift(amounts.seed);
  const isKit = recogniseInstrument(strand).instrument.unpitched;
  const limbs = isKit
    ? [strand.notes.filter((note) => FEET.has(note.key)), strand.notes.filter((note) => !FEET.has(note.key))]
    : [strand.notes];
  const notes = limbs.flatMap((limb, index) => varyLimb(limb, strand.id, index, amounts, ensemble, clock));
  return {
    ...strand,
    ...makeStrand({ ...strand, notes: untangled(notes) }, clock),
    programs: strand.programs,
    banks: strand.banks,
  };
}

function varyLimb(
  notes: readonly PlayedNote[],
  strand: StrandId,
  limb: number,
  { time, velocity, seed }: Amounts,
  ensemble: (quarters: number) => number,
  clock: Clock,
): PlayedNote[] {
  const own = seed ^ hash(`${strand} ${limb}`);
  const ownDrift = drift(own);
  const random = seeded(own);
  const phrases = phrasesOf(notes, clock);
  let together = Number.NaN;
  let attack = 0;
  return notes.map((note, index) => {
    const quarters = note.on / clock.ticksPerQuarter;
    if (note.on !== together) {
      together = note.on;
      attack = random() + random() - 1;
    }
    const milliseconds =
      time * (TIME.ensemble * ensemble(quarters) + TIME.strand * ownDrift(quarters) + TIME.note * attack);
    const { start, end } = phrases[index]!;
    const through = end > start ? (note.on - start) / (end - start) : 0.5;
    const arch = 2 * Math.sin(Math.PI * through) - 1;
    const accent = accentAt(note.on, clock);
    const loud =
      velocity *
      (VELOCITY.accent * accent + VELOCITY.phrase * arch + VELOCITY.note * (random() + random() - 1));
    const moved = (tick: number) =>
      Math.max(0, Math.round(tickAt(clock, secondsAt(clock, tick) + milliseconds / 1000)));
    const on = moved(note.on);
    return {
      ...note,
      on,
      off: Math.max(on + Math.min(1, note.off - note.on), moved(note.off)),
      velocity: Math.min(127, Math.max(1, Math.round(note.velocity + loud))),
    };
  });
}

/** −1 to 1: a downbeat most, then other beats, then what lies between them (common practice). */
function accentAt(tick: number, clock: Clock): number {
  const slack = clock.ticksPerQuarter / 16;
  const { beat, offset } = positionAt(clock, tick + slack);
  if (offset > 2 * slack) {
    const half = (clock.ticksPerQuarter * 2) / barAt(clock, tick).meter.denominator;
    return Math.abs(offset - slack - half) <= slack ? -0.5 : -1;
  }
  return beat === 1 ? 1 : beat % 2 === 1 ? 0.3 : 0;
}

/** For each note the start and end of its phrase, in ticks of onsets: rests part phrases. */
function phrasesOf(notes: readonly PlayedNote[], clock: Clock): { start: number; end: number }[] {
  const phrases: { start: number; end: number }[] = [];
  let phrase = { start: 0, end: 0 };
  let release = Number.NEGATIVE_INFINITY;
  for (const note of notes) {
    if (note.on - release >= PHRASE_REST * clock.ticksPerQuarter) phrase = { start: note.on, end: note.on };
    phrase.end = note.on;
    release = Math.max(release, note.off);
    phrases.push(phrase);
  }
  return phrases;
}

/** A slow wander between −1 and 1 over quarter notes: smoothed value noise. */
function drift(seed: number): (quarters: number) => number {
  const at = (index: number) => 2 * seeded(seed ^ Math.imul(index + 1, 0x9e3779b1))() - 1;
  return (quarters) => {
    const place = quarters / DRIFT_QUARTERS;
    const index = Math.floor(place);
    const within = place - index;
    const ease = within * within * (3 - 2 * within);
    return at(index) * (1 - ease) + at(index + 1) * ease;
  };
}

/** FNV-1a (public domain), so that each strand wanders its own way. */
function hash(text: string): number {
  let value = 0x811c9dc5;
  for (let at = 0; at < text.length; at++) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193);
  return value >>> 0;
}
