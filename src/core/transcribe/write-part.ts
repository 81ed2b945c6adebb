import { append } from '../basics/append';
import { lastAtOrBefore } from '../basics/search';
import type { Steps } from '../basics/steps';
import type { PartPlan } from '../cast/route';
import type { StrandDecisions } from '../decisions/decisions';
import { lastAt } from '../decisions/kind';
import { joinAttacks } from '../infer/attacks/attacks';
import type { Lead } from '../infer/lead/lead-of';
import { fitDrumLengths } from '../infer/lengths/drums';
import { fitLengths } from '../infer/lengths/lengths';
import { writeShortNotes } from '../infer/lengths/short-notes';
import { findMordents, foldMordents, type Mordent } from '../infer/marks/mordents';
import { playerTexts } from '../infer/marks/players';
import { findSlurs } from '../infer/marks/slurs';
import { type TechniqueText, techniqueTexts } from '../infer/marks/techniques';
import { findTremolos, foldTremolos, type Tremolo } from '../infer/marks/tremolos';
import { findTrills, foldTrills, type Trill } from '../infer/marks/trills';
import type { Listening } from '../infer/rhythm/ensemble';
import { fitRhythm } from '../infer/rhythm/fit-rhythm';
import { separateVoices } from '../infer/voices/voices';
import type { DrumLayout } from '../instruments/kit';
import type { Beat } from '../model/beats';
import { secondsAt } from '../model/clock';
import { type Frame, frameEnd, tickOfMoment } from '../model/frame';
import { type EventId, noteIdOf } from '../model/ids';
import type { ChordSymbol, Mark, Placement } from '../model/marks';
import type { MarkOffer } from '../model/offers';
import type { TextAt } from '../model/performance';
import type { Pitch } from '../model/pitch';
import {
  barIndexOf,
  type KeySignature,
  keyInBar,
  mapNotes,
  type Note,
  type Part,
  type PartBar,
  type SwingMark,
  type UnplacedNote,
  writtenFifths,
} from '../model/score';
import type { Attack, LocalKey, SketchNote } from '../model/sketch';
import { swingInBar } from '../model/swing';
import { type Moment, QUARTER } from '../model/time';
import { addCourtesies, neighbourAccidental, showAccidentals } from '../notate/accidentals';
import { beamVoice } from '../notate/beams';
import { readStaff, wantedClef } from '../notate/clef-changes';
import { clefsOf } from '../notate/clefs';
import { notate, placeDrums } from '../notate/notate';
import { spell, type Tonality } from '../notate/spell';
import type { RhythmChoices } from './choices';
import { changesBetween, doublingTexts, type Stretch, stretchesOf } from './doubles';
import { bodiesOf, type FirstHearing, type Hearing, secondsPerUnit } from './hear';
import { hangLyrics, putChordSymbols } from './marks';

const SIXTEENTH = QUARTER / 4;
/** Bars that are finished without giving way. */
const BARS_AT_A_TIME = 32;

/** Everything that the rhythm of one part is read from. */
export interface Fitting {
  plan: Pick<PartPlan, 'instrument' | 'staves' | 'doubles'>;
  hearing: Hearing;
  first: FirstHearing;
  /** Of each strand. */
  leads: readonly Lead[];
  swings: readonly SwingMark[];
  frame: Frame;
  beats: readonly Beat[];
  choices: RhythmChoices;
  /** What all parts hear of each other, and which of their bodies is the first of this part. */
  listening: Listening;
  from: number;
}

/** Everything that the spelling of one part is found from. */
export interface Spelling {
  plan: Pick<PartPlan, 'instrument'>;
  fitted: FittedPart;
  keys: readonly KeySignature[];
  /** The key heard at each beat. */
  localKeys: readonly LocalKey[];
  frame: Frame;
  beats: readonly Beat[];
  /** How far single notes were moved from where they were played. */
  moved: RhythmChoices['pitches'];
}

/** Everything that one part is written from. */
export interface Writing {
  plan: Pick<PartPlan, 'instrument' | 'staves' | 'techniques' | 'players'>;
  hearing: Hearing;
  fitted: FittedPart;
  /** The pitches of its notes, as `spellPart` gives them. */
  pitches: readonly Pitch[];
  /** How drum sounds are written. */
  drums: DrumLayout;
  keys: readonly KeySignature[];
  frame: Frame;
  lyrics: readonly TextAt[];
  /** Chord symbols that stand over this part. */
  chords: readonly { tick: number; symbol: ChordSymbol }[];
  /** The clefs that were decided for it. */
  clefs: StrandDecisions['clefs'];
}

/** A part as it is written, whatever it is called. */
export type UnnamedPart = Omit<Part, 'id' | 'name' | 'abbreviation'>;

/** The rhythm of a part: its notes in values and voices, not yet spelled. */
export interface FittedPart {
  notes: readonly SketchNote[];
  attacks: readonly Attack[];
  /** Strokes of tremolos and ornaments that are one note on paper. */
  strokes: readonly SketchNote[];
  offers: readonly MarkOffer[];
  unplaced: readonly PartBar<UnplacedNote>[];
  /** Which bars are read on which instrument. */
  stretches: readonly Stretch[];
  /** Players share its staff. */
  sharesStaff: boolean;
}

export interface WrittenPart {
  part: UnnamedPart;
  counts: HeadCounts;
  lostLyrics: TextAt[];
}

/** How the notes of a part were read, whatever is written of them. */
export interface ReadPart {
  /** The attacks of the part as they were read, for those who ask why. */
  attacks: readonly Attack[];
  /** Each note of the source by its id, as it was written. */
  notes: ReadonlyMap<EventId, SketchNote>;
}

/** What notes of the source became in one part, counted where they stand in the end. */
export interface HeadCounts {
  /** Written notes, of which tied ones count once. */
  written: number;
  graces: number;
  /** Notes that share the head of another. */
  merged: number;
  marks: number;
}

/** Reads the rhythm of one part: fits its attacks knowing the others, reads lengths and voices, puts it into bars. */
export function* fitPart(fitting: Fitting): Steps<FittedPart> {
  const { plan, hearing, first, leads, swings, frame, beats, choices, listening, from } = fitting;
  const { instrument } = plan;
  const per = secondsPerUnit(frame);
  const notes: SketchNote[] = [];
  const read: Attack[] = [];
  const offers: MarkOffer[] = [];
  const strokes: SketchNote[] = [];
  const bodies = bodiesOf(hearing, leads, swings, frame, choices.places);
  const sharesStaff = hearing.staves === 1 && bodies.length > 1;
  const settle = (own: readonly SketchNote[]) => {
    settleGraces(own, frameEnd(frame));
    separateVoices(
      own.filter((note) => !note.grace),
      instrument.unpitched,
      (note) => choices.voices[barIndexOf(frame.bars, note.start)]!,
      (note) => lineOf(note)?.voice,
      choices.drums,
    );
  };
  const lineOf = ({ sources }: SketchNote) => {
    const source = choices.lines.size === 0 ? undefined : sources.find((id) => choices.lines.has(id));
    return source && choices.lines.get(source);
  };
  for (const [index, { staff, attacks, chordal }] of bodies.entries()) {
    yield;
    const ensemble = listening.for(from + index);
    yield* fitRhythm(attacks, frame, beats, {
      sigma: first.sigma,
      secondsPerUnit: per,
      choiceAt: (beat) => choices.grids[beat.bar]!,
      swingAt: (bar) => swingInBar(swings, bar),
      singleLine: hearing.singleLine,
      drums: hearing.unpitched,
      chordal,
      ensemble,
    });
    const joined = joinAttacks(attacks, frameEnd(frame));
    yield;
    if (instrument.unpitched) fitDrumLengths(joined, frame, choices.drums);
    else
      yield* fitLengths(joined, frame, {
        tidiness: hearing.tidiness,
        singleLine: hearing.singleLine,
        dies: instrument.family === 'percussion',
        secondsPerUnit: per,
        closing: (bar) => choices.closings[bar]!,
        swingAt: (bar) => swingInBar(swings, bar),
      });
    if (!instrument.unpitched) writeShortNotes(joined, frame, (bar) => choices.values[bar]!.short);
    let own = joined.flatMap((attack) => attack.notes);
    joined.forEach((attack, at) => {
      for (const note of attack.notes) {
        note.staff = (hearing.staves === 2 && lineOf(note)?.staff) || staff;
        const end = choices.places.get(note.id)?.end;
        if (end !== undefined && end > note.start && !note.grace)
          note.end = Math.min(end, latestEnd(joined, at, hearing.singleLine, frame));
      }
    });
    const isShown = (what: 'tremolos' | 'trills', from: Moment) => {
      const said = choices.strokes.filter((choice) => choice.what === what);
      return lastAt(said, tickOfMoment(frame, from))?.use === 'shown';
    };
    const tremolos = findTremolos(own);
    const secondsOf = (tick: number) => secondsAt(frame.clock, tick);
    // A stroke belongs to one sign: what rolls on a key is no part of a trill, and neither of a mordent.
    const inSigns = new Set(tremolos.flatMap((tremolo) => tremolo.notes));
    const others = () => own.filter((note) => !inSigns.has(note));
    const trills = instrument.unpitched ? [] : findTrills(others(), secondsOf);
    for (const trill of trills) for (const note of trill.notes) inSigns.add(note);
    const mordents = hearing.singleLine ? findMordents(others(), secondsOf) : [];
    append(offers, [...tremolos.map(offerOf), ...trills.map(offerOfTrill), ...mordents.map(offerOfMordent)]);
    const rolled = tremolos.filter(({ from }) => isShown('tremolos', from));
    const trilled = trills.filter(({ from }) => isShown('trills', from));
    if (rolled.length > 0) own = foldTremolos(own, rolled);
    if (trilled.length > 0) own = foldTrills(own, trilled);
    const turned = mordents.filter(({ from }) => isShown('trills', from));
    if (turned.length > 0) own = foldMordents(own, turned);
    for (const each of [...rolled, ...trilled, ...turned]) append(strokes, each.notes);
    yield;
    append(read, attacks);
    append(notes, own);
    yield;
  }
  if (sharesStaff) notes.splice(0, notes.length, ...sharedHeads(notes));
  for (const staff of [1, 2]) {
    settle(notes.filter((note) => note.staff === staff));
    yield;
  }
  const unplaced = yield* notate(
    notes,
    frame.bars,
    plan.staves,
    instrument.unpitched,
    (bar) => choices.values[bar]!.dots,
  );
  return {
    notes,
    attacks: read,
    strokes,
    offers,
    unplaced,
    stretches: stretchesOf(notes, plan, frame),
    sharesStaff,
  };
}

/** The pitches of a part's notes as its instrument reads them, in the order of `mapNotes`; none for drums. */
export function spellPart(spelling: Spelling): Pitch[] {
  const { plan, fitted, keys, moved } = spelling;
  if (plan.instrument.unpitched) return [];
  const keyOf = signatures(keys, fitted.stretches);
  const pitches: Pitch[] = [];
  for (const { from, to, instrument } of fitted.stretches) {
    const bars = fitted.unplaced.slice(from, to);
    const tonality = tonalityOf(spelling, from, keyOf);
    append(pitches, spell(bars, instrument.transposition, tonality, moved));
  }
  return pitches;
}

/** Writes one part whose rhythm was read: spells and beams it, and puts over it what stands there. */
export function* writePart(writing: Writing): Steps<WrittenPart> {
  const { plan, fitted, frame, lyrics } = writing;
  const { instrument } = plan;
  const { notes, stretches, sharesStaff } = fitted;
  const keyOf = signatures(writing.keys, stretches);
  const byId = bySource([...notes, ...fitted.strokes]);
  const bars = yield* finish(writing, keyOf);
  yield;
  putTexts(techniqueTexts(notes, plan.techniques, instrument.family === 'plucked'), bars, frame);
  putTexts(playerTexts(notes, playersOf(writing)), bars, frame);
  putTexts(doublingTexts(stretches, notes, frame), bars, frame);
  putChordSymbols(writing.chords, bars, frame);
  const readings = clefsOf(instrument, plan.staves).map((clefs, index) =>
    readStaff(bars, frame.bars, index + 1, clefs, instrument, wantedClef(writing.clefs, index + 1, frame)),
  );
  const changes = [...changesBetween(stretches, keyOf), ...readings.flatMap((each) => each.changes)].sort(
    (a, b) => a.bar - b.bar || a.at - b.at,
  );
  const lostLyrics = hangLyrics(lyrics, bars, frame);
  signOrnaments(bars, notes, (bar) => keyOf(bar).fifths);
  const slurs =
    playsLines(writing) && !sharesStaff
      ? findSlurs(bars, frame.bars, byId, (tick) => secondsAt(frame.clock, tick))
      : [];
  const spanners = [...slurs, ...readings.flatMap(({ octaves }) => octaves)];
  const part: UnnamedPart = {
    instrument: instrument.id,
    transposition: stretches[0]?.instrument.transposition ?? instrument.transposition,
    clefs: readings.map(({ clef }) => clef),
    bars,
    ...(changes.length > 0 && { changes }),
    ...(spanners.length > 0 && { spanners }),
  };
  return { part, counts: countHeads(bars, notes), lostLyrics };
}

/** What was played of a tremolo is its strokes, each at its place. */
const bySource = (notes: readonly SketchNote[]): Map<EventId, SketchNote> =>
  new Map(notes.flatMap((note) => note.sources.map((id): [EventId, SketchNote] => [id, note])));

/** Who bows, blows or sings joins notes on purpose; what is struck or plucked sounds on by itself. */
const playsLines = ({ plan: { instrument, techniques, staves }, hearing }: Writing): boolean =>
  staves === 1 &&
  (instrument.family === 'strings' ||
    (instrument.singleLine && hearing.singleLine && SUSTAINED.has(instrument.family))) &&
  !techniques.every((technique) => technique !== null && PLUCKED.has(technique)) &&
  !hearing.strands.every(({ programs }) => programs.includes(PLUCKED_BASS));

const SUSTAINED: ReadonlySet<string> = new Set(['woodwind', 'brass', 'voice', 'electronic']);
const PLUCKED: ReadonlySet<string> = new Set(['pizzicato', 'snap pizzicato', 'col legno']);
/** "Acoustic Bass" (General MIDI level 1, from 0). */
const PLUCKED_BASS = 32;

/**
 * Attacks and notes with the times that were played, where they had been moved to be heard.
 *
 * @param offset ticks that they were moved earlier by
 */
export function asPlayed({ attacks, notes: own, strokes }: FittedPart, offset: number): ReadPart {
  const notes = bySource([...own, ...strokes]);
  if (offset === 0) return { attacks, notes };
  const moved = new Map<SketchNote, SketchNote>();
  const later = (note: SketchNote): SketchNote => {
    const known = moved.get(note) ?? {
      ...note,
      on: Math.max(0, note.on + offset),
      off: note.off + offset,
    };
    moved.set(note, known);
    return known;
  };
  return {
    attacks: attacks.map((attack) => ({
      ...attack,
      tick: Math.max(0, attack.tick + offset),
      notes: attack.notes.map(later),
    })),
    notes: new Map([...notes].map(([id, note]) => [id, later(note)])),
  };
}

/** Notes of players of one staff: what two begin together on one key, and hold about as long, is one head. */
function sharedHeads(notes: readonly SketchNote[]): SketchNote[] {
  const known = new Map<string, SketchNote>();
  return notes.filter((note) => {
    const place = `${note.start} ${note.key} ${note.grace ?? false}`;
    const other = known.get(place);
    if (!other) {
      known.set(place, note);
      return true;
    }
    const [short, long] = [note.end - note.start, other.end - other.start].sort((a, b) => a - b) as [
      number,
      number,
    ];
    if (short < ALIKE * long) return true;
    other.sources = [...other.sources, ...note.sources];
    other.end = Math.max(other.end, note.end);
    return false;
  });
}

/** What lasts less than this share of another is no longer the same note. */
const ALIKE = 2 / 3;

/** Whose each note of a shared part is. */
function playersOf({ plan, hearing }: Writing): Map<EventId, number> {
  const found = new Map<EventId, number>();
  plan.players.forEach((player, at) => {
    for (const { id } of hearing.strands[at]!.notes) found.set(id, player);
  });
  return found;
}

/** Texts over the staff, at their places in their bars. */
function putTexts(texts: readonly TechniqueText[], bars: readonly PartBar[], { bars: of }: Frame): void {
  for (const { at, text } of texts) {
    const bar = barIndexOf(of, at);
    const mark: Mark = { kind: 'words', text, at: at - of[bar]!.start, placement: 'above' };
    bars[bar]!.marks = [...(bars[bar]!.marks ?? []), mark];
  }
}

/** A grace note stands before a note; where none begins it is a short note instead, never none. */
function settleGraces(notes: readonly SketchNote[], last: Moment): void {
  const starts = new Set(notes.flatMap((note) => (note.grace ? [] : [note.start])));
  for (const note of notes) {
    if (!note.grace || starts.has(note.start)) continue;
    delete note.grace;
    note.end = Math.min(note.start + SIXTEENTH, last);
  }
}

/** Who plays one note at a time cannot hold it under the next. */
function latestEnd(attacks: readonly Attack[], at: number, singleLine: boolean, frame: Frame): Moment {
  const { start } = attacks[at]!;
  const next = singleLine ? attacks.find((each) => each.start > start && !each.grace) : undefined;
  return next?.start ?? frameEnd(frame);
}

type Signatures = (bar: number) => { fifths: number; minor: boolean };

/** The signature that is read in each bar. */
function signatures(keys: readonly KeySignature[], stretches: readonly Stretch[]): Signatures {
  const byBar = stretches.flatMap(({ from, to, instrument }) =>
    Array.from({ length: to - from }, (_, at) => {
      const key = keyInBar({ keys }, from + at);
      return { fifths: writtenFifths(key.fifths, instrument.transposition), minor: key.minor };
    }),
  );
  return (bar) => byBar[bar]!;
}

/** The bars of a part with the pitches that were found for its notes. */
function withPitches(unplaced: readonly PartBar<UnplacedNote>[], pitches: readonly Pitch[]): PartBar[] {
  let next = 0;
  return mapNotes(unplaced, (note) => ({ ...note, pitch: pitches[next++]! }));
}

/** Spelling or drum places, accidentals and beams. */
function* finish({ plan, fitted, pitches, drums, frame }: Writing, keyOf: Signatures): Steps<PartBar[]> {
  const { instrument } = plan;
  const bars = instrument.unpitched
    ? placeDrums(fitted.unplaced, drums)
    : withPitches(fitted.unplaced, pitches);
  yield;
  for (const [index, bar] of bars.entries()) {
    if (!instrument.unpitched) showAccidentals(bar, keyOf(index).fifths);
    for (const line of bar.voices) beamVoice(line.items, frame.bars[index]!);
    if (index % BARS_AT_A_TIME === 0) yield;
  }
  if (!instrument.unpitched) addCourtesies(bars, (bar) => keyOf(bar).fifths);
  return bars;
}

/** The signatures of bars and the keys of beats as a part writes them that transposes. @param from the first bar */
function tonalityOf({ frame, beats, keys, localKeys }: Spelling, from: number, keyOf: Signatures): Tonality {
  return {
    signatureIn: (bar) => keyOf(from + bar).fifths,
    localAt: (bar, at) => {
      const moment = frame.bars[from + bar]!.start + at;
      const beat = Math.max(
        0,
        lastAtOrBefore(beats, moment, ({ start }) => start),
      );
      const { fifths, minor } = localKeys[beat]!;
      const moved = keyOf(from + bar).fifths - keyInBar({ keys }, from + bar).fifths;
      return { fifths: fifths + moved, minor };
    },
    startOf: (bar) => frame.bars[from + bar]!.start,
  };
}

const offerOf = ({ from, to, strokes, notes }: Tremolo): MarkOffer => ({
  kind: 'tremolos',
  from,
  to,
  mark: strokes === 3 ? '32nds' : '64ths',
  heard: [notes.length],
  margin: Number.POSITIVE_INFINITY,
  shown: false,
});

/** What the list calls ornaments. */
const ORNAMENT_NAMES: Readonly<Record<string, string>> = {
  mordent: 'mordent',
  'inverted-mordent': 'upper mordent',
  turn: 'turn',
  'inverted-turn': 'inverted turn',
};

const offerOfMordent = ({ from, to, ornament, notes }: Mordent): MarkOffer => ({
  kind: 'trills',
  from,
  to,
  mark: ORNAMENT_NAMES[ornament.name] ?? ornament.name,
  heard: [notes.length],
  margin: Number.POSITIVE_INFINITY,
  shown: false,
});

const offerOfTrill = ({ from, to, notes }: Trill): MarkOffer => ({
  kind: 'trills',
  from,
  to,
  mark: 'trill',
  heard: [notes.length],
  margin: Number.POSITIVE_INFINITY,
  shown: false,
});

/** What the signature does not say of the neighbours of ornaments stands above and below their signs (common practice). */
function signOrnaments(
  bars: readonly PartBar[],
  notes: readonly SketchNote[],
  fifthsIn: (bar: number) => number,
): void {
  const known = new Map(
    notes.flatMap(({ id, ornament }) => (ornament ? [[noteIdOf(id), ornament] as const] : [])),
  );
  if (known.size === 0) return;
  bars.forEach(({ voices }, bar) => {
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        const main = item.notes.find(({ id }) => known.has(id));
        const ornament = main && known.get(main.id);
        const sign = item.marks?.find((mark) => mark.kind === 'ornament' && mark.name === ornament?.name);
        if (sign?.kind !== 'ornament' || !main || !ornament) continue;
        const named = (by: number | undefined, placement: Placement) => {
          const name = by === undefined ? null : neighbourAccidental(main.pitch, by, fifthsIn(bar));
          return name ? [{ name, placement }] : [];
        };
        const { above, below } = ornament;
        const accidentals = [...named(above, 'above'), ...named(below && -below, 'below')];
        if (accidentals.length > 0) sign.accidentals = accidentals;
      }
  });
}

/** @param notes of which those of tremolos and ornaments stand for all their strokes */
function countHeads(bars: readonly PartBar[], notes: readonly SketchNote[]): HeadCounts {
  const stroked = new Set(
    notes.flatMap(({ id, tremolo, ornament }) => (tremolo || ornament ? [noteIdOf(id)] : [])),
  );
  const counts = { written: 0, graces: 0, merged: 0, marks: 0 };
  const more = ({ id, sources }: Note) => {
    counts[stroked.has(id) ? 'marks' : 'merged'] += sources.length - 1;
  };
  for (const bar of bars)
    for (const line of bar.voices)
      for (const item of line.items) {
        if (item.kind !== 'chord') continue;
        for (const note of item.graces ?? []) {
          counts.graces++;
          more(note);
        }
        for (const note of item.notes) {
          if (note.tieStop) continue;
          counts.written++;
          more(note);
        }
      }
  return counts;
}
