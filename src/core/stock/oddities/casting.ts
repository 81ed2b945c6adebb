import { counted } from '../../basics/words';
import { splitStrand } from '../../clean/split';
import { decidedFor } from '../../decisions/decisions';
import { type Family, type Instrument, instrumentOf, instrumentOfProgram } from '../../instruments/catalogue';
import { proposeShift, shiftedKit } from '../../instruments/kit-map';
import { recogniseInstrument } from '../../instruments/recognise';
import { spelledStrand } from '../../model/ids';
import type { Performance, Strand } from '../../model/performance';
import { PERCUSSION_CHANNEL } from '../../model/performance';
import { placeAt } from '../place';
import { type Finder, NEXT_TO_CERTAIN, type Oddity } from './oddity';

/** From this confidence on a name leaves no doubt. */
const CLEAR = 0.95;
/** From this confidence on a name is worth contradicting a program. */
const NAMED = 0.7;

const programEvents = (strand: Strand) =>
  strand.shaping.flatMap(({ event }) => (event.kind === 'program' ? [event] : []));

/** Programs of whole sections and of techniques, which any instrument of the family may have. */
const SECTION_PROGRAMS: Partial<Record<Family, readonly number[]>> = {
  strings: [44, 45, 48, 49, 50, 51],
  brass: [61, 62, 63],
  voice: [52, 53, 54],
};

const suits = (program: number, instrument: Instrument): boolean =>
  program === instrument.program ||
  instrumentOfProgram(program).id === instrument.id ||
  (SECTION_PROGRAMS[instrument.family]?.includes(program) ?? false);

/** What a strand's name says alone, whatever its program and channel. */
const byName = (strand: Strand) => recogniseInstrument({ name: strand.name, programs: [], channel: 0 });

/** Words that name a place in the arrangement and no instrument, though instruments have such names too. */
const GENERIC =
  /^(melod\w*|lead|solo|acc\w*|chorus|choir|voices?|vocals?|pads?|synth\w*|rhythm|harmony|strings?|brass|keyboards?|keys)$/;

/** Share of notes that an instrument cannot play, and from which it is out of the question. */
const UNPLAYABLE = 0.15;
const PLAYABLE = 0.02;

const outsideOf = ({ notes }: Strand, { lowest, highest }: Instrument): number =>
  notes.filter(({ key }) => key < lowest || key > highest).length / notes.length;

/**
 * Programs that belong to another instrument than was decided; or than the name
 * says, where the program could not play the notes, is the one that files get
 * by default, or strands of the same name beside it have the right one. A name
 * alone says little of a program that could play the notes.
 */
export const findWrongPrograms: Finder = ({ strands, clock }, decisions) =>
  strands.flatMap((strand): Oddity[] => {
    const [first] = programEvents(strand);
    const chosen = decidedFor(decisions, strand.id).instrument;
    const guess = recogniseInstrument({ ...strand, programs: first ? [first.program] : [] });
    const instrument = chosen ? instrumentOf(chosen) : guess.instrument;
    if (!first || instrument.unpitched || (!chosen && guess.confidence < NAMED)) return [];
    if (strand.channel === PERCUSSION_CHANNEL || suits(first.program, instrument)) return [];
    if (!chosen && GENERIC.test(guess.words ?? '')) return [];
    const ofProgram = instrumentOfProgram(first.program);
    // Where the notes speak for the program, it is the name that is loose.
    const named = outsideOf(strand, instrument);
    if (!chosen && named > PLAYABLE && named > outsideOf(strand, ofProgram)) return [];
    const isImpossible = outsideOf(strand, ofProgram) >= UNPLAYABLE;
    // Keyboards are named for what was played, whatever it was to sound like.
    const isOther =
      instrument.family !== 'keyboard' &&
      (first.program === 0 || isProgrammedBeside(strand, instrument, strands));
    if (!chosen && !isImpossible && !isOther) return [];
    const says = ofProgram.name;
    return [
      {
        id: `program ${strand.id}`,
        kind: 'program',
        strand: strand.id,
        place: placeAt(clock, first.tick),
        count: 1,
        what: `Program ${first.program + 1}${says === instrument.name ? '' : ` (${says})`} contradicts ${instrument.name}${
          isImpossible ? ', and could not play these notes' : ''
        }.`,
        sure: chosen ? 1 : 0.9,
        harm: { takes: 'sounds', notes: strand.notes.length },
        mend: {
          label: `Set ${instrument.program + 1}`,
          directives: [{ kind: 'programs', strand: strand.id, use: 'instrument' }],
        },
      },
    ];
  });

/** Whether another strand that is named for the same instrument has its program. */
const isProgrammedBeside = (strand: Strand, { id }: Instrument, strands: readonly Strand[]): boolean =>
  strands.some((other) => {
    const [first] = other === strand ? [] : programEvents(other);
    const { instrument, confidence } = byName(other);
    return (
      first !== undefined && confidence >= NAMED && instrument.id === id && suits(first.program, instrument)
    );
  });

/** Program and bank changes after the first note. */
export const findProgramChanges: Finder = ({ strands, clock }) =>
  strands.flatMap((strand): Oddity[] => {
    const events = programEvents(strand);
    const late = events.filter((event) => event.tick > strand.notes[0]!.on);
    if (late.length === 0) return [];
    const different = new Set(events.map((event) => event.program)).size;
    const sounding = splitStrand(strand, { by: 'program' }, clock).strands.length;
    const inForce = events.filter((event) => event.tick <= strand.notes[0]!.on).at(-1) ?? events[0]!;
    return [
      {
        id: `program-changes ${strand.id}`,
        kind: 'program-changes',
        strand: strand.id,
        place: placeAt(clock, late[0]!.tick),
        count: late.length,
        what:
          different > 1
            ? `${counted(late.length, 'program change')} in mid-track, between ${different} programs.`
            : `The same program is sent again ${late.length === 1 ? 'once' : `${late.length} times`} in mid-track.`,
        sure: different === 1 ? 1 : sounding > 1 ? 0.9 : 0.7,
        harm:
          sounding > 1
            ? { takes: 'part', parts: sounding }
            : different > 1
              ? { takes: 'sounds', notes: strand.notes.length }
              : null,
        mend:
          sounding > 1
            ? {
                label: 'A strand for each program',
                directives: [{ kind: 'split', strand: strand.id, by: 'program' }],
              }
            : different > 1
              ? {
                  label: 'Keep the one that sounds',
                  directives: [
                    { kind: 'programs', strand: strand.id, use: 'number', program: inForce.program + 1 },
                  ],
                }
              : {
                  label: 'Keep the first',
                  directives: [{ kind: 'programs', strand: strand.id, use: 'first' }],
                },
      },
    ];
  });

/** What nearly every kit is played on: bass drums, snares, hi-hats, ride and crash cymbals (General MIDI, percussion keys). */
const KIT_KEYS: ReadonlySet<number> = new Set([35, 36, 38, 40, 42, 44, 46, 49, 51]);
/** A kit has this share of its strokes there, or is struck on few keys. */
const KIT_SHARE = 0.35;
const FEW_KEYS = 8;

const isKit = ({ notes }: Strand): boolean =>
  new Set(notes.map(({ key }) => key)).size < FEW_KEYS ||
  notes.filter(({ key }) => KIT_KEYS.has(key)).length >= KIT_SHARE * notes.length;

/** A program other than the default on a channel whose notes have pitch. */
const hasPitchedSound = (strand: Strand): boolean =>
  strand.channel !== PERCUSSION_CHANNEL && programEvents(strand).some(({ program }) => program > 0);

/** Drums off the percussion channel, and pitched names on it. */
export const findWrongChannels: Finder = (performance, decisions) =>
  performance.strands.flatMap((strand): Oddity[] => {
    const chosen = decidedFor(decisions, strand.id).instrument;
    const named = byName(strand);
    const certain = chosen !== undefined || named.confidence >= NAMED;
    const { unpitched } = chosen ? instrumentOf(chosen) : named.instrument;
    const onPercussion = strand.channel === PERCUSSION_CHANNEL;
    if (!certain || unpitched === onPercussion) return [];
    // A program is for what has pitch, or is percussion among the programs; a kit on its channel sounds like one.
    if (!chosen && (unpitched ? hasPitchedSound(strand) : isKit(strand))) return [];
    const channel = unpitched ? PERCUSSION_CHANNEL : freeChannel(performance);
    return [
      {
        id: `channel ${strand.id}`,
        kind: 'channel',
        strand: strand.id,
        place: null,
        count: 1,
        what: unpitched
          ? `Named as drums, but on channel ${strand.channel + 1}, where notes have pitch.`
          : 'On the percussion channel, but its name has pitch.',
        sure: chosen !== undefined || (unpitched && named.confidence >= CLEAR) ? NEXT_TO_CERTAIN : 0.9,
        harm: { takes: 'sounds', notes: strand.notes.length },
        mend: {
          label: `To channel ${channel + 1}`,
          directives: [{ kind: 'channel', strand: strand.id, channel: channel + 1 }],
        },
      },
    ];
  });

/** A channel on which nothing plays, 0–15; the last one where all are taken. */
function freeChannel({ strands }: Performance): number {
  const used = new Set(strands.map((strand) => strand.channel));
  for (let channel = 0; channel < 16; channel++)
    if (channel !== PERCUSSION_CHANNEL && !used.has(channel)) return channel;
  return 15;
}

/** Strands of different programs on one channel: the last change wins for all of them. */
export const findSharedChannels: Finder = (performance) => {
  const oddities: Oddity[] = [];
  const owners = new Map<string, Strand>();
  for (const strand of performance.strands) {
    const program = programEvents(strand)[0]?.program;
    if (program === undefined || strand.channel === PERCUSSION_CHANNEL || strand.piece) continue;
    const place = `${strand.port ?? 0} ${strand.channel}`;
    const owner = owners.get(place);
    if (!owner) owners.set(place, strand);
    else if (owner.track !== strand.track && programEvents(owner)[0]!.program !== program)
      oddities.push({
        id: `shared-channel ${strand.id}`,
        kind: 'shared-channel',
        strand: strand.id,
        place: null,
        count: 1,
        what: `Shares channel ${strand.channel + 1} with ${owner.name || spelledStrand(owner.id)}, which wants another program.`,
        sure: 0.8,
        harm: { takes: 'sounds', notes: strand.notes.length },
        mend: {
          label: `To channel ${freeChannel(performance) + 1}`,
          directives: [{ kind: 'channel', strand: strand.id, channel: freeChannel(performance) + 1 }],
        },
      });
  }
  return oddities;
};

/** What keeps time as it stands: hi-hats and rides; on the percussion channel so many strokes of them are no accident. */
const TIME_KEYS: ReadonlySet<number> = new Set([42, 44, 46, 51, 53, 59]);
const TIME_SHARE = 0.2;

const keepsTime = ({ notes }: Strand): boolean =>
  notes.filter(({ key }) => TIME_KEYS.has(key)).length >= TIME_SHARE * notes.length;

/** Drum strands that only make sense when shifted. */
export const findShiftedKits: Finder = ({ strands, clock }, decisions) =>
  strands.flatMap((strand): Oddity[] => {
    const chosen = decidedFor(decisions, strand.id).instrument;
    const named = byName(strand);
    const isNamedPitched =
      !chosen && ((named.confidence >= NAMED && !named.instrument.unpitched) || hasPitchedSound(strand));
    const { unpitched } = chosen ? instrumentOf(chosen) : recogniseInstrument(strand).instrument;
    const isInPlace = strand.channel === PERCUSSION_CHANNEL && keepsTime(strand);
    const proposal = unpitched && !isNamedPitched && !isInPlace ? proposeShift(strand.notes, clock) : null;
    if (!proposal) return [];
    return [
      {
        id: `kit ${strand.id}`,
        kind: 'kit',
        strand: strand.id,
        place: placeAt(clock, strand.notes[0]!.on),
        count: strand.notes.length,
        what: `As General MIDI the kit makes no sense. ${proposal.why}`,
        sure: 0.8,
        harm: { takes: 'sounds', notes: strand.notes.length },
        mend: {
          label: `Shift by ${proposal.shift > 0 ? '+' : '−'}${Math.abs(proposal.shift)}`,
          directives: [{ kind: 'kit', strand: strand.id, keys: shiftedKit(strand.notes, proposal.shift) }],
        },
      },
    ];
  });
