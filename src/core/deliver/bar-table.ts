import Papa from 'papaparse';
import { barsOfPiece, secondsAt, tempoAt } from '../model/clock';
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
  /** The tempo changes again inside the bar. */
  tempoMoves: boolean;
  seconds: number;
  /** Minutes:seconds.milliseconds. */
  time: string;
  timeCode: string;
  markers: string;
}

/** Bars × tempo, meter, time and markers of a performance. */
export function barTable(performance: Performance, rate: Rate, start = '00:00:00:00'): BarRow[] {
  const { clock, tempos, markers, end } = performance;
  const startFrames = framesOfCode(start, rate) ?? 0;
  let tempo = 0;
  let marker = 0;
  return barsOfPiece(clock, end).map((bar) => {
    const last = bar.start + bar.length;
    let tempoMoves = false;
    for (; tempo < tempos.length && tempos[tempo]!.tick < last; tempo++)
      if (tempos[tempo]!.tick > bar.start) tempoMoves = true;
    const texts: string[] = [];
    for (; marker < markers.length && markers[marker]!.tick < last; marker++)
      texts.push(markers[marker]!.text);
    const seconds = secondsAt(clock, bar.start);
    return {
      bar: bar.number,
      tick: bar.start,
      meter: `${bar.meter.numerator}/${bar.meter.denominator}`,
      tempo: Math.round(6e10 / tempoAt(clock, bar.start)) / 1000,
      tempoMoves,
      seconds,
      time: clockTime(seconds),
      timeCode: timeCode(seconds, rate, startFrames),
      markers: texts.join(', '),
    };
  });
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
      'Tempo changes inside': row.tempoMoves ? 'yes' : '',
      Time: row.time,
      [`Time code ${rate}`]: row.timeCode,
      Tick: row.tick,
      Markers: row.markers,
    })),
    // A text that opens like a formula would be one in a spreadsheet.
    { escapeFormulae: true },
  );
