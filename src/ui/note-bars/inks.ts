import type { Colours } from './draw';
import { depthsOf, type Inks, mixed, pixelOf, type Rgb } from './raster';

/** Inks of the strands, one after the other; rubric red is kept for findings. */
const DAY_INKS: readonly Rgb[] = [
  [52, 42, 30],
  [24, 92, 82],
  [44, 56, 110],
  [104, 46, 84],
  [92, 84, 20],
  [40, 88, 122],
  [132, 80, 30],
  [64, 84, 60],
];
const NIGHT_INKS: readonly Rgb[] = [
  [226, 214, 190],
  [122, 204, 186],
  [150, 166, 232],
  [214, 150, 196],
  [206, 196, 110],
  [136, 190, 224],
  [226, 172, 112],
  [160, 194, 150],
];
const PAPER: Record<'day' | 'night', Rgb> = { day: [255, 253, 248], night: [31, 27, 20] };
const LINE: Record<'day' | 'night', Rgb> = { day: [207, 195, 170], night: [77, 68, 51] };

/** What sounds behind the notes, at its loudest. */
const SOUND: Record<'day' | 'night', Rgb> = { day: [190, 160, 96], night: [120, 102, 64] };
/** Of 255, the loudest of all: softer than this is not drawn; about 54 decibels below. */
const SOFTEST = 112;

/** The sound behind the notes by loudness; nothing where it is too soft. */
const soundOf = (paper: Rgb, sound: Rgb): Uint32Array =>
  Uint32Array.from({ length: 256 }, (_, value) =>
    value < SOFTEST ? 0 : pixelOf(mixed(paper, sound, ((value - SOFTEST) / (255 - SOFTEST)) ** 1.6)),
  );

const inksFor = (isNight: boolean) => (isNight ? NIGHT_INKS : DAY_INKS);

/** The ink of a strand by its index. */
export const inkOf = (isNight: boolean, index: number): Rgb =>
  inksFor(isNight)[index % inksFor(isNight).length]!;

/** Pixels for the drawing of notes. */
export function inksOf(isNight: boolean): Inks {
  const look = isNight ? 'night' : 'day';
  const paper = PAPER[look];
  return {
    paper: pixelOf(paper),
    wash: pixelOf(mixed(paper, LINE[look], 0.16)),
    guide: pixelOf(mixed(paper, LINE[look], 0.5)),
    depths: inksFor(isNight).map((ink) => depthsOf(paper, ink)),
    sound: soundOf(paper, SOUND[look]),
  };
}

/** Colours for what is drawn around the notes; the same as the page's variables. */
export const coloursOf = (isNight: boolean): Colours =>
  isNight
    ? {
        paper: '#1f1b14',
        ink: '#ece3d1',
        soft: '#c3b8a2',
        line: '#6a5e48',
        accent: '#5fb3a3',
        wash: '#21423b',
      }
    : {
        paper: '#fffdf8',
        ink: '#241e15',
        soft: '#5a5142',
        line: '#b9ab8e',
        accent: '#1f6f63',
        wash: '#dcebe5',
      };
