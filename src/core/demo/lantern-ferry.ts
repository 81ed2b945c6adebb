import { instrumentOf } from '../instruments/catalogue';
import type { Meter } from '../model/clock';
import { partId } from '../model/ids';
import type { ChordSymbol } from '../model/marks';
import { beatGroups, fullLength } from '../model/meter';
import {
  type Bar,
  keyInBar,
  type Part,
  type PartBar,
  type Score,
  type TempoMark,
  writtenFifths,
} from '../model/score';
import { QUARTER } from '../model/time';
import { addCourtesies, showAccidentals } from '../notate/accidentals';
import { beamVoice } from '../notate/beams';
import { readBarText } from './score-text';

/**
 * "Lantern Ferry", the demo piece: an upbeat and 56 bars, written as a score.
 * A barcarolle in 6/8 (A), a song in 4/4 (B), a dance in 5/8 (C) and the
 * first tune again, broad, in 4/4 (D). This is the truth that the demo files
 * are made from and that transcription is measured against.
 */

const SIX_EIGHT: Meter = { numerator: 6, denominator: 8 };
const COMMON: Meter = { numerator: 4, denominator: 4 };
const FIVE_EIGHT: Meter = { numerator: 5, denominator: 8 };

/** Harmony, a chord a bar. */
const A = ['D', 'D', 'G', 'A', 'D', 'Bm', 'Em', 'A', 'D', 'D', 'G', 'A', 'Bm', 'G', 'Em', 'D'];
const B = [
  'G',
  'Em',
  'C',
  'D',
  'G',
  'Em',
  'Am',
  'D',
  'C',
  'G',
  'Am',
  'D',
  'Em',
  'C',
  'Am',
  'D',
  'G',
  'C',
  'D',
  'G',
];
const C = ['Em', 'Em', 'C', 'D', 'Em', 'Em', 'Am', 'B'];
const D = ['D', 'Bm', 'G', 'A', 'D', 'Bm', 'Em', 'A', 'G', 'Em', 'A', 'D'];

/** The chord of each bar after the upbeat. */
export const HARMONY: readonly string[] = [...A, ...B, ...C, ...D];

const TRIADS: Record<string, [string, string, string]> = {
  D: ['D', 'F#', 'A'],
  G: ['G', 'B', 'D'],
  A: ['A', 'C#', 'E'],
  Bm: ['B', 'D', 'F#'],
  Em: ['E', 'G', 'B'],
  C: ['C', 'E', 'G'],
  Am: ['A', 'C', 'E'],
  B: ['B', 'D#', 'F#'],
};
const SEMITONES: Record<string, number> = {
  C: 0,
  'C#': 1,
  D: 2,
  'D#': 3,
  E: 4,
  F: 5,
  'F#': 6,
  G: 7,
  A: 9,
  B: 11,
};

/** The lowest `count` tones of a chord from MIDI key `low` upward. */
function tones(chord: string, low: number, count: number): string[] {
  const out: string[] = [];
  for (let key = low; out.length < count; key++) {
    const name = TRIADS[chord]!.find((tone) => SEMITONES[tone] === key % 12);
    if (name) out.push(`${name}${Math.floor(key / 12) - 1}`);
  }
  return out;
}

/** The root of a chord, from MIDI key `low` upward. */
const root = (chord: string, low: number): string => {
  const name = TRIADS[chord]![0];
  const key = low + ((((SEMITONES[name]! - low) % 12) + 12) % 12);
  return `${name}${Math.floor(key / 12) - 1}`;
};

const each = (chords: readonly string[], write: (chord: string, index: number) => string): string[] =>
  chords.map(write);
const octaveDown = (bar: string): string =>
  bar.replace(/([A-G]#?)(\d)/g, (_, name: string, octave: string) => `${name}${Number(octave) - 1}`);
const silent = (bars: number): string[] => new Array<string>(bars).fill('R');

/** Tune of the barcarolle, eight bars twice. */
const TUNE_A1 = [
  'D5/4 E5/8 F#5/4 A5/8',
  'F#5/4. D5/4.',
  'G5/4 F#5/8 E5/4 D5/8',
  'E5/4.~ E5/4 A4/8',
  'D5/4 E5/8 F#5/4 G5/8',
  'A5/4. F#5/4 E5/8',
  'G5/8 F#5/8 E5/8 D5/4 C#5/8',
  'E5/2.',
];
const TUNE_A2 = [
  'D5/4 E5/8 F#5/4 A5/8',
  'B5/4. A5/4 F#5/8',
  'G5/8 A5/8 B5/8 A5/4 G5/8',
  'E5/4.~ E5/4 A5/8',
  'F#5/8 G5/8 A5/8 B5/4 A5/8',
  'G5/4. B5/4 G5/8',
  'F#5/8 E5/16 F#5/16 G5/8 E5/4 C#5/8',
  'D5/2.',
];
const COUNTER_A = [
  'F#4/2.',
  'A4/4. F#4/4.',
  'B4/2.',
  'C#5/4. A4/4.',
  'F#4/4.~ F#4/8 G4/8 A4/8',
  'D5/4. B4/4.',
  'B4/4 A4/8 G4/4 B4/8',
  'A4/4.~ A4/8 r/8 r/8',
  'A4/2.',
  'F#4/4 A4/8 D5/4 C#5/8',
  'B4/4. D5/4.',
  'C#5/8 B4/8 A4/8 C#5/4.',
  'D5/2.',
  'B4/4. G4/4.',
  'G4/4. B4/4 A4/8',
  'F#4/2.',
];

/** Song of the 4/4, eight bars with words. */
const SONG = [
  'r/4 D4/8"Lan-" D4/8"-tern" G4/4"fer-" A4/8"-ry," B4/8"car-"',
  'B4/4."-ry" A4/8"me" G4/2"home,"',
  'r/8 E4/8"o-" G4/8"-ver" A4/8"the" B4/4"wa-" A4/4"-ter,"',
  'A4/2~ A4/8 r/8 r/4',
  'r/4 D4/8"lit-" D4/8"-tle" G4/4"light" A4/8"up-" B4/8"-on"',
  'D5/4."the" B4/8"dark-" G4/2"-ness,"',
  'A4/8"slow" B4/8"and" C5/8"low" E5/8~"we" E5/4 D5/4"roam,"',
  'D5/1"home."',
];

/** Answer of the saxophone, with syncopation and triplets. */
const SAX_B = [
  'E4/8 G4/4 C5/8~ C5/8 B4/8 A4/4',
  'B4/4 3[D5/8 B4/8 G4/8] D4/2',
  'C5/8 B4/4 A4/8~ A4/4 E4/4',
  'F#4/4. G4/8 A4/2',
  'B4/8 G4/4 E4/8 G4/4 B4/4',
  'C5/4 3[B4/8 A4/8 G4/8] E4/4 r/4',
  'A4/8 C5/4 B4/8 A4/8 G4/8 E4/4',
  'F#4/4 D4/8 E4/8 F#4/4 A4/4',
  'G4/2. r/4',
  'r/8 E4/8 G4/8 C5/8 B4/4 G4/4',
  'A4/8 F#4/4 D4/8 A4/4 C5/4',
  'B4/2 G4/2',
];

const DANCE = [
  'E5/4. B4/4',
  'G5/8 F#5/8 E5/8 B4/4',
  'C5/8 E5/8 G5/8 E5/4',
  'D5/8 E5/8 F#5/8 A5/8 F#5/8',
  'E5/4. G5/4',
  'B5/8 A5/8 G5/8 E5/8 F#5/8',
  'E5/8 C5/8 A4/8 C5/8 E5/8',
  'D#5/4. B4/4',
];

/** The first tune again, broad. */
const TUNE_D = [
  'D5/4. E5/8 F#5/4 A5/4',
  'F#5/2 D5/2',
  'G5/4. F#5/8 E5/4 D5/4',
  'E5/2. A4/4',
  'D5/4. E5/8 F#5/4 G5/4',
  'A5/2 F#5/4 E5/4',
  '3[G5/8 F#5/8 E5/8] D5/4 B4/4 C#5/4',
  'E5/1',
  'B4/4 D5/4 G5/4 F#5/8 E5/8',
  'G5/4. F#5/8 E5/4 B4/4',
  'C#5/4 D5/4 E5/2',
  'D5/1^',
];

interface Source {
  id: string;
  name: string;
  instrument: string;
  /** Per staff, 57 bars; a second voice follows ` // `. */
  staves: string[][];
  chords?: boolean;
}

/** The upbeat is the tune's alone. */
const part = (id: string, instrument: string, ...staves: string[][]): Source => ({
  id,
  name: instrumentOf(instrument).name,
  instrument,
  staves: staves.map((bars) => (bars.length === 56 ? ['R', ...bars] : bars)),
});
const named = (source: Source, name: string): Source => ({ ...source, name });

const offbeats = (chord: string, low: number): string => {
  const [a, b, c] = tones(chord, low, 3);
  const hit = `${a}+${b}+${c}/8`;
  return `r/8 ${hit} r/8 ${hit} r/8 ${hit} r/8 ${hit}`;
};

const SOURCES: Source[] = [
  part('FL', 'flute', [
    'A4/8',
    ...TUNE_A1,
    ...silent(8),
    ...silent(7),
    'r/2 3[D5/8 E5/8 F#5/8] A5/4',
    'G5/2 E5/2',
    'D5/1',
    'C5/4 E5/4 A5/2',
    'F#5/2. r/4',
    ...silent(4),
    'B5/2 G5/2',
    'E5/4 G5/4 C6/2',
    'A5/4. G5/8 F#5/4 D5/4',
    'G5/1',
    ...silent(4),
    ...DANCE.slice(4),
    ...TUNE_D,
  ]),
  part('CL', 'clarinet-bflat', [
    ...COUNTER_A,
    ...silent(8),
    ...each(B.slice(8, 12), (chord) => `${tones(chord, 57, 3)[1]}/2 ${tones(chord, 57, 3)[2]}/2`),
    ...each(B.slice(12), (chord) => `${tones(chord, 57, 2)[0]}/4 r/4 ${tones(chord, 57, 2)[1]}/2`),
    ...DANCE.slice(0, 4).map(octaveDown),
    ...each(C.slice(4), (chord) => `${tones(chord, 57, 2)[0]}/4. ${tones(chord, 57, 2)[1]}/4`),
    ...each(D.slice(0, 11), (chord, index) =>
      index % 2
        ? `${tones(chord, 60, 2)[0]}/2 ${tones(chord, 60, 2)[1]}/2`
        : `${tones(chord, 60, 3)[0]}/4 ${tones(chord, 60, 3)[1]}/4 ${tones(chord, 60, 3)[2]}/4 ${tones(chord, 60, 3)[1]}/4`,
    ),
    'F#4/1^',
  ]),
  part('AS', 'alto-saxophone', [
    ...silent(16),
    ...silent(8),
    ...SAX_B,
    ...silent(8),
    ...each(D.slice(0, 11), (chord, index) => (index % 4 === 3 ? 'R' : `${tones(chord, 55, 1)[0]}/1`)),
    'A4/1^',
  ]),
  named(
    part('H1', 'horn-f', [
      ...silent(8),
      ...each(A.slice(8), (chord) => `${tones(chord, 58, 2)[1]}/2.`),
      ...each(B, (chord, index) =>
        index < 8 ? `${tones(chord, 58, 2)[1]}/1` : index % 2 ? 'R' : `r/4 ${tones(chord, 58, 2)[1]}/2 r/4`,
      ),
      ...each(C, (chord) => `${tones(chord, 58, 2)[1]}/4. r/4`),
      ...each(D.slice(0, 11), (chord) => `${tones(chord, 58, 2)[1]}/2. ${tones(chord, 58, 2)[0]}/4`),
      'D4/1^',
    ]),
    'Horn 1',
  ),
  named(
    part('H2', 'horn-f', [
      ...silent(8),
      ...each(A.slice(8), (chord) => `${tones(chord, 53, 1)[0]}/2.`),
      ...each(B, (chord, index) =>
        index < 8 ? `${tones(chord, 53, 1)[0]}/1` : index % 2 ? 'R' : `r/4 ${tones(chord, 53, 1)[0]}/2 r/4`,
      ),
      ...each(C, (chord) => `${tones(chord, 53, 1)[0]}/4. r/4`),
      ...each(D.slice(0, 11), (chord) => `${tones(chord, 53, 1)[0]}/2. ${tones(chord, 50, 1)[0]}/4`),
      'A3/1^',
    ]),
    'Horn 2',
  ),
  part('MA', 'marimba', [
    ...silent(16),
    ...silent(8),
    ...each(B.slice(8), (chord) => {
      const [a, b, c] = tones(chord, 60, 3);
      return `${a}/16 ${b}/16 ${c}/16 ${b}/16 ${a}/8 ${c}/8 ${b}/16 ${a}/16 ${b}/16 ${c}/16 ${a}/4`;
    }),
    ...each(C, (chord) => {
      const [a, b, c] = tones(chord, 60, 3);
      return `${a}/8 ${b}/16 ${c}/16 ${b}/8 ${a}/8 ${c}/8`;
    }),
    ...silent(12),
  ]),
  part('DR', 'drum-set', [
    ...silent(20),
    'h/4 h/4 h/4 h/4 // k/4 r/4 k/4 r/4',
    'h/4 h/4 h/4 h/4 // k/4 r/4 k/4 r/4',
    'h/4 h/4 h/4 h/4 // k/4 r/4 k/4 r/4',
    'h/4 h/4 h/8 s/8 s/16 s/16 s/8 // k/4 r/4 k/4 r/4',
    'c/8 h/8 h+s/8 h/8 h/8 h/8 h+s/8 h/8 // k/4 r/4 k/8 k/8 r/4',
    ...new Array<string>(10).fill('h/8 h/8 h+s/8 h/8 h/8 h/8 h+s/8 o/8 // k/4 r/4 k/8 k/8 r/4'),
    'h/8 h/8 h+s/8 h/8 t/8 t/8 u/16 u/16 s/8 // k/4 r/4 k/4 r/4',
    ...each(C, (_, index) =>
      index % 4 === 3 ? 'd/8 d/8 d/8 s/8 s/8 // k/4. r/4' : 'd/8 d/8 d/8 s+d/8 d/8 // k/4. r/4',
    ),
    'c/4 r/4 r/2 // k/4 r/4 r/2',
    ...new Array<string>(6).fill('d/4 d/4 d/4 d/4 // k/4 r/4 p/4 r/4'),
    'd/4 d/4 s/8 s/8 s/16 s/16 s/16 s/16 // k/4 r/4 k/4 r/4',
    'c/4 d/4 d/4 d/4 // k/4 r/4 p/4 r/4',
    'd/4 d/4 d/4 d/4 // k/4 r/4 p/4 r/4',
    'R',
    'c/4 r/4 r/2 // k/4 r/4 r/2',
  ]),
  part(
    'HP',
    'harp',
    [
      ...each(A, (chord) => {
        const [a, b, c, d] = tones(chord, 62, 4);
        return `${a}/8 ${b}/8 ${c}/8 ${d}/8 ${c}/8 ${b}/8`;
      }),
      ...each(B.slice(0, 8), (chord) => {
        const [a, b, c] = tones(chord, 62, 3);
        return `${a}/8 ${b}/8 ${c}/8 ${b}/8 ${a}+${c}/4 ${b}/4`;
      }),
      ...silent(12),
      ...each(C, (chord) => `${tones(chord, 64, 3).join('+')}/4. ${tones(chord, 64, 2).join('+')}/4`),
      ...each(D.slice(0, 11), (chord) => {
        const [a, b, c, d] = tones(chord, 62, 4);
        return `${a}/8 ${b}/8 ${c}/8 ${d}/8 ${c}/8 ${b}/8 ${a}+${c}/4`;
      }),
      'D4+F#4+A4+D5/1^',
    ],
    [
      ...each(A, (chord) => `${root(chord, 40)}/4. ${tones(chord, 45, 1)[0]}/4.`),
      ...each(B.slice(0, 8), (chord) => `${root(chord, 38)}/2 ${tones(chord, 45, 1)[0]}/2`),
      ...silent(12),
      ...each(C, (chord) => `${root(chord, 40)}/4. ${root(chord, 40)}/4`),
      ...each(
        D.slice(0, 11),
        (chord) => `${root(chord, 38)}/2 ${tones(chord, 45, 2)[0]}/4 ${tones(chord, 45, 2)[1]}/4`,
      ),
      'D2+A2/1^',
    ],
  ),
  {
    ...part('EG', 'electric-guitar', [
      ...silent(16),
      ...silent(4),
      ...each(B.slice(4, 16), (chord) => offbeats(chord, 52)),
      ...each(B.slice(16), (chord) => `${tones(chord, 52, 4).join('+')}/1`),
      ...each(
        C,
        (chord) =>
          `r/8 ${tones(chord, 52, 3).join('+')}/8 ${tones(chord, 52, 3).join('+')}/8 r/8 ${tones(chord, 52, 3).join('+')}/8`,
      ),
      ...each(
        D.slice(0, 11),
        (chord) => `${tones(chord, 50, 4).join('+')}/2 ${tones(chord, 50, 4).join('+')}/2`,
      ),
      'D3+A3+D4+F#4/1^',
    ]),
    chords: true,
  },
  part('BG', 'bass-guitar', [
    ...silent(20),
    ...each(B.slice(4, 8), (chord) => `${root(chord, 28)}/2 ${tones(chord, 33, 1)[0]}/2`),
    ...each(
      B.slice(8),
      (chord) =>
        `${root(chord, 28)}/4. ${root(chord, 28)}/8 ${tones(chord, 33, 1)[0]}/4 ${tones(chord, 33, 2)[1]}/4`,
    ),
    ...each(C, (chord) => `${root(chord, 28)}/4. ${tones(chord, 33, 1)[0]}/4`),
    ...each(D.slice(0, 11), (chord) => `${root(chord, 28)}/2. ${tones(chord, 33, 1)[0]}/4`),
    'D2/1^',
  ]),
  part('VO', 'voice', [...silent(16), ...SONG, ...silent(32)]),
  named(
    part('V1', 'violin', [
      ...silent(7),
      'r/4. r/4 A4/8',
      ...TUNE_A2,
      ...each(B.slice(0, 12), (chord) => `${tones(chord, 67, 2)[1]}/2 ${tones(chord, 67, 2)[0]}/2`),
      ...each(B.slice(12, 16), (chord) => `${tones(chord, 67, 2)[0]}/1`),
      ...each(
        B.slice(16),
        (chord) => `${tones(chord, 71, 1)[0]}/8 r/8 r/4 ${tones(chord, 71, 1)[0]}/8 r/8 r/4`,
      ),
      ...DANCE,
      ...TUNE_D,
    ]),
    'Violin I',
  ),
  named(
    part('V2', 'violin', [
      ...each(A, (chord) => `${tones(chord, 62, 1)[0]}/2.`),
      ...each(B, (chord) => `${tones(chord, 62, 1)[0]}/1`),
      ...each(
        C,
        (chord) =>
          `${tones(chord, 62, 2)[1]}/8 ${tones(chord, 62, 2)[0]}/8 ${tones(chord, 62, 2)[0]}/8 ${tones(chord, 62, 2)[1]}/8 ${tones(chord, 62, 2)[0]}/8`,
      ),
      ...each(D.slice(0, 11), (chord) => {
        const [a, b, c] = tones(chord, 58, 3);
        return `${c}/1 // ${a}/4 ${b}/4 ${a}/4 ${b}/4`;
      }),
      'A4/1^',
    ]),
    'Violin II',
  ),
  part('VA', 'viola', [
    ...each(A, (chord) => `${tones(chord, 55, 1)[0]}/4. ${tones(chord, 55, 2)[1]}/4.`),
    ...each(B, (chord, index) =>
      index % 4 === 3
        ? `${tones(chord, 55, 1)[0]}/2. ${tones(chord, 55, 2)[1]}/4`
        : `r/8 ${tones(chord, 55, 1)[0]}/4 ${tones(chord, 55, 1)[0]}/8~ ${tones(chord, 55, 1)[0]}/8 ${tones(chord, 55, 1)[0]}/4 ${tones(chord, 55, 1)[0]}/8`,
    ),
    ...each(C, (chord) => `${tones(chord, 55, 1)[0]}/4. ${tones(chord, 55, 2)[1]}/4`),
    ...each(D.slice(0, 11), (chord) => `${tones(chord, 52, 1)[0]}/2 ${tones(chord, 52, 2)[1]}/2`),
    'F#3/1^',
  ]),
  part('VC', 'cello', [
    ...each(A, (chord) => `${root(chord, 36)}/2.`),
    ...each(B.slice(0, 8), (chord) => `${root(chord, 36)}/1`),
    // Plucked from here to the dance.
    ...each(B.slice(8), (chord) => `${root(chord, 36)}/4 r/4 ${tones(chord, 43, 1)[0]}/4 r/4`),
    ...each(C, (chord) => `${root(chord, 36)}/4. ${tones(chord, 43, 1)[0]}/4`),
    ...each(D.slice(0, 11), (chord) => `${root(chord, 36)}/2 ${tones(chord, 43, 1)[0]}/2`),
    'D2/1^',
  ]),
];

/** Bars of the cello that are plucked, by index. */
export const PIZZICATO_BARS = { from: 25, to: 37 };
/** Bars in which the sequencer file swings, by index. */
export const SWUNG_BARS = { from: 29, to: 37 };

function bars(): Bar[] {
  const out: Bar[] = [];
  let start = 0;
  for (let index = 0; index <= 56; index++) {
    const meter = index <= 16 ? SIX_EIGHT : index <= 36 ? COMMON : index <= 44 ? FIVE_EIGHT : COMMON;
    const full = fullLength(meter);
    const length = index === 0 ? QUARTER / 2 : full;
    out.push({
      index,
      number: index,
      start,
      length,
      meter,
      groups: beatGroups(meter),
      missing: full - length,
    });
    start += length;
  }
  return out;
}

/** Tempos: one for each section, and a rit. over the two bars before the last. */
function tempos(): TempoMark[] {
  const marks: TempoMark[] = [
    { bar: 0, at: 0, quartersPerMinute: 90, printed: 90 },
    { bar: 17, at: 0, quartersPerMinute: 112, printed: 112 },
    { bar: 37, at: 0, quartersPerMinute: 132, printed: 132 },
    { bar: 45, at: 0, quartersPerMinute: 84, printed: 84 },
  ];
  for (let step = 0; step < 8; step++)
    marks.push({
      bar: 54 + (step >> 2),
      at: (step % 4) * QUARTER,
      quartersPerMinute: 80 - 4 * step,
      printed: null,
    });
  marks.push({ bar: 56, at: 0, quartersPerMinute: 50, printed: 50 });
  return marks;
}

function writePart(
  source: Source,
  scoreBars: readonly Bar[],
  keys: Score['keys'],
  harmony: readonly string[],
): Part {
  const instrument = instrumentOf(source.instrument);
  const ties = new Set<number>();
  const fifthsIn = (bar: number) => writtenFifths(keyInBar({ keys }, bar).fifths, instrument.transposition);
  const partBars = scoreBars.map((bar, index): PartBar => {
    const voices = source.staves.flatMap((texts, staff) =>
      texts[index]!.split(' // ').map((text, voice) =>
        readBarText(text, bar, source, staff + 1, voice + 1, ties),
      ),
    );
    for (const line of voices) beamVoice(line.items, bar);
    const made: PartBar = { voices };
    if (!instrument.unpitched) showAccidentals(made, fifthsIn(index));
    const symbol = source.chords && index >= 21 ? symbolOf(harmony[index - 1]!) : null;
    if (symbol) made.marks = [{ kind: 'chord-symbol', at: 0, symbol }];
    return made;
  });
  if (!instrument.unpitched) addCourtesies(partBars, fifthsIn);
  return {
    id: partId(`0/${source.id}`),
    name: source.name,
    abbreviation: instrument.abbreviation + source.name.slice(instrument.name.length),
    instrument: instrument.id,
    transposition: instrument.transposition,
    clefs: source.staves.map((_, staff) => instrument.clefs[staff]![0]!),
    bars: partBars,
  };
}

function symbolOf(chord: string): ChordSymbol {
  const rootName = TRIADS[chord]![0];
  return {
    root: { step: rootName[0] as ChordSymbol['root']['step'], alter: rootName.length > 1 ? 1 : 0 },
    kind: chord.endsWith('m') ? 'minor' : 'major',
  };
}

/** The letters by which this piece tells its parts apart. */
export const tagOf = (part: Part): string => part.id.slice(part.id.indexOf('/') + 1);

/** The demo piece as a score. */
export function lanternFerry(): Score {
  const scoreBars = bars();
  const keys = [
    { bar: 0, fifths: 2, minor: false },
    { bar: 17, fifths: 1, minor: false },
    { bar: 37, fifths: 1, minor: true },
    { bar: 45, fifths: 2, minor: false },
  ];
  const harmony = [...A, ...B, ...C, ...D];
  return {
    title: 'Lantern Ferry',
    bars: scoreBars,
    keys,
    tempos: tempos(),
    rehearsals: [
      { bar: 1, text: 'A' },
      { bar: 17, text: 'B' },
      { bar: 37, text: 'C' },
      { bar: 45, text: 'D' },
    ],
    parts: SOURCES.map((source) => writePart(source, scoreBars, keys, harmony)),
  };
}
