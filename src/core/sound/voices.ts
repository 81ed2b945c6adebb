import type { Voice } from './synthesis';

/** A voice with what a sampler needs besides: registers, envelope, vibrato. */
export interface Timbre extends Voice {
  /** Lowest and highest root key, and semitones between roots. */
  roots: [low: number, high: number, step: number];
  /** Seconds before the loop, and of the loop. */
  attack: number;
  loop: number;
  /** Seconds to fade in, and to fade out after release. */
  fadeIn?: number;
  release: number;
  /** Struck: seconds for the note to die at middle C; lower notes ring longer. */
  dies?: number;
  vibrato?: { hertz: number; cents: number; delay: number };
  /** Strokes a second of a tremolo. */
  tremolo?: number;
  /** Decibels softer than the others. */
  softer?: number;
}

/** A slope in decibels an octave. */
const slope = (decibels: number) => (number: number) => number ** (-decibels / 6.02);

/** A resonance of the body. */
const formant = (hertz: number, centre: number, width: number, lift: number): number =>
  1 + lift * Math.exp(-(((hertz - centre) / width) ** 2));

const odd = (number: number, even: number): number => (number % 2 === 1 ? 1 : even);

/** Only the partials up to a frequency, falling steeply above it. */
const below = (hertz: number, limit: number): number => 1 / (1 + (hertz / limit) ** 4);

const held = (more: Partial<Timbre> & Pick<Timbre, 'partial' | 'roots'>): Timbre => ({
  attack: 0.12,
  loop: 0.08,
  rises: 0.02,
  release: 0.12,
  ...more,
});

const struck = (more: Partial<Timbre> & Pick<Timbre, 'partial' | 'roots'>): Timbre => ({
  attack: 0.3,
  loop: 0.08,
  dims: 0.7,
  dies: 3,
  release: 0.25,
  ...more,
});

/** A bow or a breath, moved a little after a moment. */
const VIBRATO = { hertz: 5.2, cents: 7, delay: 0.45 };

const bowed = (low: number, high: number, body: number): Timbre =>
  held({
    roots: [low, high, 11],
    partial: (number, hertz) =>
      slope(5.5)(number) *
      formant(hertz, body, body * 0.35, 1.2) *
      formant(hertz, 2600, 900, 0.9) *
      below(hertz, 7000),
    rises: 0.035,
    noise: { level: 0.05, low: 900, high: 6000 },
    vibrato: VIBRATO,
    release: 0.16,
  });

const reed = (low: number, high: number, more: Partial<Timbre> & Pick<Timbre, 'partial'>): Timbre =>
  held({
    roots: [low, high, 11],
    noise: { level: 0.015, low: 1500, high: 7000 },
    vibrato: { ...VIBRATO, cents: 4 },
    ...more,
  });

const brass = (low: number, high: number, limit: number): Timbre =>
  held({
    roots: [low, high, 11],
    partial: (number, hertz) => slope(2.2)(number) * below(hertz, limit),
    rises: 0.045,
    noise: { level: 0.2, low: 300, high: 2500, dies: 0.05 },
    vibrato: { ...VIBRATO, cents: 3 },
  });

const flute = (low: number, high: number, air: number): Timbre =>
  held({
    roots: [low, high, 12],
    partial: (number) => [1, 0.35, 0.16, 0.05, 0.03, 0.012][number - 1] ?? 0,
    rises: 0.03,
    noise: { level: air, low: 1200, high: 7000 },
    vibrato: VIBRATO,
  });

const strings = (limit: number, spread: number, more: Partial<Timbre> = {}): Timbre =>
  held({
    roots: [30, 90, 12],
    partial: (number, hertz) => slope(5)(number) * formant(hertz, 900, 500, 0.5) * below(hertz, limit),
    spread,
    loop: 0.3,
    rises: 0.05,
    fadeIn: 0.06,
    release: 0.3,
    ...more,
  });

const vowel = (first: number, second: number): Timbre =>
  held({
    roots: [42, 82, 10],
    partial: (number, hertz) =>
      slope(7)(number) * (0.15 + formant(hertz, first, 130, 3.2) - 1 + formant(hertz, second, 200, 1.5) - 1),
    spread: 14,
    loop: 0.3,
    rises: 0.07,
    fadeIn: 0.07,
    noise: { level: 0.03, low: 800, high: 5000 },
    release: 0.3,
  });

const guitar = (low: number, high: number, more: Partial<Timbre> = {}): Timbre =>
  struck({
    roots: [low, high, 12],
    // A string plucked at a fifth of its length lacks each fifth partial.
    partial: (number) => Math.abs(Math.sin((Math.PI * number) / 5)) * slope(5)(number),
    dims: 1.1,
    dies: 3.2,
    release: 0.18,
    ...more,
  });

const organ = (bars: readonly number[], more: Partial<Timbre> = {}): Timbre =>
  held({
    roots: [36, 96, 12],
    // Drawbars sound sub-octave, fifth, unison and up: here as partials of the sub-octave.
    ratios: [0.5, 1.5, 1, 2, 3, 4, 5, 6, 8],
    partial: (number) => (bars[number - 1] ?? 0) / 8,
    rises: 0.004,
    loop: 0.2,
    release: 0.06,
    ...more,
  });

const synth = (wave: (number: number) => number, limit: number, more: Partial<Timbre> = {}): Timbre =>
  held({
    roots: [34, 90, 14],
    partial: (number, hertz) => wave(number) * below(hertz, limit),
    rises: 0.006,
    loop: 0.25,
    ...more,
  });
const saw = (number: number): number => 1 / number;
const square = (number: number): number => odd(number, 0) / number;
const triangle = (number: number): number => odd(number, 0) / (number * number);

const bar = (ratios: number[], levels: number[], low: number, high: number, more: Partial<Timbre>): Timbre =>
  struck({ roots: [low, high, 12], ratios, partial: (number) => levels[number - 1] ?? 0, ...more });

const KNOCK = { level: 0.5, low: 500, high: 5000, dies: 0.012 };

/**
 * The timbres that the programs are made of. Spectra follow how the
 * instruments work (odd partials of a stopped pipe, stretched partials of a
 * stiff string, modes of a tuned bar 1 : 3.9 : 9.2), drawn by ear; they are a
 * stand-in for a sound module, not a likeness of any.
 */
// biome-ignore format: a table, one timbre an entry
export const TIMBRES = {
  piano: struck({ roots: [26, 98, 12], partial: (number, hertz) => Math.abs(Math.sin((Math.PI * number) / 8)) * slope(5.5)(number) * below(hertz,
    5200), stiffness: 0.00025, dims: 0.55, dies: 5, attack: 0.45, noise: { level: 0.22, low: 200, high: 2500, dies: 0.02 } }),
  tines: struck({ roots: [32, 92, 12], ratios: [1, 2, 3, 7.1, 14.2], partial: (n) => [1, 0.25, 0.06, 0.09, 0.05][n - 1] ?? 0, dims: 1.4, dies: 4 }),
  harpsichord: struck({ roots: [34, 88, 11], partial: (n, hz) => slope(2)(n) * below(hz, 7000), dims: 0.3, dies: 2.6, noise: { ...KNOCK,
    high: 9000 }, softer: 4 }),
  clav: struck({ roots: [34, 84, 12], partial: (n, hz) => Math.abs(Math.sin(n / 2.2)) * slope(3)(n) * below(hz, 5000), dims: 0.6, dies: 2,
    release: 0.05, softer: 2 }),
  celesta: bar([1, 3.9, 9.2], [1, 0.16, 0.05], 60, 100, { dims: 3, dies: 2.5, noise: KNOCK }),
  glockenspiel: bar([1, 2.76, 5.4, 8.9], [1, 0.35, 0.15, 0.06], 72, 104, { dims: 1, dies: 4, noise: { ...KNOCK, high: 9000 } }),
  vibraphone: bar([1, 3.98, 9.9], [1, 0.22, 0.04], 48, 92, { dims: 2, dies: 5, tremolo: 0 }),
  marimba: bar([1, 3.93, 9.2], [1, 0.3, 0.1], 40, 96, { dims: 7, dies: 1.2, noise: { ...KNOCK, high: 2500 } }),
  xylophone: bar([1, 3, 6], [1, 0.45, 0.2], 60, 104, { dims: 4, dies: 0.7, noise: KNOCK }),
  tubular: bar([1, 2.0, 3.01, 4.17, 5.43, 6.8], [0.6, 1, 0.7, 0.5, 0.3, 0.2], 52, 84, { dims: 0.4, dies: 6 }),
  dulcimer: struck({ roots: [46, 88, 11], partial: (n) => slope(4)(n), dims: 0.8, dies: 2.4, spread: 5, loop: 0.3, noise: KNOCK }),
  drawbars: organ([5, 3, 8, 8, 3, 4, 1, 1, 2]),
  percussiveOrgan: organ([4, 2, 8, 2, 6, 0, 0, 0, 0], { noise: { level: 0.4, low: 800, high: 4000, dies: 0.02 } }),
  rockOrgan: organ([8, 8, 8, 5, 3, 4, 3, 4, 6], { tremolo: 6 }),
  churchOrgan: organ([6, 1, 8, 8, 4, 7, 2, 3, 5], { spread: 4, loop: 0.35, rises: 0.03, release: 0.5, noise: { level: 0.02, low: 1000, high: 6000 } }),
  reedOrgan: synth((n) => slope(3.5)(n), 4000, { rises: 0.03, spread: 3, loop: 0.3 }),
  accordion: synth((n) => slope(2.5)(n) * odd(n, 0.6), 4500, { rises: 0.03, spread: 9, loop: 0.3 }),
  harmonica: synth((n) => slope(3)(n) * odd(n, 0.5), 4500, { roots: [50, 90, 10], rises: 0.03, vibrato: VIBRATO, noise: { level: 0.02, low: 1500,
    high: 6000 } }),
  nylon: guitar(36, 84, { noise: { level: 0.25, low: 200, high: 2500, dies: 0.012 } }),
  steel: guitar(36, 88, { partial: (n) => Math.abs(Math.sin((Math.PI * n) / 7)) * slope(3.6)(n), dims: 0.7, noise: { level: 0.25, low: 800,
    high: 7000, dies: 0.01 } }),
  jazzGuitar: guitar(36, 84, { partial: (n, hz) => Math.abs(Math.sin((Math.PI * n) / 4)) * slope(6)(n) * below(hz, 2000), dims: 1, dies: 3 }),
  cleanGuitar: guitar(36, 88, { partial: (n, hz) => Math.abs(Math.sin((Math.PI * n) / 6)) * slope(4)(n) * below(hz, 4500), dims: 0.7, dies: 4 }),
  mutedGuitar: guitar(36, 84, { dims: 4, dies: 0.35, partial: (n, hz) => slope(4)(n) * below(hz, 2500), release: 0.05 }),
  overdriven: synth((n) => slope(3.5)(n) * odd(n, 0.7), 3500, { roots: [36, 84, 10], rises: 0.005, dims: 0, softer: 3 }),
  distorted: synth((n) => slope(2)(n) * odd(n, 0.8), 4500, { roots: [36, 84, 10], rises: 0.003, spread: 2, loop: 0.25, softer: 4 }),
  harmonics: struck({ roots: [52, 92, 12], partial: (n) => [1, 0.3, 0.1, 0.04][n - 1] ?? 0, dims: 2, dies: 3 }),
  doubleBass: guitar(26, 56, { roots: [26, 56, 8], partial: (n, hz) => slope(5.5)(n) * below(hz, 1800), dims: 1.6, dies: 1.7, noise: { level: 0.3,
    low: 100, high: 1800, dies: 0.02 } }),
  fingeredBass: guitar(24, 60, { partial: (n, hz) => Math.abs(Math.sin((Math.PI * n) / 4.5)) * slope(5)(n) * below(hz, 2200), dims: 1, dies: 3 }),
  pickedBass: guitar(24, 60, { partial: (n, hz) => Math.abs(Math.sin((Math.PI * n) / 9)) * slope(3)(n) * below(hz, 4500), dims: 0.9, dies: 2.6,
    noise: { level: 0.2, low: 1000, high: 6000, dies: 0.008 } }),
  fretless: guitar(24, 60, { partial: (n, hz) => slope(5)(n) * formant(hz, 700, 300, 0.8) * below(hz, 1800), dims: 0.5, dies: 4,
    vibrato: { hertz: 4.5, cents: 6, delay: 0.4 } }),
  slapBass: guitar(24, 60, { partial: (n, hz) => slope(2.4)(n) * below(hz, 6000), dims: 1.3, dies: 2, noise: { level: 0.5, low: 1500, high: 8000,
    dies: 0.01 } }),
  synthBass: struck({ roots: [24, 60, 12], partial: (n, hz) => saw(n) * below(hz, 2500), dims: 0.8, dies: 2.5, release: 0.08 }),
  squareBass: struck({ roots: [24, 60, 12], partial: (n, hz) => square(n) * below(hz, 1800), dims: 0.6, dies: 3, release: 0.08 }),
  violin: bowed(55, 100, 480),
  viola: bowed(48, 90, 380),
  cello: bowed(36, 78, 250),
  contrabass: bowed(26, 62, 140),
  tremolo: strings(5500, 14, { tremolo: 11 }),
  pizzicato: struck({ roots: [30, 94, 10], partial: (n, hz) => slope(5)(n) * below(hz, 3200), dims: 3, dies: 0.55, release: 0.2,
    noise: { level: 0.25, low: 250, high: 2500, dies: 0.012 } }),
  harp: struck({ roots: [26, 98, 10], partial: (n) => Math.abs(Math.sin((Math.PI * n) / 2.6)) * slope(6.5)(n), dims: 1.1, dies: 3.4, release: 0.8 }),
  timpani: struck({ roots: [36, 60, 6], ratios: [1, 1.5, 1.98, 2.44, 2.9], partial: (n) => [1, 0.6, 0.3, 0.18, 0.1][n - 1] ?? 0, dims: 1.4,
    dies: 1.8, release: 0.9, noise: { level: 0.5, low: 60, high: 900, dies: 0.04 } }),
  ensemble: strings(6000, 14),
  slowEnsemble: strings(4500, 16, { fadeIn: 0.2, release: 0.5 }),
  synthStrings: strings(4500, 20, { partial: (n, hz) => saw(n) * below(hz, 4500), release: 0.4 }),
  aah: vowel(750, 1200),
  ooh: vowel(380, 800),
  synthVoice: vowel(600, 1700),
  hit: struck({ roots: [36, 84, 16], partial: (n) => slope(3)(n), spread: 20, loop: 0.25, dims: 0.6, dies: 0.9, noise: { level: 0.5, low: 100,
    high: 5000, dies: 0.06 } }),
  trumpet: brass(50, 90, 4200),
  trombone: brass(34, 76, 2600),
  tuba: brass(24, 62, 1100),
  mutedTrumpet: held({ roots: [50, 88, 10], partial: (n, hz) => slope(1)(n) * formant(hz, 1900, 700, 3) * below(hz, 6500) * 0.3, rises: 0.02,
    softer: 3 }),
  horn: brass(32, 80, 1400),
  brassSection: { ...brass(34, 88, 3600), spread: 10, loop: 0.25 },
  synthBrass: synth(saw, 3200, { rises: 0.05, spread: 7, loop: 0.25 }),
  sopranoSax: reed(54, 90, { partial: (n, hz) => slope(3.5)(n) * formant(hz, 1400, 500, 1) * below(hz, 6000) }),
  altoSax: reed(48, 84, { partial: (n, hz) => slope(3.5)(n) * formant(hz, 1000, 400, 1.2) * below(hz, 5000) }),
  tenorSax: reed(42, 78, { partial: (n, hz) => slope(3.5)(n) * formant(hz, 750, 300, 1.3) * below(hz, 4200) }),
  baritoneSax: reed(34, 72, { partial: (n, hz) => slope(3.2)(n) * formant(hz, 500, 250, 1.4) * below(hz, 3200) }),
  oboe: reed(56, 94, { partial: (n, hz) => slope(3)(n) * formant(hz, 1400, 500, 3) * 0.4 * below(hz, 7000) }),
  englishHorn: reed(50, 86, { partial: (n, hz) => slope(3)(n) * formant(hz, 950, 350, 3) * 0.4 * below(hz, 5500) }),
  bassoon: reed(34, 76, { partial: (n, hz) => slope(3.5)(n) * formant(hz, 500, 180, 3) * 0.4 * below(hz, 3500) }),
  clarinet: reed(48, 92, { partial: (n, hz) => odd(n, hz > 1500 ? 0.5 : 0.06) * slope(4.5)(n) * below(hz, 5500) }),
  piccolo: flute(74, 106, 0.06),
  flute: flute(58, 96, 0.07),
  recorder: held({ roots: [60, 96, 10], partial: (n) => [1, 0.08, 0.2, 0.03, 0.04][n - 1] ?? 0, noise: { level: 0.04, low: 2000, high: 7000 },
    rises: 0.02 }),
  panPipe: { ...flute(55, 92, 0.2), rises: 0.02 },
  bottle: held({ roots: [48, 88, 12], partial: (n) => [1, 0.06, 0.03][n - 1] ?? 0, noise: { level: 0.3, low: 400, high: 3000 }, rises: 0.05 }),
  shakuhachi: { ...flute(53, 88, 0.18), vibrato: { hertz: 4.6, cents: 10, delay: 0.25 } },
  whistle: held({ roots: [60, 100, 12], partial: (n) => [1, 0.02][n - 1] ?? 0, noise: { level: 0.05, low: 2000, high: 8000 }, vibrato: VIBRATO }),
  ocarina: held({ roots: [58, 94, 12], partial: (n) => [1, 0.05, 0.04][n - 1] ?? 0, noise: { level: 0.05, low: 1000, high: 5000 } }),
  squareLead: synth(square, 6000),
  sawLead: synth(saw, 7000),
  calliope: synth(triangle, 6000, { noise: { level: 0.08, low: 1500, high: 7000 }, vibrato: VIBRATO }),
  chiff: synth((n) => slope(5)(n), 5000, { noise: { level: 0.6, low: 2000, high: 8000, dies: 0.04 } }),
  charang: synth((n) => slope(1.5)(n), 5000, { softer: 4, spread: 4, loop: 0.25 }),
  fifths: synth(saw, 5000, { ratios: [1, 1.5, 2, 3, 4, 4.5, 5, 6, 7.5, 8, 9, 10], softer: 1 }),
  bassLead: synth(saw, 3000, { spread: 6, loop: 0.25 }),
  warmPad: synth(saw, 1500, { spread: 14, loop: 0.35, fadeIn: 0.35, release: 0.8 }),
  brightPad: synth(saw, 5000, { spread: 16, loop: 0.35, fadeIn: 0.2, release: 0.8 }),
  bowedPad: synth((n) => [1, 0.1, 0.5, 0.05, 0.3][n - 1] ?? 0, 4000, { spread: 10, loop: 0.35, fadeIn: 0.4, release: 0.9 }),
  metalPad: synth((n) => slope(2)(n), 7000, { ratios: [1, 2.01, 2.76, 4.07, 5.4, 6.8, 8.1], spread: 10, loop: 0.35, fadeIn: 0.1, release: 1 }),
  airPad: { ...synth((n) => slope(9)(n), 2500, { spread: 12, loop: 0.35, fadeIn: 0.3, release: 0.9 }), noise: { level: 0.2, low: 1500, high: 6000 } },
  crystal: bar([1, 2.02, 3.9, 5.4, 8.9], [1, 0.4, 0.3, 0.2, 0.1], 48, 96, { dims: 0.8, dies: 3.5, spread: 6, loop: 0.3 }),
  sitar: guitar(38, 84, { partial: (n) => slope(1.8)(n), dims: 0.25, dies: 3, noise: { level: 0.15, low: 2000, high: 8000, dies: 0.01 } }),
  banjo: guitar(46, 88, { partial: (n) => slope(2.5)(n), dims: 1.2, dies: 1.1, release: 0.1, noise: KNOCK }),
  koto: guitar(42, 88, { partial: (n) => slope(3.2)(n), dims: 1, dies: 1.8 }),
  kalimba: bar([1, 5.4, 11], [1, 0.25, 0.06], 52, 92, { dims: 3, dies: 1.3, noise: KNOCK }),
  bagpipe: synth((n) => slope(1.2)(n), 5500, { roots: [50, 86, 12], rises: 0.01, softer: 3 }),
  shanai: reed(54, 90, { partial: (n, hz) => slope(2)(n) * formant(hz, 1800, 600, 2) * 0.5 }),
  tinkle: bar([1, 2.3, 3.6, 5.1, 7.3], [1, 0.8, 0.6, 0.4, 0.3], 60, 100, { dims: 0.4, dies: 2 }),
  agogo: bar([1, 2.7, 4.1, 6.2], [1, 0.6, 0.4, 0.2], 56, 92, { dims: 1.5, dies: 0.5 }),
  steelDrum: bar([1, 2, 3, 4.02], [1, 0.7, 0.3, 0.12], 48, 88, { dims: 1.6, dies: 1.6, noise: { ...KNOCK, level: 0.3 } }),
  wood: bar([1, 2.6, 4.7], [1, 0.3, 0.1], 52, 88, { dims: 5, dies: 0.18, noise: KNOCK }),
  taiko: struck({ roots: [32, 68, 12], ratios: [1, 1.6, 2.2, 2.7], partial: (n) => [1, 0.5, 0.3, 0.2][n - 1] ?? 0, dims: 2.5, dies: 0.9,
    noise: { level: 0.6, low: 60, high: 700, dies: 0.05 }, release: 0.5 }),
  synthDrum: struck({ roots: [32, 72, 12], partial: (n) => triangle(n), dims: 2, dies: 0.5, release: 0.4 }),
  wind: held({ roots: [48, 72, 24], partial: (n) => (n === 1 ? 0.02 : 0), noise: { level: 1, low: 300, high: 2500 }, loop: 1, fadeIn: 0.3,
    release: 0.8 }),
  rattle: struck({ roots: [48, 72, 24], partial: (n) => (n === 1 ? 0.05 : 0), noise: { level: 1, low: 1000, high: 6000, dies: 0.12 }, dies: 0.3 }),
  chopper: held({ roots: [48, 72, 24], partial: (n) => slope(4)(n) * 0.1, noise: { level: 1, low: 60, high: 900 }, tremolo: 11, loop: 1 }),
  chirp: held({ roots: [72, 96, 24], partial: (n) => [1, 0.2][n - 1] ?? 0, tremolo: 14, vibrato: { hertz: 9, cents: 60, delay: 0 } }),
} satisfies Record<string, Timbre>;

export type TimbreId = keyof typeof TIMBRES;
