import { medianOf } from '../basics/average';
import { steppedNode } from '../basics/graph';
import { rememberedInSteps } from '../basics/remember';
import { finished, type Steps } from '../basics/steps';
import type { Desk } from '../clean/desk';
import { lateness } from '../infer/lead/lateness';
import type { Instrument } from '../instruments/catalogue';
import { type Frame, momentOf } from '../model/frame';
import { type EventId, isAddedNote, ownEvent, type StrandId, strandOf } from '../model/ids';
import type { PlayedNote } from '../model/performance';
import { barIndexOf, type Note, type Part, type Score } from '../model/score';
import type { Attack, SketchNote } from '../model/sketch';
import { swingInBar } from '../model/swing';
import { type Moment, QUARTER, type Span } from '../model/time';
import type { Difference } from '../reconcile/ledger';
import type { PartReading, Transcription } from '../transcribe';

/** Why a note of the source is otherwise in the score, where that is meant. */
export type Cause =
  /** Its strand is left out, or the note is. */
  | 'strand-out'
  | 'note-out'
  /** A step of cleaning took it out. */
  | 'cleaned'
  /** Struck together with an equal key of its part. */
  | 'shared'
  /** Played out of, or turned into, a sign for several notes. */
  | 'mark'
  /** Another pitch, place or length was decided, or the note was put in. */
  | 'pitch-decided'
  | 'place-decided'
  | 'put-in';

/** A note that is otherwise in the score than in the source, or in one of them alone. */
export interface LinkedEntry {
  note: EventId;
  /** Index of the part; null where it is in none. */
  part: number | null;
  strand: StrandId;
  /** Index of the bar, and the moment of the piece. */
  bar: number;
  at: Moment;
  differs: Difference[];
  because: Cause | null;
  /** Of a pitch: the sounding key of source and score. Of a place or length: both in score time. */
  from?: number;
  to?: number;
}

/** The agreement of a source with its score, each note by its id. */
export interface SourceLedger {
  /** Notes of the source, and those that were put in. */
  notes: number;
  agree: number;
  /** Otherwise by decision. */
  meant: number;
  /** What nothing explains, and what is meant, in order of places. */
  entries: LinkedEntry[];
  /** Notes among those that agree which sound on long after their written ends: plucked or struck, they ring. */
  ringing: RingingNote[];
}

/** A note that rings on; the index of its part, and its moment of the piece. */
export interface RingingNote {
  note: EventId;
  part: number;
  at: Moment;
}

/** A played attack may lie so far from where it is read: this much, or so many times its part's usual spread. */
const NEAR: Span = QUARTER / 8;
const SPREADS = 4;
/** A note may be held this share of what is written, and this much too long or short (common practice: staccato to legato, and pedal). */
const SHORTEST = 0.25;
const LENIENT: Span = QUARTER / 2;
/**
 * A note is cut where less than this share of what sounds is written, and so much of it is missing at least (common
 * practice: nobody holds on so far for legato). A usual gate explains that sound is missing, never that paper is.
 */
const CUT = 0.62;
const MISSING: Span = QUARTER / 4;
/** What is plucked or struck rings on, whatever is written (common practice). */
const RINGING: ReadonlySet<string> = new Set(['plucked', 'percussion']);
/** However short all notes of a part are (common practice). */
const LEAST_TOUCH = 0.05;

interface Written {
  part: number;
  start: Moment;
  end: Moment;
  key: number;
  grace: boolean;
  /** It has a sign that stands for several notes, or for another length. */
  signed: boolean;
  /** Percussion: what it is written for says nothing of how long it sounds. */
  struck: boolean;
  /** Plucked or struck: it sounds on, whatever is written. */
  rings: boolean;
  first: EventId;
}

/**
 * The source against the score that was made of it: every note of the source,
 * as it was read and before any cleaning, is looked for in the notes that stand
 * on the page, and compared in key, place and length.
 */
export function sourceLedgerInSteps(desk: Desk, transcription: Transcription): Steps<SourceLedger> {
  const { source, performance, decisions, gone, written } = desk;
  const { readings, plans, score, frame, swings } = transcription;
  return rememberedInSteps(frame, LEDGER, {
    desk: { source, performance, decisions, gone, written },
    transcription: { score: { parts: score.parts }, readings, plans, frame, swings },
  });
}

/** What of a job its ledger is made of. */
type LedgerDesk = Pick<Desk, 'source' | 'performance' | 'decisions' | 'gone' | 'written'>;
interface LedgerScore extends Pick<Transcription, 'readings' | 'plans' | 'frame' | 'swings'> {
  score: Pick<Score, 'parts'>;
}

const LEDGER = steppedNode('ledger', (of: { desk: LedgerDesk; transcription: LedgerScore }) =>
  ledgerOf(of.desk, of.transcription),
);

/** The same without a pause. */
export const sourceLedger = (desk: Desk, transcription: Transcription): SourceLedger =>
  finished(sourceLedgerInSteps(desk, transcription));

function* ledgerOf(
  { source, performance, decisions, gone, written: asRead }: LedgerDesk,
  transcription: LedgerScore,
): Steps<SourceLedger> {
  const { score, readings, plans, frame, swings } = transcription;
  const page = new Map<EventId, Written>();
  for (const [index, part] of score.parts.entries()) {
    readPage(part, index, plans[index]!.instrument, frame, page);
    yield;
  }
  const cleaned = new Map<EventId, PlayedNote>();
  for (const { notes } of performance.strands) for (const note of notes) cleaned.set(ownEvent(note.id), note);
  const used = new Set(plans.flatMap(({ strands }) => strands));
  const inUse = new Set<EventId>();
  for (const { id, notes } of performance.strands)
    if (used.has(id)) for (const note of notes) inUse.add(ownEvent(note.id));
  yield;
  const known = attacksOf(readings);
  const touch = touchesOf(readings);
  yield;
  const entries: LinkedEntry[] = [];
  const ringing: RingingNote[] = [];
  let notes = 0;
  let agree = 0;
  const look = (note: PlayedNote, strand: StrandId) => {
    notes++;
    const found = page.get(note.id);
    const now = cleaned.get(note.id);
    const at = found?.start ?? momentOf(frame, now?.on ?? note.on);
    const say = (
      differs: Difference[],
      because: Cause | null,
      figures: { from?: number; to?: number } = {},
    ) => {
      const bar = Math.min(frame.bars.length - 1, barIndexOf(frame.bars, Math.max(0, at)));
      entries.push({
        note: note.id,
        part: found?.part ?? null,
        strand,
        bar,
        at,
        differs,
        because,
        ...figures,
      });
    };
    if (!found) return say(['missing'], whyMissing(note.id));
    if (isAddedNote(note.id)) return say(['added'], 'put-in');
    if (found.first !== note.id && (asRead || found.signed)) {
      // Strokes of a trill, or the same note when it is played again.
      if (found.key === note.key) agree++;
      else say(['pitch'], 'mark', { from: note.key, to: found.key });
      return;
    }
    if (found.key !== note.key) {
      const apart = found.key - note.key;
      const isDecided = now?.key === found.key || decisions.pitches.has(note.id);
      return say([apart % 12 === 0 ? 'octave' : 'pitch'], isDecided ? 'pitch-decided' : null, {
        from: note.key,
        to: found.key,
      });
    }
    const own = known.get(note.id);
    if (own && now && !found.grace && !asRead) {
      const { attack, sketch, sigma } = own;
      const away = lateness(attack, frame, swings, sketch);
      const spread = Math.max(NEAR, SPREADS * sigma * unitsPerSecond(frame, now.on));
      if (Math.abs(away) > spread)
        return say(['onset'], isPlaced(note.id) ? 'place-decided' : null, {
          from: found.start + away,
          to: found.start,
        });
      const held = sketch.until - sketch.at;
      const written = found.end - found.start;
      // Notes of a chord share a stem, and the longest says its value.
      const longest = sketch.strike.held * unitsPerSecond(frame, now.on);
      const usual = touch.get(found.part) ?? 1;
      const isOther = [held, held / usual, longest, longest / usual].every((each) =>
        isOtherLength(each, written),
      );
      const isCut = written < CUT * held && held - written >= MISSING;
      if (!found.struck && !found.signed) {
        if (isOther || (isCut && !found.rings))
          return say(['length'], isPlaced(note.id) ? 'place-decided' : null, { from: held, to: written });
        if (isCut) ringing.push({ note: note.id, part: found.part, at });
      }
    }
    if (asRead && now && !found.grace && !swingInBar(swings, barIndexOf(frame.bars, found.start))) {
      const away = momentOf(frame, now.on) - found.start;
      if (Math.abs(away) > NEAR) return say(['onset'], null, { from: found.start + away, to: found.start });
    }
    agree++;
  };
  const isPlaced = (note: EventId) => decisions.places.has(note);
  const whyMissing = (note: EventId): Cause | null => {
    if (decisions.dropped.has(note)) return 'note-out';
    if (gone.has(note)) return 'cleaned';
    return cleaned.has(note) && !inUse.has(note) ? 'strand-out' : null;
  };
  for (const strand of source.strands) {
    for (const note of strand.notes) look(note, strand.id);
    yield;
  }
  for (const strand of performance.strands)
    for (const note of strand.notes) if (isAddedNote(note.id)) look(note, strandOf(note.id));
  const meant = entries.filter(({ because }) => because !== null).length;
  // What lies past the point to which the source's time can be believed is in the source all the same.
  return {
    notes: notes + source.beyond,
    agree,
    meant,
    entries: entries.sort((a, b) => a.at - b.at),
    ringing,
  };
}

const unitsPerSecond = ({ clock }: Frame, tick: number): number => {
  const tempo = clock.tempos.findLast((each) => each.tick <= tick)?.microsPerQuarter ?? 500_000;
  return (1e6 / tempo) * QUARTER;
};

const isOtherLength = (played: Span, written: Span): boolean => {
  const [short, long] = [Math.min(played, written), Math.max(played, written)];
  return short < SHORTEST * long && long - short > LENIENT;
};

/** Every note that stands on the page, by the played notes that it is made of. */
function readPage(
  part: Part,
  index: number,
  { unpitched: struck, family }: Instrument,
  { bars }: Frame,
  page: Map<EventId, Written>,
): void {
  const rings = RINGING.has(family);
  part.bars.forEach((bar, at) => {
    const zero = bars[at]!.start;
    for (const { items, staff } of bar.voices) {
      if (staff > 1 && part.clefs[staff - 1] === 'tab') continue;
      for (const item of items) {
        if (item.kind !== 'chord' || item.cue) continue;
        const start = zero + item.onset;
        const signed = item.marks?.some(({ kind }) => SEVERAL.has(kind)) ?? false;
        const put = (note: Note, end: Moment, grace: boolean) => {
          for (const source of note.sources) {
            const event = ownEvent(source);
            const before = page.get(event);
            if (before) before.end = Math.max(before.end, end);
            else
              page.set(event, {
                part: index,
                start,
                end,
                key: note.key,
                grace,
                signed,
                struck,
                rings,
                first: ownEvent(note.sources[0]!),
              });
          }
        };
        for (const note of [...(item.graces ?? []), ...(item.gracesAfter ?? [])]) put(note, start, true);
        for (const note of item.notes) put(note, start + item.duration, false);
      }
    }
  });
}

/** Marks that stand for several notes, or for a length that is not the written one. */
const SEVERAL: ReadonlySet<string> = new Set(['ornament', 'tremolo', 'articulation', 'arpeggio', 'fermata']);

/** The share of their written lengths that a part holds its notes as a rule: what was programmed short throughout is no staccato. */
const touchesOf = (readings: readonly PartReading[]): Map<number, number> =>
  new Map(
    readings.map(({ notes }, part) => {
      const shares = [...notes.values()].flatMap(({ at, until, start, end }) =>
        end > start ? [(until - at) / (end - start)] : [],
      );
      return [part, Math.min(1, Math.max(LEAST_TOUCH, medianOf(shares)))];
    }),
  );

/** The attack of each note, and how it was heard. */
function attacksOf(readings: readonly PartReading[]) {
  const known = new Map<EventId, { attack: Attack; sketch: SketchNote; sigma: number }>();
  for (const { attacks, notes, sigma } of readings)
    for (const attack of attacks)
      for (const each of attack.notes)
        for (const id of each.sources)
          known.set(ownEvent(id), { attack, sketch: notes.get(id) ?? each, sigma });
  return known;
}
