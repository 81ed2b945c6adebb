import type { Brief } from '../brief/brief';
import { type Decisions, decide } from '../brief/decisions';
import type { Instrument } from '../instruments/catalogue';
import { tempoAt } from '../performance/clock';
import type { Performance, Strand, TextAt } from '../performance/performance';
import { type PartPlan, routeStrands } from '../roster/route';
import { showAccidentals } from '../score/accidentals';
import { beamVoice } from '../score/beams';
import { type KeySignature, keyInBar, type Part, type Score, writtenFifths } from '../score/score';
import { QUARTER } from '../score/time';
import { gatherAttacks, joinAttacks } from './attacks';
import { chooseClefs } from './clefs';
import { type Frame, frameBars, frameEnd } from './frame';
import { fitGrid, keepExact } from './grid';
import { splitHands } from './hands';
import { settleKey } from './key';
import { estimateLead, withoutLead } from './lead';
import { fitDrumLengths, fitLengths } from './lengths';
import { hangLyrics, rehearsalMarks, tempoMarks } from './marks';
import { notate, placeDrums } from './notate';
import type { Attack, SketchNote } from './sketch';
import { spell } from './spell';
import { measureTidiness } from './tidiness';
import { separateVoices } from './voices';

/** What happened to the source's notes; the others add up to `notes`. */
export interface Account {
  notes: number;
  /** Became a written note of their own. */
  written: number;
  /** Struck together with an equal key of the same part, so they share its note. */
  merged: number;
  /** In strands that are left out. */
  leftOut: number;
  /** Too low or too high for any staff (MusicXML writes octaves 0 to 9), as key switches are. */
  unwritable: number;
}

export interface Transcription {
  score: Score;
  plans: PartPlan[];
  /** For each part the seconds by which it sounds ahead of the beat and was moved back. */
  leads: number[];
  account: Account;
  keyWhy: string;
  /** Lyrics that found no note. */
  lostLyrics: TextAt[];
}

export interface Progress {
  done: number;
  of: number;
  /** The part just written. */
  part: string;
}

interface WrittenPart {
  /** The strands that it was written from, as they were. */
  from: Strand[];
  part: Part;
  lostLyrics: TextAt[];
  lead: number;
}

/**
 * Parts of one source as last written, by everything that they depend on;
 * pass the same one again to rewrite only what changed.
 */
export type PartCache = Map<string, WrittenPart>;

/** Expected spread of a written attack and the bounds of a played one, in seconds. */
const WRITTEN_SIGMA = 0.002;
const PLAYED_SIGMA = [0.008, 0.022] as const;

/**
 * Score = transcribe(performance, brief): sequencer to notation, step by step.
 * A generator, so that a worker can report progress and stop between parts.
 */
export function* transcribe(
  performance: Performance,
  brief: Brief,
  cache: PartCache = new Map(),
): Generator<Progress, Transcription> {
  const decisions = decide(brief);
  const plans = routeStrands(performance, decisions);
  const strands = new Map(performance.strands.map((strand) => [strand.id, strand]));
  const used = plans.flatMap((plan) => plan.strands.map((id) => strands.get(id)!));
  const frame = frameBars(performance, lastRelease(used));
  const { keys, why: keyWhy } = settleKey(performance.keys, pitchWeights(plans, strands), frame, decisions);
  const shared = JSON.stringify([
    frame.bars.length,
    performance.clock.firstBar,
    performance.clock.upbeat,
    keys,
  ]);
  const parts: Part[] = [];
  const leads: number[] = [];
  const { lyricsOf, homeless } = shareLyrics(performance, plans);
  const lostLyrics = [...homeless];
  const kept = new Set<string>();
  for (const plan of plans) {
    const lyrics = lyricsOf.get(plan) ?? [];
    const key = JSON.stringify([
      plan.strands,
      plan.instrument.id,
      plan.staves,
      plan.grid,
      lyrics.length,
      shared,
    ]);
    kept.add(key);
    const known = cache.get(key);
    const from = plan.strands.map((id) => strands.get(id)!);
    const written = known?.from.every((strand, index) => strand === from[index])
      ? known
      : writePart(plan, strands, frame, keys, lyrics);
    cache.set(key, written);
    lostLyrics.push(...written.lostLyrics);
    leads.push(written.lead);
    parts.push({ ...written.part, id: plan.id, name: plan.name, abbreviation: plan.abbreviation });
    yield { done: parts.length, of: plans.length, part: plan.name };
  }
  for (const key of cache.keys()) if (!kept.has(key)) cache.delete(key);
  const score: Score = {
    title: decisions.title ?? performance.title,
    bars: frame.bars,
    keys,
    tempos: tempoMarks(performance, frame),
    rehearsals: rehearsalMarks(performance.markers, frame),
    parts,
  };
  return {
    score,
    plans,
    leads,
    account: accountFor(performance, decisions, used, parts),
    keyWhy,
    lostLyrics,
  };
}

/** Runs a transcription without pause. */
export function transcribeNow(performance: Performance, brief: Brief, cache?: PartCache): Transcription {
  const run = transcribe(performance, brief, cache);
  for (;;) {
    const step = run.next();
    if (step.done) return step.value;
  }
}

function lastRelease(strands: readonly Strand[]): number {
  let last = 0;
  for (const strand of strands) for (const note of strand.notes) last = Math.max(last, note.off, note.on + 1);
  return last;
}

/** Sounding time of each pitch class over all pitched parts, in ticks. */
function pitchWeights(plans: readonly PartPlan[], strands: ReadonlyMap<string, Strand>): number[] {
  const weights = new Array<number>(12).fill(0);
  for (const plan of plans) {
    if (plan.instrument.unpitched) continue;
    for (const id of plan.strands)
      for (const note of strands.get(id)!.notes) weights[note.key % 12]! += Math.max(1, note.off - note.on);
  }
  return weights;
}

function writePart(
  plan: PartPlan,
  strands: ReadonlyMap<string, Strand>,
  frame: Frame,
  keys: readonly KeySignature[],
  lyrics: readonly TextAt[],
): WrittenPart {
  const { instrument } = plan;
  const secondsPerUnit = (tick: number) => tempoAt(frame.clock, tick) / 1e6 / QUARTER;
  const played = plan.strands.map((id) => sketchNotes(strands.get(id)!, instrument));
  const tidiness = measureTidiness(played.flat(), frame, secondsPerUnit);
  const lead = tidiness.attacks || instrument.unpitched ? 0 : estimateLead(played.flat(), frame);
  const raw = played.map((notes) => withoutLead(notes, lead, frame));
  const jitter = lead === 0 ? tidiness.jitter : measureTidiness(raw.flat(), frame, secondsPerUnit).jitter;
  const sigma = tidiness.attacks
    ? WRITTEN_SIGMA
    : Math.min(Math.max(jitter, PLAYED_SIGMA[0]), PLAYED_SIGMA[1]);
  // Two strands on two staves are two hands already; anything else is one body of notes.
  const handsKnown = plan.staves === 2 && raw.length === 2;
  const fitted: SketchNote[] = [];
  (handsKnown ? raw : [raw.flat()]).forEach((body, index) => {
    const gathered = gatherAttacks(body, frame, tidiness.attacks);
    const loose = tidiness.attacks ? keepExact(gathered, frame, plan.grid) : gathered;
    fitGrid(loose, frame, plan.grid, sigma, secondsPerUnit);
    const attacks = joinAttacks(gathered, frameEnd(frame));
    if (handsKnown) for (const note of body) note.staff = index + 1;
    else if (plan.staves === 2) splitHands(attacks);
    // Lengths are read hand by hand: the other hand's attacks end nothing.
    for (const hand of byStaff(attacks)) {
      if (instrument.unpitched) fitDrumLengths(hand, frame);
      else fitLengths(hand, frame, tidiness, instrument.singleLine);
    }
    for (const attack of attacks) fitted.push(...attack.notes);
  });
  for (let staff = 1; staff <= plan.staves; staff++)
    separateVoices(
      fitted.filter((note) => note.staff === staff),
      instrument.unpitched,
    );
  const bars = notate(fitted, frame.bars, plan.staves, instrument.unpitched);
  const keyByBar = frame.bars.map((_, bar) => {
    const key = keyInBar({ keys }, bar);
    return { fifths: writtenFifths(key.fifths, instrument.transposition), minor: key.minor };
  });
  const keyOf = (bar: number) => keyByBar[bar]!;
  if (instrument.unpitched) placeDrums(bars);
  else {
    spell(bars, instrument.transposition, keyOf);
    bars.forEach((bar, index) => {
      showAccidentals(bar, keyOf(index).fifths);
    });
  }
  bars.forEach((bar, index) => {
    for (const line of bar.voices) beamVoice(line.items, frame.bars[index]!);
  });
  const part: Part = {
    id: plan.id,
    name: plan.name,
    abbreviation: plan.abbreviation,
    instrument: instrument.id,
    transposition: instrument.transposition,
    clefs: chooseClefs(bars, instrument, plan.staves),
    bars,
  };
  const from = plan.strands.map((id) => strands.get(id)!);
  return { from, part, lostLyrics: hangLyrics(lyrics, bars, frame), lead };
}

/** The attacks of each staff by themselves. */
function byStaff(attacks: readonly Attack[]): Attack[][] {
  return [1, 2].map((staff) =>
    attacks
      .map((attack) => ({ ...attack, notes: attack.notes.filter((note) => note.staff === staff) }))
      .filter((attack) => attack.notes.length > 0),
  );
}

/** Whether a sounding key can be written for an instrument: C0 to B9. */
function isWritable(key: number, instrument: Instrument): boolean {
  const written = key - instrument.transposition.chromatic;
  return instrument.unpitched || (written >= 12 && written <= 131);
}

function sketchNotes(strand: Strand, instrument: Instrument): SketchNote[] {
  const writable = strand.notes.filter((note) => isWritable(note.key, instrument));
  return writable.map((note) => ({
    id: note.id,
    key: note.key,
    velocity: note.velocity,
    on: note.on,
    off: note.off,
    start: 0,
    end: 0,
    staff: 1,
    voice: 1,
    sources: [note.id],
  }));
}

/** Lyrics go to the part written from their own track; those of a track without notes to the first voice part. */
function shareLyrics(performance: Performance, plans: readonly PartPlan[]) {
  const trackOf = new Map(performance.strands.map((strand) => [strand.id, strand.track]));
  const lyricsOf = new Map<PartPlan, TextAt[]>();
  const homeless: TextAt[] = [];
  for (const lyric of performance.lyrics) {
    const plan =
      plans.find((each) => each.strands.some((id) => trackOf.get(id) === lyric.track)) ??
      plans.find((each) => each.instrument.family === 'voice');
    if (!plan) homeless.push(lyric);
    else lyricsOf.set(plan, [...(lyricsOf.get(plan) ?? []), lyric]);
  }
  return { lyricsOf, homeless };
}

function accountFor(
  performance: Performance,
  decisions: Decisions,
  used: readonly Strand[],
  parts: readonly Part[],
): Account {
  const total = performance.strands.reduce((sum, strand) => sum + strand.notes.length, 0);
  const taken = used.reduce((sum, strand) => sum + strand.notes.length, 0);
  let written = 0;
  let sources = 0;
  for (const part of parts)
    for (const bar of part.bars)
      for (const line of bar.voices)
        for (const item of line.items)
          if (item.kind === 'chord')
            for (const note of item.notes)
              if (!note.tieStop) {
                written++;
                sources += note.sources.length;
              }
  const leftOut = performance.strands
    .filter((strand) => decisions.strands.get(strand.id)?.out)
    .reduce((sum, strand) => sum + strand.notes.length, 0);
  return { notes: total, written, merged: sources - written, leftOut, unwritable: taken - sources };
}
