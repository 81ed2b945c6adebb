import type { Mode, Stroke } from './synthesis';

const drum = (hertz: number, to: number, dies: number, noise = 0.15, high = 3000): Stroke => ({
  modes: [
    { hertz, to, level: 1, dies },
    { hertz: hertz * 1.6, to: to * 1.59, level: 0.35, dies: dies * 0.6 },
    { hertz: hertz * 2.2, to: to * 2.14, level: 0.18, dies: dies * 0.4 },
  ],
  noise: [{ level: noise, low: 200, high, dies: 0.05 }],
  seconds: Math.min(0.9, dies),
});

/** Many modes that fit no series, as metal plates have. */
const metal = (from: number, dies: number, brightness: number, more: Partial<Stroke> = {}): Stroke => ({
  modes: [1, 1.34, 1.83, 2.27, 2.71, 3.17, 3.89, 4.61, 5.43, 6.2].map(
    (ratio, index): Mode => ({
      hertz: from * ratio,
      level: 0.16 * brightness ** index,
      dies: dies / (1 + 0.12 * index),
    }),
  ),
  noise: [{ level: 0.3, low: from * 2, high: 14_000, dies: dies * 0.8 }],
  seconds: Math.min(1.5, dies),
  ...more,
});

const block = (hertz: number, dies = 0.12): Stroke => ({
  modes: [
    { hertz, level: 1, dies },
    { hertz: hertz * 2.55, level: 0.3, dies: dies * 0.6 },
  ],
  noise: [{ level: 0.1, low: 1000, high: 8000, dies: 0.01 }],
  seconds: Math.max(0.1, dies),
});

const shaken = (low: number, dies: number, level = 1): Stroke => ({
  noise: [{ level, low, high: 14_000, dies }],
  seconds: dies,
});

const snare = (hertz: number, wires: number, dies: number): Stroke => ({
  modes: [
    { hertz: hertz * 1.3, to: hertz, level: 0.9, dies: 0.18 },
    { hertz: hertz * 1.8, level: 0.4, dies: 0.12 },
  ],
  noise: [{ level: wires, low: 1200, high: 11_000, dies }],
  seconds: dies,
});

const scraped = (strokes: number, gap: number): Stroke => ({
  noise: Array.from({ length: strokes }, (_, at) => ({
    level: 0.7,
    low: 1800,
    high: 7000,
    dies: 0.03,
    after: at * gap,
  })),
  seconds: strokes * gap + 0.05,
});

/** The strokes of the General MIDI Level 1 percussion key map, by key. */
// biome-ignore format: a table, one key a line
export const STROKES: Readonly<Record<number, Stroke>> = {
  35: drum(110, 46, 0.45, 0.1, 1500),
  36: drum(140, 54, 0.4, 0.18, 2500),
  37: block(900, 0.07),
  38: snare(190, 0.55, 0.28),
  39: { noise: [0, 0.011, 0.022].map((after) => ({ level: 0.7, low: 700, high: 6000, dies: 0.12, after })), seconds: 0.22 },
  40: snare(230, 0.45, 0.22),
  41: drum(110, 82, 0.7),
  42: metal(3800, 0.09, 0.9, { seconds: 0.1 }),
  43: drum(130, 98, 0.65),
  44: metal(3500, 0.07, 0.85, { seconds: 0.08 }),
  45: drum(155, 116, 0.6),
  46: metal(3700, 0.7, 0.92, { seconds: 0.6 }),
  47: drum(180, 138, 0.55),
  48: drum(210, 164, 0.5),
  49: metal(620, 2.6, 0.95),
  50: drum(250, 196, 0.45),
  51: metal(900, 1.8, 0.85, { noise: [{ level: 0.08, low: 3000, high: 14_000, dies: 0.9 }] }),
  52: metal(480, 1.6, 0.98),
  53: { modes: [{ hertz: 1450, level: 1, dies: 1.4 }, { hertz: 2180, level: 0.6, dies: 1.1 }, { hertz: 3470, level: 0.4, dies: 0.8 }], seconds: 1.1 },
  54: { ...shaken(5000, 0.22), modes: [{ hertz: 5200, level: 0.3, dies: 0.2 }, { hertz: 7100, level: 0.3, dies: 0.16 }] },
  55: metal(1100, 0.9, 0.94),
  56: { modes: [{ hertz: 562, level: 1, dies: 0.3 }, { hertz: 845, level: 0.9, dies: 0.25 }], seconds: 0.32 },
  57: metal(700, 2.3, 0.94),
  58: scraped(22, 0.018),
  59: metal(1000, 1.6, 0.84, { noise: [{ level: 0.08, low: 3500, high: 14_000, dies: 0.8 }] }),
  60: drum(400, 370, 0.18, 0.1, 5000),
  61: drum(300, 280, 0.2, 0.1, 5000),
  62: drum(330, 310, 0.12, 0.2, 4000),
  63: drum(300, 280, 0.32, 0.1, 4000),
  64: drum(210, 195, 0.36, 0.1, 4000),
  65: drum(390, 370, 0.4, 0.3, 8000),
  66: drum(290, 275, 0.45, 0.3, 8000),
  67: { modes: [{ hertz: 920, level: 1, dies: 0.4 }, { hertz: 2480, level: 0.4, dies: 0.3 }], seconds: 0.4 },
  68: { modes: [{ hertz: 690, level: 1, dies: 0.45 }, { hertz: 1860, level: 0.4, dies: 0.3 }], seconds: 0.45 },
  69: shaken(6000, 0.12),
  70: shaken(4500, 0.08),
  71: { modes: [{ hertz: 2300, to: 2350, level: 1, dies: 0.5 }], noise: [{ level: 0.3, low: 1500, high: 6000, dies: 0.2 }], seconds: 0.2 },
  72: { modes: [{ hertz: 2200, to: 2300, level: 1, dies: 2 }], noise: [{ level: 0.3, low: 1500, high: 6000, dies: 0.8 }], seconds: 0.6 },
  73: scraped(6, 0.014),
  74: scraped(20, 0.02),
  75: block(2400, 0.08),
  76: block(1050, 0.11),
  77: block(780, 0.13),
  78: drum(520, 640, 0.18, 0.1, 3000),
  79: drum(560, 380, 0.3, 0.1, 3000),
  80: { modes: [{ hertz: 4200, level: 1, dies: 0.12 }, { hertz: 6900, level: 0.6, dies: 0.1 }], seconds: 0.14 },
  81: { modes: [{ hertz: 4200, level: 1, dies: 2.4 }, { hertz: 6900, level: 0.6, dies: 2 }, { hertz: 9300, level: 0.3, dies: 1.6 }], seconds: 1.4 },
};
