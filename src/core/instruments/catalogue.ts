import { BRASS } from './catalogue/brass';
import { ELECTRONIC } from './catalogue/electronic';
import type { Instrument } from './catalogue/instrument';
import { KEYBOARD } from './catalogue/keyboard';
import { PERCUSSION } from './catalogue/percussion';
import { HARPS, PLUCKED } from './catalogue/plucked';
import { STRINGS } from './catalogue/strings';
import { VOICE } from './catalogue/voice';
import { WOODWIND } from './catalogue/woodwind';

export type { Family, Instrument } from './catalogue/instrument';
export { LANGUAGES } from './catalogue/instrument';

/**
 * The catalogue, in the order of an orchestral score (woodwind, brass,
 * percussion, harps, keyboards, plucked, voices, strings; high before low:
 * common practice). Sound ids are from the standard sounds of MusicXML,
 * programs from General MIDI Level 1. Ranges and transpositions are handbook
 * practice, written from memory and checked where tests name a table;
 * comfortable ranges are common practice.
 */
export const CATALOGUE: readonly Instrument[] = [
  ...WOODWIND,
  ...BRASS,
  ...PERCUSSION,
  ...HARPS,
  ...KEYBOARD,
  ...PLUCKED,
  ...VOICE,
  ...STRINGS,
  ...ELECTRONIC,
];

const BY_ID = new Map(CATALOGUE.map((entry) => [entry.id, entry]));
const ORDER = new Map(CATALOGUE.map((entry, index) => [entry.id, index]));

/** The instrument with this catalogue id. @throws RangeError for an unknown id */
export function instrumentOf(id: string): Instrument {
  const found = BY_ID.get(id);
  if (!found) throw new RangeError(`No instrument is called "${id}".`);
  return found;
}

export const isInstrumentId = (id: string): boolean => BY_ID.has(id);

/** Place in score order. */
export const scoreOrder = (id: string): number => ORDER.get(id) ?? CATALOGUE.length;

/**
 * The catalogue instrument nearest to a General MIDI program (Level 1 sound
 * set): the exact one where there is one, else one of the same program group.
 */
export function instrumentOfProgram(program: number): Instrument {
  const direct = PROGRAM_CHOICES[program];
  return instrumentOf(direct ?? GROUP_CHOICES[program >> 3]!);
}

// biome-ignore format: a table
/** Programs whose instrument is not the one of their group of eight. */
const PROGRAM_CHOICES: Record<number, string> = {
  3: 'honky-tonk-piano', 4: 'electric-piano', 5: 'electric-piano', 6: 'harpsichord', 7: 'clavinet',
  9: 'glockenspiel', 10: 'music-box', 11: 'vibraphone', 12: 'marimba', 13: 'xylophone',
  14: 'tubular-bells', 15: 'hammered-dulcimer', 16: 'electric-organ', 17: 'electric-organ',
  18: 'electric-organ', 20: 'harmonium', 21: 'accordion', 22: 'harmonica', 23: 'bandoneon',
  25: 'acoustic-guitar', 26: 'electric-guitar', 27: 'electric-guitar', 28: 'electric-guitar',
  29: 'electric-guitar', 30: 'electric-guitar', 31: 'electric-guitar', 32: 'double-bass',
  35: 'fretless-bass', 38: 'synth-bass', 39: 'synth-bass', 41: 'viola', 42: 'cello', 43: 'double-bass',
  46: 'harp', 47: 'timpani', 52: 'choir', 53: 'voice', 54: 'synth-voice', 55: 'strings', 57: 'trombone',
  58: 'tuba', 60: 'horn-f', 61: 'brass-section', 62: 'synth-brass', 63: 'synth-brass',
  64: 'soprano-saxophone', 66: 'tenor-saxophone', 67: 'baritone-saxophone', 68: 'oboe',
  69: 'english-horn', 70: 'bassoon', 71: 'clarinet-bflat', 72: 'piccolo', 74: 'recorder',
  75: 'pan-flute', 77: 'shakuhachi', 78: 'tin-whistle', 79: 'ocarina', 104: 'sitar', 105: 'banjo',
  106: 'shamisen', 107: 'koto', 108: 'kalimba', 109: 'bagpipes', 110: 'violin', 111: 'shawm',
  112: 'handbells', 113: 'agogo', 114: 'steel-drums', 115: 'wood-block', 116: 'taiko',
  117: 'tom-toms', 118: 'electronic-drums', 119: 'cymbals',
};
// biome-ignore format: a table
const GROUP_CHOICES = [
  'piano', 'celesta', 'organ', 'classical-guitar', 'bass-guitar', 'violin', 'strings', 'trumpet-bflat',
  'alto-saxophone', 'flute', 'synthesizer', 'synthesizer', 'synthesizer', 'classical-guitar',
  'percussion', 'sound-effects',
];
