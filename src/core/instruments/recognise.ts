import { PERCUSSION_CHANNEL } from '../model/performance';
import { CATALOGUE, type Instrument, instrumentOf, instrumentOfProgram } from './catalogue';

/** What a strand seems to be played by, and why. */
export interface InstrumentGuess {
  instrument: Instrument;
  /** Number of the player or desk, where the name gives one (Horn 3, Violin II). */
  number: number | null;
  /** 0–1: 0.95 for a full name, less for a short one, 0.5 for a program alone, 0.2 for nothing at all. */
  confidence: number;
  why: string;
  /** The words of the name that told it; null where none did. */
  words: string | null;
}

/** The part of a strand that tells its instrument. */
export interface Evidence {
  name: string;
  /** Programs used, 0–127, the first one first. */
  programs: readonly number[];
  /** 0–15. */
  channel: number;
}

interface Alias {
  words: string[];
  instrument: Instrument;
}

const ROMAN: Record<string, number> = { i: 1, ii: 2, iii: 3, iv: 4, v: 5, vi: 6, vii: 7, viii: 8 };
const ORDINAL = /^(\d{1,2})(st|nd|rd|th|er|e|o)?$/;

/** Lower-case words of a name: accents, punctuation and joined digits are taken apart. */
function wordsOf(name: string): string[] {
  return name
    .replace(/♭/g, 'b')
    .replace(/♯/g, '#')
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/ß/g, 'ss')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/([a-z])(\d)/g, '$1 $2')
    .split(/[^a-z0-9#]+/)
    .filter(Boolean);
}

const ALIASES: Alias[] = CATALOGUE.flatMap((instrument) =>
  [instrument.name, ...instrument.aliases].map((alias) => ({ words: wordsOf(alias), instrument })),
).sort((a, b) => weight(b) - weight(a));

/** More words, then more letters, make a name more telling. */
function weight(alias: Alias): number {
  return alias.words.length * 100 + alias.words.join('').length;
}

function findAlias(words: readonly string[]): Alias | undefined {
  return ALIASES.find((alias) =>
    words.some((_, at) => alias.words.every((word, index) => words[at + index] === word)),
  );
}

function numberIn(words: readonly string[]): number | null {
  for (const word of words) {
    const ordinal = ORDINAL.exec(word);
    if (ordinal) return Number(ordinal[1]);
  }
  for (const word of words.slice(1)) if (ROMAN[word]) return ROMAN[word]!;
  return null;
}

/** Words that name a whole kind of instrument, and how the ids of that kind end. */
const KINDS: [words: RegExp, ids: RegExp][] = [
  [/^(guitars?|gtr|guit|gitarre|guitare|chitarra)$/, /guitar$/],
  [/^(sax|saxes|saxophone|saxophon)$/, /saxophone$/],
  [/^bass$/, /^(double-bass|bass-guitar|synth-bass)$/],
];

const isKindOf = (instrument: Instrument, word: string): boolean =>
  KINDS.some(([words, ids]) => words.test(word) && ids.test(instrument.id));

/**
 * Guesses the instrument of a strand from its name, its program and its
 * channel. The name counts most, since programs are often wrong; a program
 * decides when the name says nothing.
 */
export function recogniseInstrument(evidence: Evidence): InstrumentGuess {
  const words = wordsOf(evidence.name);
  const number = numberIn(words);
  const alias = findAlias(words);
  if (evidence.channel === PERCUSSION_CHANNEL && !alias?.instrument.unpitched)
    return {
      instrument: instrumentOf('drum-set'),
      number: null,
      confidence: 0.9,
      why: 'It is on the percussion channel.',
      words: null,
    };
  const ofProgram = evidence.programs[0] === undefined ? null : instrumentOfProgram(evidence.programs[0]);
  if (alias && ofProgram && alias.words.length === 1 && isKindOf(ofProgram, alias.words[0]!))
    return {
      instrument: ofProgram,
      number,
      confidence: 0.9,
      why: `Its name contains "${alias.words[0]}", and its program says which.`,
      words: alias.words[0]!,
    };
  if (alias) {
    const letters = alias.words.join('').length;
    const confidence = alias.words.length > 1 || letters > 4 ? 0.95 : letters > 2 ? 0.85 : 0.7;
    return {
      instrument: alias.instrument,
      number,
      confidence,
      why: `Its name contains "${alias.words.join(' ')}".`,
      words: alias.words.join(' '),
    };
  }
  const [program] = evidence.programs;
  if (program === undefined)
    return {
      instrument: instrumentOf('piano'),
      number: null,
      confidence: 0.2,
      why: 'Neither name nor program tells.',
      words: null,
    };
  return {
    instrument: instrumentOfProgram(program),
    // A name that says nothing of the instrument numbers the track, not the player.
    number: null,
    confidence: program === 0 ? 0.3 : 0.5,
    why: `Its program is ${program + 1}.`,
    words: null,
  };
}
