import { eachInSteps, finished, type Steps } from '../basics/steps';
import type { Decisions } from '../decisions/decisions';
import { recogniseInstrument } from '../instruments/recognise';
import { barsOfPiece, secondsAt } from '../model/clock';
import type { StrandId } from '../model/ids';
import type { Mend } from '../model/mend';
import type { ControllerUse, NoteFreeTrack, Performance, Strand } from '../model/performance';
import type { Division, Encoding, Smf } from '../sources/smf/events';
import { encodingOf } from '../sources/smf/performance';
import { type LaneUse, listControllers } from './controllers';
import { type Double, doublesInSteps } from './doubles';
import { type Oddity, odditiesInSteps } from './oddities';
import { type Place, placeAt } from './place';

export interface StrandEntry {
  id: StrandId;
  /** From 1, as people count. */
  track: number;
  channel: number;
  port: number | null;
  name: string;
  /** What tells a piece of a split strand from the others; empty for a whole one. */
  piece: string;
  notes: number;
  /** MIDI keys. */
  lowest: number;
  highest: number;
  /** Lowest and highest, 1–127. */
  velocities: [number, number];
  most: number;
  /** 1–128, as people count. */
  programs: number[];
  banks: number[];
  controllers: ControllerUse[];
  pitchBends: number;
  hanging: number;
  stacked: number;
  firstBar: number;
  lastBar: number;
  guess: {
    instrument: string;
    name: string;
    id: string;
    /** "2", "1+2", or null where the name gives none. */
    number: string | null;
    /** "pizzicato", or null where the name says nothing. */
    technique: string | null;
    confidence: number;
    why: string;
    /** MusicXML sound ids of what it may be else, the likeliest first. */
    alternatives: string[];
  };
}

/** Everything a file holds, counted and placed; plain data (docs/inspect.md). */
export interface Inventory {
  /** How a file of events counts and encodes its texts; null for what is none. */
  format: 0 | 1 | 2 | null;
  division: Division | null;
  encoding: Encoding | null;
  title: string;
  clock: {
    ticksPerQuarter: number;
    endTick: number;
    seconds: number;
    bars: number;
    tempos: (Place & { quartersPerMinute: number })[];
    meters: (Place & { numerator: number; denominator: number })[];
    keys: (Place & { fifths: number; mode: 'major' | 'minor' })[];
    markers: (Place & { text: string })[];
  };
  lyrics: number;
  strands: StrandEntry[];
  noteFree: NoteFreeTrack[];
  controllers: LaneUse[];
  doubles: Double[];
  oddities: Oddity[];
  mends: Mend[];
}

/** Takes stock of a file, as far as the decisions about it have cleaned it. */
export function* stockInSteps(
  file: Smf | null,
  performance: Performance,
  decisions: Decisions,
  mayBeOdd = true,
): Steps<Inventory> {
  const { clock } = performance;
  // What a score doubles was written so, and what is odd in playing is not asked of it.
  const doubles = !mayBeOdd ? [] : yield* doublesInSteps(performance);
  const oddities = !mayBeOdd ? [] : yield* odditiesInSteps(performance, decisions);
  const strands = yield* eachInSteps(performance.strands, entryOf);
  yield;
  const place = (tick: number): Place => placeAt(clock, tick);
  return {
    format: file?.format ?? null,
    division: file?.division ?? null,
    encoding: file && encodingOf(file),
    title: performance.title,
    clock: {
      ticksPerQuarter: clock.ticksPerQuarter,
      endTick: performance.end,
      seconds: secondsAt(clock, performance.end),
      bars: barsOfPiece(clock, performance.end).length,
      tempos: performance.tempos.map((tempo) => ({
        ...place(tempo.tick),
        quartersPerMinute: Math.round(6e10 / tempo.microsPerQuarter) / 1000,
      })),
      meters: performance.meters.map(({ tick, numerator, denominator }) => ({
        ...place(tick),
        numerator,
        denominator,
      })),
      keys: performance.keys.map((key) => ({
        ...place(key.tick),
        fifths: key.fifths,
        mode: key.minor ? 'minor' : 'major',
      })),
      markers: performance.markers.map((marker) => ({ ...place(marker.tick), text: marker.text })),
    },
    lyrics: performance.lyrics.length,
    strands,
    noteFree: performance.noteFree,
    controllers: listControllers(performance),
    doubles,
    oddities,
    mends: performance.mends,
  };
}

/** Takes stock without a pause. */
export const takeStock = (file: Smf | null, performance: Performance, decisions: Decisions): Inventory =>
  finished(stockInSteps(file, performance, decisions));

function entryOf(strand: Strand): StrandEntry {
  const guess = recogniseInstrument(strand);
  return {
    id: strand.id,
    track: strand.track + 1,
    channel: strand.channel + 1,
    port: strand.port,
    name: strand.name,
    piece: strand.piece ?? '',
    notes: strand.notes.length,
    lowest: strand.lowest,
    highest: strand.highest,
    velocities: velocitiesOf(strand),
    most: strand.most,
    programs: strand.programs.map((program) => program + 1),
    banks: strand.banks,
    controllers: strand.controllers,
    pitchBends: strand.pitchBends,
    hanging: strand.notes.filter((note) => note.hanging).length,
    stacked: strand.notes.filter((note) => note.stacked).length,
    firstBar: strand.firstBar,
    lastBar: strand.lastBar,
    guess: {
      instrument: guess.instrument.sound,
      name: guess.instrument.name,
      id: guess.instrument.id,
      number: guess.players.length > 0 ? guess.players.join('+') : null,
      technique: guess.technique,
      confidence: guess.confidence,
      why: guess.why,
      alternatives: guess.alternatives.map(({ sound }) => sound),
    },
  };
}

function velocitiesOf({ notes }: Strand): [number, number] {
  let low = 127;
  let high = 1;
  for (const { velocity } of notes) {
    low = Math.min(low, velocity);
    high = Math.max(high, velocity);
  }
  return [low, high];
}
