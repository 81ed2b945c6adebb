import type { Clef } from '../../model/clefs';
import type { Transposition } from '../../model/score';

export type Family =
  | 'woodwind'
  | 'brass'
  | 'percussion'
  | 'keyboard'
  | 'plucked'
  | 'voice'
  | 'strings'
  | 'electronic';

export const LANGUAGES = ['en', 'de', 'fr', 'it', 'es'] as const;
/** ISO 639-1 codes of the languages that instruments have names in. */
export type Language = (typeof LANGUAGES)[number];

/** What an instrument is called in one language. */
export interface InstrumentName {
  one: string;
  many: string;
  short: string;
}

/**
 * What the catalogue knows of an instrument. Ranges are sounding MIDI keys, of
 * what professionals have and of what is comfortable for everybody; written
 * ranges follow by the transposition.
 */
export interface Instrument {
  id: string;
  /** In English, as parts are named. */
  name: string;
  abbreviation: string;
  names: Readonly<Record<Language, InstrumentName>>;
  family: Family;
  /** MusicXML standard sound id. */
  sound: string;
  /** General MIDI Level 1 program, 0–127. */
  program: number;
  /** Per staff the clefs in use, the usual one first. */
  clefs: readonly (readonly Clef[])[];
  lowest: number;
  highest: number;
  comfortable: readonly [lowest: number, highest: number];
  transposition: Transposition;
  /** One line of notes: overlaps are legato, not chords. */
  singleLine: boolean;
  /** Percussion without pitch, laid out by drum sound. */
  unpitched: boolean;
  /** Numbered with Roman numerals (violins) rather than Arabic. */
  romanNumbers: boolean;
  /** Open strings as sounding keys, in the order in which they are strung, the bass side first. */
  tuning?: readonly number[];
  /** General MIDI percussion key of what has no pitch. */
  drumKey?: number;
  /** As many as a section of them usually has, where it is more than one. */
  players: number;
  /** Other names, in several languages, in lower case without accents. */
  aliases: readonly string[];
}

interface Traits {
  /** From written to sounding, in staff steps and semitones. */
  transposes?: [diatonic: number, chromatic: number];
  lines?: boolean;
  unpitched?: boolean;
  roman?: boolean;
  tuning?: readonly number[];
  key?: number;
  players?: number;
}

export const C: Clef = 'treble';
export const B: Clef = 'bass';
export const A: Clef = 'alto';
export const N: Clef = 'tenor';
export const V: Clef = 'treble8vb';
export const P: Clef = 'percussion';

/** Names as "one/many/short" for each language in the order of `LANGUAGES`, parted by bars; what is left out is as before it. */
function namesIn(text: string): Record<Language, InstrumentName> {
  const each = text.split('|').map((names) => names.split('/'));
  const english = each[0]?.[2] ?? '';
  const of = (index: number): InstrumentName => {
    const [one = '', many = one, short = english] = each[index] ?? [];
    return { one, many, short };
  };
  return { en: of(0), de: of(1), fr: of(2), it: of(3), es: of(4) };
}

/** Makes the rows of one family of the catalogue. */
export function rowsOf(family: Family) {
  return (
    id: string,
    text: string,
    sound: string,
    program: number,
    clefs: readonly (Clef | readonly Clef[])[],
    [lowest, easyLow, easyHigh, highest]: readonly [number, number, number, number],
    traits: Traits,
    aliases: string,
  ): Instrument => {
    const [diatonic, chromatic] = traits.transposes ?? [0, 0];
    const names = namesIn(text);
    return {
      id,
      name: names.en.one,
      abbreviation: names.en.short,
      names,
      family,
      sound,
      program,
      clefs: clefs.map((clef) => (typeof clef === 'string' ? [clef] : clef)),
      lowest,
      highest,
      comfortable: [easyLow, easyHigh],
      transposition: { diatonic, chromatic },
      singleLine: traits.lines ?? false,
      unpitched: traits.unpitched ?? false,
      romanNumbers: traits.roman ?? false,
      ...(traits.tuning && { tuning: traits.tuning }),
      ...(traits.key !== undefined && { drumKey: traits.key }),
      players: traits.players ?? 1,
      aliases: aliases === '' ? [] : aliases.split(','),
    };
  };
}
