import { append } from '../basics/append';
import { finished, type Steps } from '../basics/steps';
import { decidedGroups } from '../cast/brackets';
import { type PartPlan, routeStrands } from '../cast/route';
import type { Brief } from '../decisions/brief';
import { type Decisions, decide, decidedFor } from '../decisions/decisions';
import { lastAt } from '../decisions/kind';
import { localKeys } from '../infer/key/local-keys';
import { settleKey } from '../infer/key/settle-key';
import type { Lead } from '../infer/lead/lead-of';
import { commonOffset, movedEarlier } from '../infer/lead/offset';
import { chordMarkers } from '../infer/marks/chord-names';
import { groupBars } from '../infer/meter/grouping';
import { Listening } from '../infer/rhythm/ensemble';
import { type Beat, beatsOfFrame } from '../model/beats';
import { creditsOf } from '../model/credits';
import type { FormOffer } from '../model/form';
import { barsOfScore, type Frame, frameBars, tickOfMoment } from '../model/frame';
import type { Groups } from '../model/groups';
import type { EventId } from '../model/ids';
import type { MarkOffer } from '../model/offers';
import type { Performance, PlayedNote, Strand, TextAt } from '../model/performance';
import { keyInBar, type Part, type Score, type SwingMark } from '../model/score';
import type { Attack, LocalKey, SketchNote } from '../model/sketch';
import type { Moment } from '../model/time';
import { withShorthand } from '../notate/shorthand';
import { signsOf, withSigns } from '../notate/signs';
import { decideGroups, decideLead, decideSwing, rhythmChoices } from './choices';
import { chordOffers } from './chords';
import { formOf } from './form';
import { type FirstHearing, type Hearing, hear, hearFirst } from './hear';
import { shareLyrics } from './lyrics';
import { chosenRehearsals, rehearsalMarks, tempoMarks } from './marks';
import {
  bendOffers,
  ghostOffers,
  hearTutti,
  loudnessOfPart,
  offersOf,
  reluctanceOf,
  touchOffers,
  withMarks,
} from './offer-marks';
import { sectionOffers } from './sections';
import { withTablature } from './tablature';
import { hearTogether } from './together';
import { Workings } from './workings';
import { fitPart, type HeadCounts, spellingOf, writePart } from './write-part';

/**
 * What happened to the notes of the cleaned performance. Each class is counted
 * where it comes about, so that the sum can fail; it is checked by `unaccounted`.
 */
export interface Account {
  notes: number;
  /** Became a written note of their own. */
  written: number;
  /** Became a grace note. */
  graces: number;
  /** Struck together with an equal key of the same part, so they share its note. */
  merged: number;
  /** Turned into a mark: strokes of a tremolo or a trill beyond the note that is written for them. */
  marks: number;
  /** In strands that are left out. */
  leftOut: number;
  /** Too low or too high for any staff (MusicXML writes octaves 0 to 9), as key switches are. */
  unwritable: number;
  /** Past the point to which the source's time can be believed. */
  beyond: number;
}

/** Notes of which the account does not know what became of them: any but 0 is a fault of this program. */
export const unaccounted = ({ notes, ...classes }: Account): number =>
  notes - Object.values(classes).reduce((sum, count) => sum + count, 0);

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
  /** What comes again, and whether the score that is handed over has it as signs. */
  form: readonly FormOffer[];
  account: Account;
  keyWhy: string;
  /** The key that is heard at each beat, in concert pitch; none for a score that was read. */
  tonality: readonly LocalKey[];
  /** Lyrics that found no note. */
  lostLyrics: TextAt[];
  /** Notes that were decided to stand after the end of the piece. */
  placedBeyond: number;
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
  /** Marks that its playing speaks for. */
  offers: readonly MarkOffer[];
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

/**
 * Score = transcribe(performance, brief): sequencer to notation, step by step.
 * In steps, so that a worker can report progress, answer others and stop at any moment.
 */
export function* transcribe(
  heard: Performance,
  brief: Brief,
  workings: Workings = new Workings(),
): Generator<Progress, Transcription> {
  const decisions = decide(brief);
  // What is late as a whole is late nowhere in the score.
  const offset = decisions.offset === null ? commonOffset(heard) : 0;
  const performance = movedEarlier(heard, offset);
  const plans = routeStrands(performance, decisions);
  const strands = new Map(performance.strands.map((strand) => [strand.id, strand]));
  const used = plans.flatMap((plan) => plan.strands.map((id) => strands.get(id)!));
  const end = lastMoment(used, performance.clock.ticksPerQuarter);
  const clockBars = workings.keep('bars', [performance.clock, end], () =>
    barsOfScore(performance.clock, end),
  );
  const foundGroups = workings.keep('groups', [clockBars, ...used], () =>
    groupBars(used, clockBars, performance.clock.ticksPerQuarter),
  );
  const groups = decideGroups(foundGroups, clockBars, decisions);
  const frame = workings.keep('frame', [clockBars, JSON.stringify(groups)], () =>
    frameBars(performance.clock, clockBars, groups),
  );
  const beats = workings.keep('beats', [frame], () => beatsOfFrame(frame));
  const pitched = plans.flatMap(({ instrument, strands: own }) => (instrument.unpitched ? [] : own));
  const inBeats = workings.keep('weights', [frame, ...pitched.map((id) => strands.get(id))], () =>
    pitchWeights(
      pitched.map((id) => strands.get(id)!),
      frame,
      beats,
    ),
  );
  const chroma = workings.keep('chroma', [inBeats, beats], () => inBars(inBeats, beats, frame));
  const { keys, why: keyWhy } = settleKey(performance.keys, chroma, frame, decisions);
  const tonality = workings.keep('tonality', [inBeats, JSON.stringify(keys)], () =>
    localKeys(inBeats, (beat) => keyInBar({ keys }, beats[beat]!.bar).fifths),
  );

  // First every part is heard by itself …
  const of = plans.length;
  const hearings: Hearing[] = [];
  for (const plan of plans) {
    const hearing = yield* telling(
      workings.keepInSteps(
        `hear ${plan.leader}`,
        [frame, plan.staves, plan.instrument, ...plan.strands.map((id) => strands.get(id))],
        () => hear(plan, strands, frame),
      ),
      { done: 0, of, part: plan.name },
    );
    hearings.push(hearing);
  }
  const { leads: coarse, swings: found } = yield* telling(
    workings.keepInSteps('leads and swing', [frame, beats, ...hearings], () =>
      hearTogether(hearings, frame, beats),
    ),
    { done: 0, of, part: 'All parts together' },
  );
  const swings = workings.keep('swing', [frame, JSON.stringify([found, decisions.swings])], () =>
    decideSwing(found, decisions, frame),
  );
  const firsts: FirstHearing[] = [];
  for (const [index, plan] of plans.entries()) {
    const hearing = hearings[index]!;
    const own = coarse[index]!;
    const first = yield* telling(
      workings.keepInSteps(`first ${plan.leader}`, [hearing, JSON.stringify(own), swings], () =>
        hearFirst(hearing, own, swings, frame, beats),
      ),
      { done: firsts.length / 2, of, part: plan.name },
    );
    firsts.push(first);
  }

  // … then again knowing the others, and written.
  const listening = yield* telling(
    workings.keepInSteps('listening', [beats, ...firsts.map((first) => first.signature)], () =>
      Listening.to(
        firsts.flatMap((each) => each.bodies),
        beats,
      ),
    ),
    { done: of / 2, of, part: 'All parts together' },
  );
  const { chords, others: sections } = chordMarkers(performance.markers);
  // Chords are read in sounding pitch: a part that does not transpose has them.
  const symbolPart = plans.find(
    ({ instrument }) => !instrument.unpitched && instrument.transposition.chromatic % 12 === 0,
  );
  const { lyricsOf, homeless } = shareLyrics(performance, plans);
  const lostLyrics = [...homeless];
  const signatureText = JSON.stringify(keys);
  const keyText = JSON.stringify([keys, tonality]);
  const parts: Part[] = [];
  const counts: HeadCounts[] = [];
  const readings: PartReading[] = [];
  let bodies = 0;
  let placedBeyond = 0;
  for (const [index, plan] of plans.entries()) {
    const hearing = hearings[index]!;
    const first = firsts[index]!;
    const lyrics = lyricsOf.get(plan) ?? [];
    const leads = workings.keep(
      `leads ${plan.leader}`,
      [first, JSON.stringify(plan.strands.map((strand) => decidedFor(decisions, strand).lead))],
      () => first.leads.map((lead, at) => decideLead(lead, plan.strands[at]!, decisions)),
    );
    const choices = rhythmChoices(plan, decisions, frame);
    placedBeyond += choices.beyond;
    const from = bodies;
    bodies += first.bodies.length;
    const fitting = {
      plan,
      hearing,
      first,
      leads,
      swings,
      frame,
      beats,
      choices,
      ensembleOf: (body: number) => listening.for(from + body),
    };
    const progress = { done: (plans.length + parts.length) / 2, of, part: plan.name };
    const fitted = yield* telling(
      workings.keepInSteps(
        `fitted ${plan.leader}`,
        [hearing, first, leads, listening, swings, choices.signature],
        () => fitPart(fitting),
      ),
      progress,
    );
    const writing = {
      ...fitting,
      keys,
      localKeys: tonality,
      lyrics,
      chords: plan === symbolPart ? chords : [],
      offset,
    };
    // Where another key is heard and the spelling stays, so does all that is written.
    const spelling = workings.keep(`spelling ${plan.leader}`, [fitted, keyText], () =>
      spellingOf(writing, fitted),
    );
    const written = yield* telling(
      workings.keepInSteps(
        `part ${plan.leader}`,
        [fitted, spelling, signatureText, lyrics.length, plan === symbolPart, offset],
        () => writePart(writing, fitted),
      ),
      progress,
    );
    append(lostLyrics, written.lostLyrics);
    counts.push(written.counts);
    readings.push({
      ...written,
      unwritable: hearing.unwritable,
      unplayable: [],
      leads,
      foundLeads: first.leads,
      sigma: first.sigma,
    });
    const { id, name, abbreviation } = plan;
    parts.push(
      workings.keep(`named ${plan.leader}`, [written.part, id, name, abbreviation], () => ({
        ...written.part,
        id,
        name,
        abbreviation,
      })),
    );
  }
  const sounding = readings.flatMap(({ notes }, at) => (plans[at]!.instrument.unpitched ? [] : [notes]));
  const spelled = workings.keep('chords', [frame, keyText, chords.length > 0, ...sounding], () =>
    // A file that names its chords is believed.
    chords.length > 0 ? [] : chordOffers(sounding, frame, beats, tonality),
  );
  const tempos = tempoMarks(performance, frame);
  const begun = workings.keep(
    'sections',
    [
      frame,
      chroma,
      signatureText,
      JSON.stringify(tempos),
      sections.length,
      ...readings.map(({ notes }) => notes),
    ],
    () =>
      // A file that names its sections is believed.
      sections.length > 0
        ? []
        : sectionOffers(
            readings.map(({ notes }) => [...new Set(notes.values())]),
            chroma,
            frame,
            keys,
            tempos,
          ),
  );
  const own = readings.map((reading, at) => {
    const more = [...(plans[at] === symbolPart ? spelled : []), ...(at === 0 ? begun : [])];
    return more.length > 0 ? { ...reading, offers: [...reading.offers, ...more] } : reading;
  });
  const marked = yield* telling(markParts(parts, own, plans, strands, frame, decisions, workings), {
    done: of - 0.25,
    of,
    part: 'All parts together',
  });
  const brackets = decidedGroups(
    plans.map(({ leader }) => leader),
    decisions,
  );
  const signed = marked.map(({ part }, index) => {
    const own = signsOf(decisions.signs, readings[index]!.notes);
    const { leader } = plans[index]!;
    const { shorthand } = decidedFor(decisions, leader);
    const of = JSON.stringify([own, shorthand ?? []]);
    return workings.keep(`signed ${leader}`, [part, frame, of], () =>
      withShorthand(
        withSigns(part, own, frame.bars),
        frame.bars,
        (bar) => lastAt(shorthand, frame.ticks[bar]!)?.use ?? 'written-out',
      ),
    );
  });
  const tabbed = signed.map((part, index) => {
    const { leader } = plans[index]!;
    const { frets } = decidedFor(decisions, leader);
    const strings = JSON.stringify([...decisions.strings]);
    return workings.keep(`frets ${leader}`, [part, frame, JSON.stringify(frets), strings], () =>
      withTablature(part, frets, decisions.strings, frame),
    );
  });
  const score: Score = {
    title: decisions.title ?? performance.title,
    ...creditsOf(decisions.credits, performance),
    bars: frame.bars,
    keys,
    tempos,
    ...(swings.length > 0 && { swings }),
    rehearsals: [...rehearsalMarks(sections, frame), ...chosenRehearsals(marked[0]?.offers ?? [], frame)],
    parts: tabbed.map(({ part }) => part),
    ...(brackets && { groups: brackets }),
  };
  const form = yield* telling(formOf(score, decisions.repeats, frame, workings), {
    done: of - 0.1,
    of,
    part: 'All parts together',
  });
  workings.turn();
  return {
    score,
    form,
    plans,
    readings: readings.map((reading, index) => ({
      ...reading,
      offers: marked[index]!.offers,
      unplayable: tabbed[index]!.unplayable,
    })),
    frame,
    swings,
    foundSwings: found,
    foundGroups,
    offset,
    account: accountFor(performance, used, hearings, counts),
    keyWhy,
    tonality,
    lostLyrics,
    placedBeyond,
  };
}

/** What the playing of all parts speaks for, and the parts with the marks of it that were chosen. */
function* markParts(
  parts: readonly Part[],
  readings: readonly Pick<PartReading, 'notes' | 'offers'>[],
  plans: readonly PartPlan[],
  strands: ReadonlyMap<string, Strand>,
  frame: Frame,
  decisions: Decisions,
  workings: Workings,
): Steps<{ part: Part; offers: MarkOffer[] }[]> {
  const own = plans.map((plan) => plan.strands.map((id) => strands.get(id)!));
  const loudness = plans.map((plan, index) =>
    workings.keep(`loudness ${plan.leader}`, [readings[index]!.notes, frame, ...own[index]!], () =>
      plan.instrument.unpitched ? [] : loudnessOfPart(readings[index]!.notes, own[index]!, frame),
    ),
  );
  const reluctance = reluctanceOf(decisions.all.marks);
  const together = yield* workings.keepInSteps('tutti', [frame, reluctance, ...loudness], () =>
    hearTutti(loudness, frame, reluctance),
  );
  const marked: { part: Part; offers: MarkOffer[] }[] = [];
  for (const [index, plan] of plans.entries()) {
    yield;
    const { leader } = plan;
    const choices = decidedFor(decisions, leader).marks;
    const offers = yield* workings.keepInSteps(
      `offers ${leader}`,
      [loudness[index], together, reluctanceOf(choices)],
      () =>
        offersOf(loudness[index]!, frame, reluctanceOf(choices), together, together.ensemble.over[index]!),
    );
    const touch = workings.keep(`touch ${leader}`, [loudness[index]], () =>
      plan.instrument.unpitched
        ? ghostOffers(readings[index]!.notes)
        : [
            ...touchOffers(readings[index]!.notes, own[index]!, frame),
            ...(plan.instrument.singleLine ? bendOffers(readings[index]!.notes, own[index]!, frame) : []),
          ],
    );
    const part = parts[index]!;
    const all = readings[index]!.offers;
    marked.push(
      workings.keep(`marked ${leader}`, [part, ...all, offers, touch, frame, JSON.stringify(choices)], () =>
        withMarks(part, [...all, ...offers, ...touch], choices, frame),
      ),
    );
  }
  return marked;
}

/** Runs a transcription without pause. */
export const transcribeNow = (performance: Performance, brief: Brief, workings?: Workings): Transcription =>
  finished(transcribe(performance, brief, workings));

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

/** Sounding time of each pitch class in each beat over all pitched strands, in quarter notes; what is held over beats counts in each. */
function pitchWeights(strands: readonly Strand[], frame: Frame, beats: readonly Beat[]): number[][] {
  const ticks = beats.map(({ start }) => tickOfMoment(frame, start));
  const weights = ticks.map(() => new Array<number>(12).fill(0));
  for (const { notes } of strands) {
    let beat = 0;
    for (const { on, off, key } of notes) {
      while (beat + 1 < ticks.length && ticks[beat + 1]! <= on) beat++;
      for (let at = beat; at < ticks.length && ticks[at]! < Math.max(off, on + 1); at++) {
        const end = ticks[at + 1] ?? Number.POSITIVE_INFINITY;
        const inside = Math.min(Math.max(off, on + 1), end) - Math.max(on, ticks[at]!);
        weights[at]![key % 12]! += inside / frame.clock.ticksPerQuarter;
      }
    }
  }
  return weights;
}

/** The same by bars. */
function inBars(
  weights: readonly (readonly number[])[],
  beats: readonly Beat[],
  { bars }: Frame,
): number[][] {
  const out = bars.map(() => new Array<number>(12).fill(0));
  weights.forEach((own, beat) => {
    const bar = out[beats[beat]!.bar]!;
    for (let pc = 0; pc < 12; pc++) bar[pc]! += own[pc]!;
  });
  return out;
}

function accountFor(
  performance: Performance,
  used: readonly Strand[],
  hearings: readonly Hearing[],
  counts: readonly HeadCounts[],
): Account {
  const count = (strands: readonly Strand[]) => strands.reduce((sum, { notes }) => sum + notes.length, 0);
  const taken = new Set(used);
  const account: Account = {
    notes: count(performance.strands) + performance.beyond,
    written: 0,
    graces: 0,
    merged: 0,
    marks: 0,
    leftOut: count(performance.strands.filter((strand) => !taken.has(strand))),
    unwritable: hearings.reduce((sum, hearing) => sum + hearing.unwritable.length, 0),
    beyond: performance.beyond,
  };
  for (const { written, graces, merged, marks } of counts) {
    account.written += written;
    account.graces += graces;
    account.merged += merged;
    account.marks += marks;
  }
  return account;
}
