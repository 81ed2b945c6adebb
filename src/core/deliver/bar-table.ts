import Papa from 'papaparse';
import { lastAtOrBefore } from '../basics/search';
import type { PartPlan } from '../cast/route';
import { barsOfPiece, type ClockBar, type Meter, secondsAt, tempoAt } from '../model/clock';
import { isCompound } from '../model/meter';
import type { Performance } from '../model/performance';
import { framesOfCode, type Rate, timeCode } from './smpte';

/** One bar of the sheet that makes a bar number mean the same everywhere. */
export interface BarRow {
  /** Printed number; an upbeat is the bar before the first. */
  bar: number;
  tick: number;
  meter: string;
  /** Quarter notes a minute at the bar line. */
  tempo: number;
  /** What the players count, and how many of it there are in a minute: ♩. = 60 in 6/8. */
  beat: Beat;
  beatTempo: number;
  /** The tempo changes again inside the bar. */
  tempoMoves: boolean;
  seconds: number;
  /** Minutes:seconds.milliseconds. */
  time: string;
  timeCode: string;
  markers: string;
  /** Names of what sounds in it. */
  playing: string[];
}

/** The note that beats are counted in. */
export const BEATS = ['♪', '♪.', '♩', '♩.', '𝅗𝅥', '𝅗𝅥.', '𝅝'] as const;
export type Beat = (typeof BEATS)[number];

/** Lengths of the beats in quarter notes. */
const BEAT_QUARTERS: Record<Beat, number> = {
  '♪': 0.5,
  '♪.': 0.75,
  '♩': 1,
  '♩.': 1.5,
  '𝅗𝅥': 2,
  '𝅗𝅥.': 3,
  '𝅝': 4,
};

/** Half notes are counted in cut time and its like; elsewhere what the meter names, dotted where it is compound. */
function beatOf(meter: Meter): Beat {
  const quarters = (4 / meter.denominator) * (isCompound(meter) ? 3 : 1);
  return BEATS.find((beat) => BEAT_QUARTERS[beat] === quarters) ?? '♩';
}

/** Bars × tempo, meter, time and markers of a performance. */
export function barTable(
  performance: Performance,
  rate: Rate,
  start = '00:00:00:00',
  plans: readonly Pick<PartPlan, 'name' | 'strands'>[] = [],
): BarRow[] {
  const { clock, tempos, markers, end } = performance;
  const startFrames = framesOfCode(start, rate) ?? 0;
  let tempo = 0;
  let marker = 0;
  const bars = barsOfPiece(clock, end);
  const playing = playingIn(performance, plans, bars);
  return bars.map((bar) => {
    const last = bar.start + bar.length;
    let tempoMoves = false;
    for (; tempo < tempos.length && tempos[tempo]!.tick < last; tempo++)
      if (tempos[tempo]!.tick > bar.start) tempoMoves = true;
    const texts: string[] = [];
    for (; marker < markers.length && markers[marker]!.tick < last; marker++)
      texts.push(markers[marker]!.text);
    const seconds = secondsAt(clock, bar.start);
    const beat = beatOf(bar.meter);
    const tempoHere = 6e7 / tempoAt(clock, bar.start);
    return {
      bar: bar.number,
      tick: bar.start,
      meter: `${bar.meter.numerator}/${bar.meter.denominator}`,
      tempo: Math.round(1000 * tempoHere) / 1000,
      beat,
      beatTempo: Math.round((100 * tempoHere) / BEAT_QUARTERS[beat]) / 100,
      tempoMoves,
      seconds,
      time: clockTime(seconds),
      timeCode: timeCode(seconds, rate, startFrames),
      markers: texts.join(', '),
      playing: playing[bar.index] ?? [],
    };
  });
}

/** For each bar the parts that sound in it. */
function playingIn(
  { strands }: Performance,
  plans: readonly Pick<PartPlan, 'name' | 'strands'>[],
  bars: readonly ClockBar[],
): string[][] {
  const playing = bars.map((): string[] => []);
  for (const { name, strands: own } of plans) {
    const sounds = new Uint8Array(bars.length);
    for (const { id, notes } of strands) {
      if (!own.includes(id)) continue;
      for (const { on, off } of notes) {
        let bar = lastAtOrBefore(bars, on, (each) => each.start);
        for (; bar < bars.length && bars[bar]!.start < off; bar++) sounds[bar] = 1;
      }
    }
    sounds.forEach((does, bar) => {
      if (does) playing[bar]!.push(name);
    });
  }
  return playing;
}

/** Seconds as minutes:seconds.milliseconds. */
export function clockTime(seconds: number): string {
  const all = Math.round(seconds * 1000);
  const pad = (value: number, width: number) => String(value).padStart(width, '0');
  return `${Math.floor(all / 60_000)}:${pad(Math.floor(all / 1000) % 60, 2)}.${pad(all % 1000, 3)}`;
}

/** The table as CSV, with a heading line. */
export const barTableCsv = (rows: readonly BarRow[], rate: Rate): string =>
  Papa.unparse(
    rows.map((row) => ({
      Bar: row.bar,
      Meter: row.meter,
      'Quarters a minute': row.tempo,
      Beat: `${row.beat} = ${row.beatTempo}`,
      'Tempo changes inside': row.tempoMoves ? 'yes' : '',
      Time: row.time,
      [`Time code ${rate}`]: row.timeCode,
      Tick: row.tick,
      Markers: row.markers,
      Playing: row.playing.join(', '),
    })),
    // A text that opens like a formula would be one in a spreadsheet.
    { escapeFormulae: true },
  );
