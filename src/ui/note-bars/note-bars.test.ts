import { describe, expect, it } from 'vitest';
import { type BarAt, strandBars } from '../../../tests/helpers/strand-bars';
import { makeClock } from '../../core/model/clock';
import type { StrandBars } from '../../core/workbench/note-bars';
import { depthsOf, drawNotes, type Inks, mixed, notesBetween, pixelOf } from './raster';
import {
  barLines,
  gridDistance,
  keyOfY,
  layOutStrips,
  lowerBound,
  type View,
  within,
  xOf,
  yOfKey,
  zoomed,
} from './view';

const PAPER = [255, 255, 255] as const;
const INK = [0, 0, 0] as const;
const inks: Inks = {
  paper: pixelOf(PAPER),
  wash: pixelOf(PAPER),
  guide: pixelOf(PAPER),
  depths: [depthsOf(PAPER, INK)],
  sound: new Uint32Array(256),
};
const view: View = { start: 0, ticksPerPixel: 10, top: 0, row: 4 };

/** The x of inked pixels on the row of a key. */
function inked(strands: StrandBars[], look: View, key: number, width = 60): number[] {
  const { strips } = layOutStrips(strands, look.row);
  const height = 80;
  const pixels = new Uint32Array(width * height);
  drawNotes(pixels, width, height, 1, look, strips, inks);
  const y = Math.round(yOfKey(strips[0]!, key, look.row) - look.top);
  return [...Array(width).keys()].filter((x) => pixels[y * width + x] !== inks.paper);
}

describe('drawing notes', () => {
  it('puts a note where it sounds, with a hair of paper before the next', () => {
    expect(
      inked(
        [
          strandBars([
            [100, 200, 60],
            [200, 300, 60],
          ]),
        ],
        view,
        60,
      ),
    ).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18, 20, 21, 22, 23, 24, 25, 26, 27, 28]);
  });

  it('gives even the shortest note a pixel, however far away', () => {
    expect(inked([strandBars([[100, 101, 60]])], { ...view, ticksPerPixel: 50 }, 60)).toEqual([2]);
  });

  it('draws what began before the left edge and still sounds', () => {
    const bars: BarAt[] = [
      [0, 5000, 60],
      ...Array.from({ length: 200 }, (_, at): BarAt => [at * 10, at * 10 + 5, 72]),
    ];
    expect(inked([strandBars(bars)], { ...view, start: 4000 }, 60)).toHaveLength(60);
  });

  it('makes louder notes darker', () => {
    const depths = depthsOf(PAPER, INK);
    expect([...depths]).toEqual([...depths].sort((a, b) => b - a));
    expect(depths[127]).toBe(pixelOf(INK));
    expect(mixed(PAPER, INK, 0)).toEqual([255, 255, 255]);
  });

  it('finds all notes between two ticks and few beside', () => {
    const bars = Array.from({ length: 1000 }, (_, at): BarAt => [at * 10, at * 10 + 10, 60]);
    const [first, last] = notesBetween(strandBars(bars), 5000, 5100);
    expect(first).toBeLessThanOrEqual(500);
    expect(first).toBeGreaterThan(400);
    expect(last).toBe(510);
  });
});

describe('the view', () => {
  const clock = makeClock({ ticksPerQuarter: 480, meters: [{ tick: 0, numerator: 4, denominator: 4 }] });

  it('zooms around a pixel', () => {
    const closer = zoomed({ ...view, start: 1000 }, 40, 0.5, 10_000, 100);
    expect(xOf(closer, 1400)).toBeCloseTo(40);
    expect(closer.ticksPerPixel).toBe(5);
  });

  it('stays over the piece', () => {
    expect(within({ ...view, start: -50 }, 1000, 60).start).toBe(0);
    expect(within({ ...view, start: 9999 }, 1000, 60).start).toBe(700);
  });

  it('tells the key at a height, and the height of a key', () => {
    const { strips, height } = layOutStrips(
      [
        strandBars([
          [0, 10, 60],
          [0, 10, 72],
        ]),
        strandBars([[0, 10, 40]]),
      ],
      4,
    );
    for (const key of [60, 66, 72]) expect(keyOfY(strips[0]!, yOfKey(strips[0]!, key, 4) + 1, 4)).toBe(key);
    expect(strips[1]!.top).toBe(strips[0]!.height + 1);
    expect(height).toBe(strips[1]!.top + strips[1]!.height + 1);
  });

  it('thins bar lines to a readable distance and keeps bar 1', () => {
    expect(barLines(clock, { ...view, ticksPerPixel: 192 }, 200, 44).map((line) => line.number)).toEqual([
      1, 9, 17,
    ]);
    expect(barLines(clock, { ...view, ticksPerPixel: 20 }, 200, 44).map((line) => line.number)).toEqual([
      1, 2, 3,
    ]);
  });

  it('measures from the nearest sixteenth or triplet', () => {
    expect(gridDistance(clock, 483)).toEqual({ ticks: 3, slot: '16th' });
    expect(gridDistance(clock, 158)).toEqual({ ticks: -2, slot: 'triplet eighth' });
  });

  it('searches by halves', () => {
    expect([0, 1, 2, 3, 9].map((value) => lowerBound([1, 2, 2, 5], value))).toEqual([0, 0, 1, 3, 4]);
  });
});
