import type { StrandBars } from '@/core/workbench/note-bars';

/** Ticks, MIDI key; velocity 127 where none is given. */
export type BarAt = [on: number, off: number, key: number, velocity?: number];

/** A strand as the note bars are given it, of notes in order of their attacks. */
export function strandBars(bars: readonly BarAt[]): StrandBars {
  const keys = bars.map((bar) => bar[2]);
  return {
    id: '1/t1c1',
    name: '',
    piece: '',
    part: '',
    track: 1,
    channel: 1,
    unpitched: false,
    out: false,
    lowest: Math.min(...keys),
    highest: Math.max(...keys),
    on: Uint32Array.from(bars, (bar) => bar[0]),
    off: Uint32Array.from(bars, (bar) => bar[1]),
    key: Uint8Array.from(keys),
    velocity: Uint8Array.from(bars, (bar) => bar[3] ?? 127),
    event: Uint32Array.from(bars, (_, index) => index),
    sure: null,
    lanes: [],
  };
}
