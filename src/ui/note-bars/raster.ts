import {
  PICTURE_BINS,
  PICTURE_LOWEST,
  PICTURE_ROW,
  type PitchPicture,
} from '../../core/recording/constant-q';
import { DOUBTFUL } from '../../core/recording/heard';
import type { StrandBars } from '../../core/workbench/note-bars';
import { lowerBound, type Strip, type View, yOfKey } from './view';

/** Colours as 32-bit pixels (ABGR, as canvas memory has them). */
export interface Inks {
  paper: number;
  /** Every other strip. */
  wash: number;
  /** Lines at each C. */
  guide: number;
  /** For each strand ink, 128 depths by velocity. */
  depths: readonly Uint32Array[];
  /** Sound behind the notes, from none to the loudest. */
  sound: Uint32Array;
}

/** A recording by pitch, to be drawn behind the notes. */
export interface Behind {
  picture: PitchPicture;
  /** Seconds of the recording at a place, in CSS pixels from the left. */
  secondsAt: (x: number) => number;
}

export type Rgb = readonly [number, number, number];

export const pixelOf = ([r, g, b]: Rgb): number => ((255 << 24) | (b << 16) | (g << 8) | r) >>> 0;

export const mixed = (from: Rgb, to: Rgb, share: number): Rgb => [
  Math.round(from[0] + (to[0] - from[0]) * share),
  Math.round(from[1] + (to[1] - from[1]) * share),
  Math.round(from[2] + (to[2] - from[2]) * share),
];

/** Loud is dark: 128 pixels from faint to full ink. */
export const depthsOf = (paper: Rgb, ink: Rgb): Uint32Array =>
  Uint32Array.from({ length: 128 }, (_, velocity) =>
    pixelOf(mixed(paper, ink, 0.28 + 0.72 * (velocity / 127))),
  );

const BLOCK = 64;
const latest = new WeakMap<StrandBars, Uint32Array>();

/** For each block of notes the latest release so far: where notes that began long ago may still sound. */
function latestReleases(strand: StrandBars): Uint32Array {
  const known = latest.get(strand);
  if (known) return known;
  const made = new Uint32Array(Math.ceil(strand.on.length / BLOCK));
  let last = 0;
  for (let at = 0; at < strand.off.length; at++) {
    last = Math.max(last, strand.off[at]!);
    made[Math.floor(at / BLOCK)] = last;
  }
  latest.set(strand, made);
  return made;
}

/** Indices of the notes that may be in sight between two ticks. */
export function notesBetween(strand: StrandBars, from: number, to: number): [first: number, last: number] {
  const end = lowerBound(strand.on, to);
  const block = lowerBound(latestReleases(strand), from);
  return [Math.min(block * BLOCK, end), end];
}

/**
 * Draws the notes in sight straight into pixels: at any zoom each note is at
 * least one pixel, so a piece of hundreds of thousands of notes costs no more
 * than its pixels.
 *
 * @param scale device pixels a CSS pixel; view and strips are in CSS pixels
 */
export function drawNotes(
  pixels: Uint32Array,
  width: number,
  height: number,
  scale: number,
  view: View,
  strips: readonly Strip[],
  inks: Inks,
  behind: Behind | null = null,
): void {
  pixels.fill(inks.paper);
  const perPixel = view.ticksPerPixel / scale;
  const from = view.start;
  const to = view.start + width * perPixel;
  for (const strip of strips) {
    const top = Math.round((strip.top - view.top) * scale);
    const bottom = Math.round((strip.top + strip.height - view.top) * scale);
    if (bottom <= 0) continue;
    if (top >= height) break;
    if (strip.index % 2 === 1)
      pixels.fill(inks.wash, Math.max(0, top) * width, Math.min(height, bottom) * width);
    if (behind) drawSound(pixels, width, height, scale, view, strip, inks, behind);
    const { strand } = strip;
    const row = view.row * scale;
    const depths = inks.depths[strip.index % inks.depths.length]!;
    for (let key = Math.ceil(strand.lowest / 12) * 12; key <= strand.highest; key += 12) {
      const y = Math.round((yOfKey(strip, key, view.row) - view.top) * scale + row) - 1;
      if (y >= 0 && y < height) pixels.fill(inks.guide, y * width, (y + 1) * width);
    }
    const thickness = Math.max(1, Math.round(row) - (row >= 4 ? 1 : 0));
    const [first, last] = notesBetween(strand, from, to);
    const base = (yOfKey(strip, 0, view.row) - view.top) * scale;
    const { on, off, key, velocity, sure } = strand;
    for (let at = first; at < last; at++) {
      const release = off[at]!;
      if (release <= from && on[at]! < from) continue;
      const y = Math.round(base - key[at]! * row);
      if (y + thickness <= 0 || y >= height) continue;
      let x0 = Math.round((on[at]! - from) / perPixel);
      let x1 = Math.round((release - from) / perPixel);
      // A hair of paper parts repeated notes.
      if (x1 - x0 > 4) x1--;
      if (x1 <= x0) x1 = x0 + 1;
      if (x0 < 0) x0 = 0;
      if (x1 > width) x1 = width;
      if (x1 <= x0) continue;
      const ink = depths[velocity[at]!]!;
      const lowest = Math.min(height, y + thickness);
      for (let line = Math.max(0, y); line < lowest; line++)
        pixels.fill(ink, line * width + x0, line * width + x1);
      // What is doubtful is hollow.
      if (!sure || sure[at]! >= DOUBTFUL * 100 || x1 - x0 < 3 || thickness < 3) continue;
      for (let line = Math.max(0, y + 1); line < Math.min(height, y + thickness - 1); line++)
        pixels.fill(inks.paper, line * width + x0 + 1, line * width + x1 - 1);
    }
  }
}

/** Draws what sounds behind a strip: its pitches on the rows of their keys, by third of a semitone. */
function drawSound(
  pixels: Uint32Array,
  width: number,
  height: number,
  scale: number,
  view: View,
  strip: Strip,
  inks: Inks,
  { picture, secondsAt }: Behind,
): void {
  const { values, count, perSecond } = picture;
  const top = Math.max(0, Math.round((strip.top - view.top) * scale));
  const bottom = Math.min(height, Math.round((strip.top + strip.height - view.top) * scale));
  const moments = Int32Array.from({ length: width }, (_, x) => {
    const moment = Math.round(secondsAt(x / scale) * perSecond);
    return moment >= 0 && moment < count ? moment * PICTURE_ROW : -1;
  });
  const base = yOfKey(strip, 0, view.row) - view.top;
  for (let y = top; y < bottom; y++) {
    // The rows of a key reach from its top down: its middle third is its pitch.
    const key = (base + view.row - (y + 0.5) / scale) / view.row;
    const bin = Math.floor((key - PICTURE_LOWEST) * PICTURE_BINS);
    if (bin < 0 || bin >= PICTURE_ROW) continue;
    for (let x = 0; x < width; x++) {
      const moment = moments[x]!;
      const ink = moment < 0 ? 0 : inks.sound[values[moment + bin]!]!;
      if (ink !== 0) pixels[y * width + x] = ink;
    }
  }
}
