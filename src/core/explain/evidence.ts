import { meanOf } from '../basics/average';
import { lateness } from '../infer/lead/lateness';
import { leadOf } from '../infer/lead/lead-of';
import { tempoAt } from '../model/clock';
import { type Frame, momentOf } from '../model/frame';
import { barIndexOf } from '../model/score';
import type { Attack } from '../model/sketch';
import { pairAt } from '../model/swing';
import { QUARTER } from '../model/time';
import type { PartReading, Transcription } from '../transcribe';

/** How attacks lie, for those who look at them together. */
export interface Evidence {
  /** Written place to played attack in milliseconds, attack by attack of one part. */
  deviations: number[];
  /** Place within its quarter note, 0 … 1, as played with the lead taken out but not the swing. */
  phases: number[];
  /** How far that part's attacks lie from the nearest slot of one grid throughout, on average; milliseconds. */
  grids: { slots: number; away: number }[];
  /** For each bar the quarter notes a minute at its start, and the middle of all parts' offbeats as a swing ratio: 16ths where those swing, else eighths. */
  bars: { bar: number; tempo: number; ratio: number | null }[];
}

/** Grids by how many slots a quarter has. */
const GRIDS = [2, 3, 4, 6, 8, 12];
/** Attacks about here in a quarter are offbeats, straight or swung; so many tell a ratio. */
const OFFBEAT = [0.42, 0.78] as const;
const ENOUGH = 3;

export function evidenceOf(result: Transcription, part: number): Evidence {
  const { frame, readings, swings, offset } = result;
  const reading = readings[part]!;
  const main = reading.attacks.filter((attack) => !attack.grace);
  const phases = main.map((attack) => phaseOf(attack, reading, frame, offset));
  const perQuarter = main.map((attack) => tempoAt(frame.clock, attack.tick) / 1e3);
  return {
    deviations: main.map((attack, index) => (lateness(attack, frame, swings) * perQuarter[index]!) / QUARTER),
    phases,
    grids: GRIDS.map((slots) => ({
      slots,
      away: meanOf(
        phases.map(
          (phase, index) =>
            (Math.abs(phase * slots - Math.round(phase * slots)) / slots) * perQuarter[index]!,
        ),
      ),
    })),
    bars: barsOf(result),
  };
}

function barsOf({ frame, readings, swings, offset }: Transcription): Evidence['bars'] {
  const pairs = frame.bars.map((_, bar) => (pairAt(swings, bar) || QUARTER) / QUARTER);
  const offbeats = frame.bars.map((): number[] => []);
  for (const reading of readings)
    for (const attack of reading.attacks) {
      const bar = barIndexOf(frame.bars, attack.start);
      const phase = (phaseOf(attack, reading, frame, offset) / pairs[bar]!) % 1;
      if (!attack.grace && phase > OFFBEAT[0] && phase < OFFBEAT[1]) offbeats[bar]!.push(phase);
    }
  return frame.ticks.map((tick, bar) => {
    const own = offbeats[bar]!.sort((a, b) => a - b);
    return {
      bar,
      tempo: 6e7 / tempoAt(frame.clock, tick),
      ratio: own.length < ENOUGH ? null : own[own.length >> 1]!,
    };
  });
}

/** Where an attack lies in its quarter, 0 … 1, with nothing but the lead taken out. */
function phaseOf(attack: Attack, { leads }: PartReading, frame: Frame, offset: number): number {
  const { strike } = attack.notes[0]!;
  const lead = leadOf(leads[strike.strand]!, strike);
  const at =
    momentOf(frame, attack.tick - offset) / QUARTER + (lead * 1e6) / tempoAt(frame.clock, attack.tick);
  const bar = frame.bars[barIndexOf(frame.bars, Math.max(0, at * QUARTER))]!;
  const phase = at - (bar.start - bar.missing) / QUARTER;
  return phase - Math.floor(phase);
}
