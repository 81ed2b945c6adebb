import { append } from '../basics/append';
import { Graph } from '../basics/graph';
import { finished, type Steps } from '../basics/steps';
import { decidedGroups } from '../cast/brackets';
import { type PartPlan, routeStrands } from '../cast/route';
import type { Brief } from '../decisions/brief';
import { type Decisions, decide, decidedFor } from '../decisions/decisions';
import type { MarksChoice } from '../decisions/kinds/marks';
import type { Lead } from '../infer/lead/lead-of';
import { commonOffset, movedEarlier } from '../infer/lead/offset';
import { chordMarkers } from '../infer/marks/chord-names';
import type { StruckAttack } from '../infer/marks/loudness';
import type { Beat } from '../model/beats';
import { creditsOf } from '../model/credits';
import type { FormOffer } from '../model/form';
import type { Frame } from '../model/frame';
import type { Groups } from '../model/groups';
import type { EventId } from '../model/ids';
import type { MarkOffer, Offered } from '../model/offers';
import type { Performance, PlayedNote, Strand, TextAt } from '../model/performance';
import type { KeySignature, Part, Score, SwingMark, TempoMark } from '../model/score';
import type { Attack, LocalKey, SketchNote } from '../model/sketch';
import type { Moment } from '../model/time';
import { withBarSigns } from '../notate/bar-signs';
import { signsOf } from '../notate/signs';
import { type Account, accountFor } from './account';
import { decideGroups, decideLead, type RhythmChoices, rhythmDecisions } from './choices';
import type { FirstHearing, Hearing } from './hear';
import { shareLyrics } from './lyrics';
import { chosenRehearsals, rehearsalMarks, tempoMarks } from './marks';
import * as nodes from './nodes';
import { reluctanceOf } from './offer-marks';
import type { FittedPart, Fitting, ReadPart, WrittenPart } from './write-part';

export { type Account, unaccounted } from './account';

export interface Transcription {
  score: Score;
  plans: PartPlan[];
  /** How each part was read, in the order of the plans. */
  readings: PartReading[];
  frame: Frame;
  /** Where the piece is swung, as decided and as found. */
  swings: readonly SwingMark[];
  foundSwings: readonly SwingMark[];
  /** Groups of each bar as they were found; null where the meter leaves no choice. */
  foundGroups: readonly (Groups | null)[];
  /** By how many ticks the performance sounds late as a whole, which was left out. */
  offset: number;
  /** What comes again and is written as signs in the score that is handed over. */
  folded: readonly FormOffer[];
  /** Null as long as nobody asked. */
  told: Told | null;
  account: Account;
  keyWhy: string;
  /** The key that is heard at each beat, in concert pitch; none for a score that was read. */
  tonality: readonly LocalKey[];
  /** Lyrics that found no note. */
  lostLyrics: TextAt[];
  /** Notes that were decided to stand after the end of the piece. */
  placedBeyond: number;
  /** What was decided about the page and could not be done, as sentences. */
  undone: readonly string[];
}

/** What the playing speaks for, chosen or not. A score is there without: it is asked for by who lists it. */
export interface Told {
  /** Marks of each part, in the order of the plans. */
  offers: readonly (readonly MarkOffer[])[];
  /** What comes again, and whether it is written as signs. */
  form: readonly FormOffer[];
}

/** How a part's rhythm was read. */
export interface PartReading {
  attacks: readonly Attack[];
  /** Each note of the source by its id, as it was written. */
  notes: ReadonlyMap<EventId, SketchNote>;
  /** For each strand how far it sounds ahead of the beat and was moved back: as decided and as found. */
  leads: readonly Lead[];
  foundLeads: readonly Lead[];
  /** Standard deviation of its attacks, in seconds. */
  sigma: number;
  /** Notes of its strands that no staff can show: their written octave is none of 0 to 9. */
  unwritable: readonly PlayedNote[];
  /** Where chords stand that no hand can stop, of what is read from tablature. */
  unplayable: readonly Moment[];
}

export interface Progress {
  done: number;
  of: number;
  /** The part that is being read or written. */
  part: string;
}

/** Work in steps that tells how far the whole is. */
function* telling<T>(steps: Steps<T>, progress: Progress): Generator<Progress, T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    yield progress;
  }
}

/** What is called so while it is worked on together. */
const ALL = 'All parts together';
/** The owner of what is worked out for all parts. */
const PIECE = 'piece';

/** What a transcription is made of. */
interface Piece {
  graph: Graph;
  decisions: Decisions;
  /** What is heard, moved onto the beat by the offset. */
  performance: Performance;
  /** Ticks. */
  offset: number;
  plans: PartPlan[];
  /** The strands of each part, in the order of the plans. */
  strands: Strand[][];
}

/** Bars, beats and keys. */
interface Time {
  foundGroups: readonly (Groups | null)[];
  frame: Frame;
  beats: readonly Beat[];
  chroma: readonly (readonly number[])[];
  keys: readonly KeySignature[];
  keyWhy: string;
  tonality: readonly LocalKey[];
  tempos: TempoMark[];
}

/** The rhythm of a part, read among the others. */
interface PartRhythm {
  hearing: Hearing;
  first: FirstHearing;
  leads: readonly Lead[];
  choices: RhythmChoices;
  /** What its rhythm was read from. */
  fitting: Fitting;
  fitted: FittedPart;
}

interface Rhythm {
  found: readonly SwingMark[];
  swings: readonly SwingMark[];
  parts: PartRhythm[];
}

/** A part on the page, without what is put over it by choice. */
interface PartPage {
  read: ReadPart;
  written: WrittenPart;
  /** Tremolos and ornaments that its notes could be written as. */
  offers: readonly MarkOffer[];
  part: Part;
}

/** A part with all that stands in it. */
interface PartMarked {
  part: Part;
  offers: MarkOffer[];
  unplayable: Moment[];
}

/**
 * Score = transcribe(performance, brief): sequencer to notation, step by step.
 * In steps, so that a worker can report progress, answer others and stop at any moment.
 *
 * @param graph of the last transcription: what still holds is not worked out again
 * @param how.tells also what its playing speaks for beside what was chosen
 */
export function* transcribe(
  heard: Performance,
  brief: Brief,
  graph: Graph = new Graph(),
  { tells = true }: { tells?: boolean } = {},
): Generator<Progress, Transcription> {
  const piece = pieceOf(heard, decide(brief), graph);
  const time = layTime(piece);
  const rhythm = yield* readRhythm(piece, time);
  const { pages, lostLyrics } = yield* writePages(piece, time, rhythm);
  const marked = yield* markPages(piece, time, pages, tells);
  const { score, undone } = withBarSigns(
    scoreOf(piece, time, rhythm.swings, marked),
    piece.decisions.barSigns,
  );
  const isFolded = piece.decisions.repeats.length > 0;
  const form = tells || isFolded ? yield* formed(piece, time, score) : [];
  graph.turn({ isWhole: tells });
  return {
    score,
    folded: form.filter(({ folded }) => folded),
    told: tells ? { offers: marked.map(({ offers }) => offers), form } : null,
    plans: piece.plans,
    readings: rhythm.parts.map(({ hearing, leads, first }, at) => {
      const { unplayable } = marked[at]!;
      const { attacks, notes } = pages[at]!.read;
      const { unwritable } = hearing;
      return {
        attacks,
        notes,
        leads,
        foundLeads: first.leads,
        sigma: first.sigma,
        unwritable,
        unplayable,
      };
    }),
    frame: time.frame,
    swings: rhythm.swings,
    foundSwings: rhythm.found,
    foundGroups: time.foundGroups,
    offset: piece.offset,
    account: accountFor(
      piece.performance,
      piece.strands.flat(),
      rhythm.parts.map(({ hearing }) => hearing),
      pages.map(({ written }) => written.counts),
    ),
    keyWhy: time.keyWhy,
    tonality: time.tonality,
    lostLyrics,
    placedBeyond: rhythm.parts.reduce((sum, { choices }) => sum + choices.beyond, 0),
    undone: [...undone, ...drumsUnderClefs(piece)],
  };
}

/** Clefs that were decided for parts that have no pitches, as sentences. */
const drumsUnderClefs = ({ plans, decisions }: Piece): string[] =>
  plans.flatMap(({ name, leader, instrument }) =>
    instrument.unpitched && decisions.strands.get(leader)?.clefs
      ? [`${name} keeps its clef: its staff has no pitches.`]
      : [],
  );

/** What is played, and what the roster makes of it. */
function pieceOf(heard: Performance, decisions: Decisions, graph: Graph): Piece {
  // What is late as a whole is late nowhere in the score.
  const offset = decisions.offset === null ? commonOffset(heard) : 0;
  const performance = movedEarlier(heard, offset);
  const plans = routeStrands(performance, decisions);
  const byId = new Map(performance.strands.map((strand) => [strand.id, strand]));
  const strands = plans.map((plan) => plan.strands.map((id) => byId.get(id)!));
  return { graph, decisions, performance, offset, plans, strands };
}

/** Bars, beats and keys of the piece. */
function layTime({ graph, decisions, performance, plans, strands }: Piece): Time {
  const { clock } = performance;
  const used = strands.flat();
  const bars = graph.of(nodes.BARS, PIECE, { clock, end: lastMoment(used, clock.ticksPerQuarter) });
  const foundGroups = graph.of(nodes.GROUPS, PIECE, { bars, strands: used, clock });
  const groups = decideGroups(foundGroups, bars, decisions);
  const frame = graph.of(nodes.FRAME, PIECE, { clock, bars, groups });
  const beats = graph.of(nodes.BEATS, PIECE, { frame });
  const pitched = strands.flatMap((own, at) => (plans[at]!.instrument.unpitched ? [] : own));
  const weights = graph.of(nodes.WEIGHTS, PIECE, { strands: pitched, frame, beats });
  const chroma = graph.of(nodes.CHROMA, PIECE, { weights, frame, beats });
  const given = performance.keys;
  const barSigns = decisions.barSigns.filter(({ what }) => what === 'key');
  const { keys, why } = graph.of(nodes.KEYS, PIECE, {
    given,
    chroma,
    frame,
    decided: decisions.key,
    barSigns,
  });
  const tonality = graph.of(nodes.TONALITY, PIECE, { weights, beats, keys });
  const tempos = tempoMarks(performance, frame);
  return { foundGroups, frame, beats, chroma, keys, keyWhy: why, tonality, tempos };
}

/** Hears every part by itself, all of them together, and each again knowing the others. */
function* readRhythm(piece: Piece, { frame, beats }: Time): Generator<Progress, Rhythm> {
  const { graph, decisions, plans, strands } = piece;
  const of = plans.length;
  const hearings: Hearing[] = [];
  for (const [at, { leader, name, staves, instrument, players }] of plans.entries()) {
    const plan = { staves, instrument, players };
    const hearing = graph.inSteps(nodes.HEARING, leader, { plan, strands: strands[at]!, frame });
    hearings.push(yield* telling(hearing, { done: 0, of, part: name }));
  }
  // In the order of the source: what parts hear of each other does not depend on where they stand in the score.
  const inSource = inSourceOrder(piece);
  const ears = inSource.map((at) => graph.of(nodes.EARS, plans[at]!.leader, { hearing: hearings[at]! }));
  const together = graph.inSteps(nodes.TOGETHER, PIECE, { ears, frame, beats });
  const { leads, swings: found } = yield* telling(together, { done: 0, of, part: ALL });
  const coarse = new Map(inSource.map((at, place) => [at, leads[place]!]));
  const swings = graph.of(nodes.SWINGS, PIECE, { found, decided: decisions.swings, frame });
  const firsts: FirstHearing[] = [];
  for (const [at, { leader, name }] of plans.entries()) {
    const inputs = { hearing: hearings[at]!, leads: coarse.get(at)!, swings, frame, beats };
    const first = graph.inSteps(nodes.FIRST_HEARING, leader, inputs);
    firsts.push(yield* telling(first, { done: at / 2, of, part: name }));
  }
  const froms = new Map<number, number>();
  let bodies = 0;
  const places = inSource.map((at) => {
    froms.set(at, bodies);
    bodies += firsts[at]!.bodies.length;
    return graph.of(nodes.PLACES, plans[at]!.leader, { first: firsts[at]! });
  });
  const listening = yield* telling(graph.inSteps(nodes.LISTENING, PIECE, { places, beats }), {
    done: of / 2,
    of,
    part: ALL,
  });
  const parts: PartRhythm[] = [];
  for (const [at, { leader, name, strands: own, instrument, staves, doubles }] of plans.entries()) {
    const [hearing, first] = [hearings[at]!, firsts[at]!];
    const leads = first.leads.map((lead, strand) => decideLead(lead, own[strand]!, decisions));
    const decided = rhythmDecisions({ leader, instrument }, strands[at]!, decisions);
    const choices = graph.of(nodes.CHOICES, leader, { decided, frame });
    const plan = { instrument, staves, doubles };
    const from = froms.get(at)!;
    const fitting = { plan, hearing, first, leads, swings, frame, beats, choices, listening, from };
    const fitted = yield* telling(graph.inSteps(nodes.FITTED, leader, fitting), {
      done: of / 2 + at / 4,
      of,
      part: name,
    });
    parts.push({ hearing, first, leads, choices, fitting, fitted });
  }
  yield* fitAgain(piece, parts);
  return { found, swings, parts };
}

/** What is played again is read as it is at other times: parts that read it otherwise are fitted once more. */
function* fitAgain({ graph, plans }: Piece, parts: PartRhythm[]): Generator<Progress, void> {
  const [one] = parts;
  if (!one) return;
  const { frame, swings } = one.fitting;
  const attacks = parts.map(({ fitted }) => fitted.attacks);
  const again = graph.of(nodes.AGAIN, PIECE, { parts: attacks, frame, swings });
  const of = plans.length;
  for (const [at, own] of parts.entries()) {
    const { leader, name } = plans[at]!;
    if (again[at]!.length === 0) continue;
    const choices = graph.of(nodes.CHOICES_AGAIN, leader, { choices: own.choices, again: again[at]! });
    const fitted = graph.inSteps(nodes.FITTED_AGAIN, leader, { ...own.fitting, choices });
    own.fitted = yield* telling(fitted, { done: (3 * of) / 4, of, part: name });
  }
}

/** The parts (indices) in the order in which their first strands stand in the source. */
function inSourceOrder({ performance, plans }: Piece): number[] {
  const places = new Map(performance.strands.map(({ id }, place) => [id, place]));
  const placeOf = ({ strands }: PartPlan) => Math.min(...strands.map((id) => places.get(id)!));
  const all = plans.map(placeOf);
  return [...plans.keys()].sort((a, b) => all[a]! - all[b]! || a - b);
}

/** Spells and writes every part. */
function* writePages(
  { graph, decisions, performance, offset, plans }: Piece,
  { frame, beats, keys, tonality }: Time,
  rhythm: Rhythm,
): Generator<Progress, { pages: PartPage[]; lostLyrics: TextAt[] }> {
  const symbols = symbolPart(plans);
  const { chords } = chordMarkers(performance.markers);
  const { lyricsOf, homeless } = shareLyrics(performance, plans);
  const lostLyrics = [...homeless];
  const pages: PartPage[] = [];
  const of = plans.length;
  for (const [at, plan] of plans.entries()) {
    const { leader, id, name, abbreviation, instrument, staves, techniques, players } = plan;
    const { hearing, fitted, choices } = rhythm.parts[at]!;
    // Where another key is heard and the spelling stays, so does all that is written.
    const pitches = graph.of(nodes.PITCHES, leader, {
      plan: { instrument },
      fitted,
      keys,
      localKeys: tonality,
      frame,
      beats,
      moved: choices.pitches,
    });
    const inputs = {
      plan: { instrument, staves, techniques, players },
      hearing,
      fitted,
      pitches,
      drums: choices.drums,
      keys,
      frame,
      lyrics: lyricsOf.get(plan) ?? [],
      chords: plan === symbols ? chords : [],
      clefs: decidedFor(decisions, leader).clefs,
    };
    const written = yield* telling(graph.inSteps(nodes.WRITTEN, leader, inputs), {
      done: (3 * of + at) / 4,
      of,
      part: name,
    });
    append(lostLyrics, written.lostLyrics);
    const part = graph.of(nodes.NAMED, leader, { part: written.part, id, name, abbreviation });
    const read = graph.of(nodes.READ, leader, { fitted, offset });
    pages.push({ read, written, offers: fitted.offers, part });
  }
  return { pages, lostLyrics };
}

/** Chords are read in sounding pitch: a part that does not transpose has them. */
const symbolPart = (plans: readonly PartPlan[]): PartPlan | undefined =>
  plans.find(({ instrument }) => !instrument.unpitched && instrument.transposition.chromatic % 12 === 0);

/**
 * What the playing of each part speaks for, of itself and among the others.
 * @param asks for marks of a kind: of the others there may be none
 */
function* offered(
  piece: Piece,
  time: Time,
  pages: readonly PartPage[],
  set: readonly PartSet[],
  asks: (kind: Offered) => boolean,
): Steps<MarkOffer[][]> {
  const { graph, decisions, performance, plans, strands } = piece;
  const { frame, beats, chroma, keys, tonality, tempos } = time;
  const all = pages.map(({ read }) => read.notes);
  const pitched = all.filter((_, at) => !plans[at]!.instrument.unpitched);
  // A file that names its chords or its sections is believed.
  const { chords: named, others: sections } = chordMarkers(performance.markers);
  const chords =
    named.length > 0 || !asks('chords')
      ? []
      : graph.of(nodes.CHORDS, PIECE, { parts: pitched, frame, beats, tonality });
  const begun =
    sections.length > 0 || !asks('rehearsals')
      ? []
      : graph.of(nodes.SECTIONS, PIECE, { parts: all, chroma, frame, keys, tempos });
  yield;
  const areLoud = LOUD.some(asks);
  const loudness = plans.map(({ leader, instrument: { unpitched } }, at) =>
    !areLoud
      ? []
      : graph.of(nodes.LOUDNESS, leader, { notes: all[at]!, strands: strands[at]!, frame, unpitched }),
  );
  const reluctance = reluctanceOf(decisions.all.marks);
  const together = areLoud
    ? yield* graph.inSteps(nodes.TUTTI, PIECE, {
        parts: loudness,
        frame,
        reluctance,
      })
    : null;
  const symbols = symbolPart(plans);
  const offers: MarkOffer[][] = [];
  for (const [at, plan] of plans.entries()) {
    yield;
    const { leader, instrument } = plan;
    const { struck, programmed, fermatas } = set[at]!;
    const own =
      together && programmed.length === 0
        ? yield* graph.inSteps(nodes.OFFERS, leader, {
            loudness: loudness[at]!,
            struck,
            frame,
            reluctance: reluctanceOf(decidedFor(decisions, leader).marks),
            together,
            over: together.ensemble.over[at]!,
          })
        : programmed;
    const { unpitched, singleLine } = instrument;
    const touched = { notes: all[at]!, strands: strands[at]!, frame, unpitched, singleLine };
    const touch = graph.of(nodes.TOUCH, leader, touched);
    const ofAll = [...(plan === symbols ? chords : []), ...(at === 0 ? begun : [])];
    offers.push([...pages[at]!.offers, ...ofAll, ...own, ...fermatas, ...touch]);
  }
  return offers;
}

/** How loud a part was struck, the dynamics that a program wrote so, and where it waits. */
interface PartSet {
  struck: readonly StruckAttack[];
  programmed: MarkOffer[];
  fermatas: MarkOffer[];
}

/** What a program set stands, whether it is asked for or not. */
function setParts(
  { graph, plans, strands }: Piece,
  { tempos, frame }: Time,
  pages: readonly PartPage[],
): PartSet[] {
  const parts = pages.map(({ read }) => read.attacks);
  const holds = tempos.length > 1 ? graph.of(nodes.HOLDS, PIECE, { tempos, frame, parts }) : [];
  return plans.map(({ leader, instrument: { unpitched } }, at) => {
    const { notes } = pages[at]!.read;
    const struck = graph.of(nodes.STRUCK, leader, { notes, strands: strands[at]!, unpitched });
    return {
      struck,
      programmed: graph.of(nodes.PROGRAMMED, leader, { struck }),
      fermatas: holds.length > 0 ? graph.of(nodes.FERMATAS, leader, { notes, holds }) : [],
    };
  });
}

/** Marks that the loudness of all together tells. */
const LOUD: readonly Offered[] = ['dynamics', 'hairpins', 'accents'];

/**
 * Puts over each part what was chosen: marks, signs, shorthand, tablature.
 * @param tells also what could be chosen
 */
function* markPages(
  piece: Piece,
  time: Time,
  pages: readonly PartPage[],
  tells: boolean,
): Generator<Progress, PartMarked[]> {
  const { graph, decisions, plans } = piece;
  const { frame } = time;
  const of = plans.length;
  const chosen = new Set(
    plans.flatMap(({ leader }) => (decidedFor(decisions, leader).marks ?? []).map(({ what }) => what)),
  );
  const asks = (kind: Offered) => tells || chosen.has(kind);
  const set = setParts(piece, time, pages);
  const offers =
    tells || chosen.size > 0
      ? yield* telling(offered(piece, time, pages, set, asks), { done: of - 0.25, of, part: ALL })
      : set.map(({ programmed, fermatas }) =>
          fermatas.length === 0 ? programmed : [...programmed, ...fermatas],
        );
  return plans.map(({ leader }, at) => {
    const { marks: choices = NO_CHOICES, shorthand, frets } = decidedFor(decisions, leader);
    const { part, read } = pages[at]!;
    const own = offers[at]!;
    const marked =
      choices.length === 0 && !own.some(({ sure }) => sure)
        ? { part, offers: own }
        : graph.of(nodes.MARKED, leader, { part, offers: own, choices, frame });
    const signs = signsOf(decisions.signs, read.notes);
    const signed = graph.of(nodes.SIGNED, leader, { part: marked.part, signs, shorthand, frame });
    const tabbed = { part: signed, frets, strings: decisions.strings, frame };
    return { offers: marked.offers, ...graph.of(nodes.TABBED, leader, tabbed) };
  });
}

const NO_CHOICES: MarksChoice[] = [];

/** The score of parts that are whole. */
function scoreOf(
  { decisions, performance, plans }: Piece,
  { frame, keys, tempos }: Time,
  swings: readonly SwingMark[],
  marked: readonly PartMarked[],
): Score {
  const brackets = decidedGroups(
    plans.map(({ leader }) => leader),
    decisions,
  );
  const { others: sections } = chordMarkers(performance.markers);
  // Where a fermata stands, its tempo and the one after it need no figures.
  const waits = new Set(
    marked.flatMap(({ offers }) =>
      offers.flatMap(({ kind, shown, from, to }) => (kind === 'fermatas' && shown ? [from, to] : [])),
    ),
  );
  return {
    title: decisions.title ?? performance.title,
    ...creditsOf(decisions.credits, performance),
    bars: frame.bars,
    keys: [...keys],
    tempos:
      waits.size === 0
        ? tempos
        : tempos.map((tempo) =>
            waits.has(frame.bars[tempo.bar]!.start + tempo.at)
              ? { ...tempo, printed: null, byFermata: true }
              : tempo,
          ),
    ...(swings.length > 0 && { swings: [...swings] }),
    rehearsals: [...rehearsalMarks(sections, frame), ...chosenRehearsals(marked[0]?.offers ?? [], frame)],
    parts: marked.map(({ part }) => part),
    ...(brackets && { groups: brackets }),
  };
}

/** What comes again in a score. */
function* formed(
  { graph, decisions, plans }: Piece,
  { frame }: Time,
  { bars, keys, swings, rehearsals, parts }: Score,
): Generator<Progress, FormOffer[]> {
  const progress = { done: plans.length - 0.1, of: plans.length, part: ALL };
  const texts: (readonly string[])[] = [];
  for (const [at, { bars: own, clefs, changes }] of parts.entries()) {
    const part = { bars: own, clefs, ...(changes && { changes }) };
    texts.push(graph.of(nodes.BAR_TEXTS, plans[at]!.leader, { part }));
    yield progress;
  }
  const all = parts.map(({ bars: own }) => ({ bars: own }));
  const score = { bars, keys, ...(swings && { swings }), rehearsals, parts: all };
  return yield* telling(
    graph.inSteps(nodes.FORM, PIECE, { score, texts, choices: decisions.repeats, frame }),
    progress,
  );
}

/** Runs a transcription without pause. */
export const transcribeNow = (performance: Performance, brief: Brief, graph?: Graph): Transcription =>
  finished(transcribe(performance, brief, graph));

/**
 * Where the last note ends, in ticks. A release may hang over by less than a
 * 16th: that opens no bar of its own, unless it stands on the 32nd as written ones do.
 */
function lastMoment(strands: readonly Strand[], ticksPerQuarter: number): number {
  let attack = 0;
  let release = 0;
  for (const strand of strands)
    for (const note of strand.notes) {
      attack = Math.max(attack, note.on + 1);
      release = Math.max(release, note.off);
    }
  const isWritten = release % (ticksPerQuarter / 8) === 0;
  return Math.max(attack, isWritten ? release : release - ticksPerQuarter / 4 + 1);
}
