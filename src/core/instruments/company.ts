import { type Company, PERCUSSION_CHANNEL } from '../model/performance';
import type { Instrument } from './catalogue';
import { wordsOf } from './name-words';
import { type Evidence, recogniseInstrument, SURE } from './recognise';

/** Words by which singers are told, in the languages and times that have them (common practice). */
const VOICES =
  /^(soprano|sopran|sop|sopr|soprani|alto|alt|altus|alti|contralto|tenor|tenore|ten|tenori|basso|bassus|bass|canto|cantus|superius|discantus|quinto|quintus|sesto|sextus|treble|mezzo|baritono|contratenor|baritone|bari|[satb])$/;
/** Words that may stand beside those. */
const BESIDE =
  /^(\d+(st|nd|rd|th)?|i{1,3}|iv|v|vi|l|r|left|right|lead|rhythm|clean|voice|vox|voce|solo|primo|secondo|chorus|choir|coro)$/;
/** So many singers of different names make a company, and such a share of all. */
const FEWEST = 3;
const SHARE = 0.6;

/** The word that is all that a name says, but for numbers and sides. */
function loneWord(name: string): string | null {
  const [word, ...others] = wordsOf(name).filter((each) => !BESIDE.test(each));
  return word && others.length === 0 ? word : null;
}

/** The word of a name that is nothing but a voice's; null for another. */
function voiceIn(name: string): string | null {
  const word = loneWord(name);
  return word && VOICES.test(word) ? word : null;
}

const GUITAR = /^(guitars?|gtrs?|git|guit)$/;
/** Words that instruments of several companies share, and those companies (common practice). */
const SHARED: readonly (readonly [words: RegExp, among: readonly Company[]])[] = [
  [
    /^(basso?|bassi|basses)$/,
    ['voices', 'recorders', 'strings', 'brass', 'jazz band', 'folk band', 'rock band'],
  ],
  [/^(altos?|alt|alti)$/, ['voices', 'saxophones', 'recorders', 'strings', 'jazz band']],
  [/^(tenors?|tenore|ten)$/, ['voices', 'saxophones', 'recorders', 'jazz band']],
  [/^(sopranos?|sop|sopr|sopran)$/, ['voices', 'saxophones', 'recorders', 'jazz band']],
  [/^(baritones?|bariton)$/, ['voices', 'saxophones', 'brass', 'brass band', 'jazz band']],
  [/^horns?$/, ['brass band']],
  [GUITAR, ['jazz band', 'folk band', 'rock band']],
  [/^[satb]$/, ['voices']],
];

const sharedBy = (name: string): readonly Company[] | null => {
  const word = loneWord(name);
  return (word && SHARED.find(([pattern]) => pattern.test(word))?.[1]) || null;
};

/** What a strand brings into its surroundings. Guitars are of a band where something else says so. */
type Kind = Exclude<Company, 'jazz band' | 'rock band'> | 'rhythm' | 'guitars';

const BRASS_BAND = /^(soprano-)?cornet$|^(alto|baritone)-horn|^euphonium|^(eflat|bflat)-bass$/;
const FOLK = /banjo|mandolin|^(fiddle|ukulele|accordion|tin-whistle|bouzouki)/;
const RHYTHM = /^(drum-set|electronic-drums|electric-guitar|bass-guitar|synth-bass)$/;

function kindOf({ id, family }: Instrument): Kind | null {
  if (family === 'voice') return 'voices';
  if (id.endsWith('saxophone')) return 'saxophones';
  if (id.endsWith('recorder')) return 'recorders';
  if (/^(violin|viola|cello|double-bass)$/.test(id)) return 'strings';
  if (BRASS_BAND.test(id)) return 'brass band';
  if (family === 'brass') return 'brass';
  if (FOLK.test(id)) return 'folk band';
  return RHYTHM.test(id) ? 'rhythm' : null;
}

/** General MIDI's programs, 0–127, that tell a name of several meanings apart. */
const PROGRAMS: readonly (readonly [from: number, to: number, kind: Kind])[] = [
  [43, 43, 'strings'],
  [52, 54, 'voices'],
  [57, 58, 'brass'],
  [64, 67, 'saxophones'],
  [74, 74, 'recorders'],
];

function kindAt(strand: Evidence, isShared: boolean): Kind | null {
  if (strand.channel === PERCUSSION_CHANNEL) return 'rhythm';
  const [program] = strand.programs;
  if (isShared && GUITAR.test(loneWord(strand.name) ?? '')) return 'guitars';
  if (isShared)
    return (
      PROGRAMS.find(([from, to]) => program !== undefined && program >= from && program <= to)?.[2] ?? null
    );
  const { instrument, confidence } = recogniseInstrument(strand);
  return confidence < SURE ? null : kindOf(instrument);
}

/** What the strand just before tells counts double: scores keep their sections together. */
const BEFORE = 2;
/** Strands so near above count in full, those as near below less, others by half. */
const NEAR = 4;
const BELOW = 0.7;
const FAR = 0.5;
/** "Bari" alone is said of saxophones: singers and horns are written out. */
const BARI = 3;
/** Another voice's name, where nothing says who sings or plays it: with two others near, and with fewer. */
const MANY_VOICES = 1.5;
const FEW_VOICES = 0.8;
/** So many players of saxophones, trumpets and trombones beside drums make a jazz band (common practice). */
const HORNS = 2;
/** What they and the drums of the whole score count for each of its strands. */
const OF_JAZZ = 2;
/** Less than this tells nothing. */
const LEAST = 0.5;

const isBari = (word: string | null | undefined): boolean => word === 'bari';

/** How many different voices words name. */
const differentVoices = (words: readonly (string | null)[]): number =>
  new Set(words.filter((word) => word && !isBari(word))).size;

/** How far the surroundings of the strand `at` tell of each kind. */
function surroundings(
  at: number,
  kinds: readonly (Kind | null)[],
  voices: readonly (string | null)[],
): Record<Kind, number> {
  const sums: Record<Kind, number> = {
    voices: 0,
    saxophones: 0,
    recorders: 0,
    strings: 0,
    brass: 0,
    'brass band': 0,
    'folk band': 0,
    rhythm: 0,
    guitars: 0,
  };
  const isMany = differentVoices(voices.slice(Math.max(0, at - NEAR), at + NEAR + 1)) >= FEWEST;
  kinds.forEach((kind, other) => {
    if (other === at) return;
    const near = Math.abs(other - at) > NEAR ? FAR : other > at ? BELOW : 1;
    const weight = other === at - 1 ? BEFORE : near;
    if (kind) sums[kind] += isBari(voices[other]) ? BARI * near : weight;
    else if (voices[other] && voices[at] && voices[other] !== voices[at])
      sums.voices += isMany ? MANY_VOICES * weight : FEW_VOICES * near;
  });
  return sums;
}

/** The company, of those that a name can be of, that its surroundings tell most of. */
function likeliest(
  among: readonly Company[],
  sums: Record<Kind, number>,
  kinds: readonly (Kind | null)[],
): Company | null {
  const horns = kinds.filter((kind) => kind === 'saxophones' || kind === 'brass').length;
  const band = sums.rhythm > 0 ? sums.rhythm + sums.guitars : 0;
  const weightOf = (company: Company): number => {
    if (company === 'jazz band') return band > 0 && horns >= HORNS ? band + OF_JAZZ : 0;
    return company === 'rock band' ? band : sums[company];
  };
  const [best] = among
    .map((company) => ({ company, weight: weightOf(company) }))
    .toSorted((a, b) => b.weight - a.weight);
  return best && best.weight >= LEAST ? best.company : null;
}

/**
 * Whom each of some strands, in the order of their score, stands among, where its name needs that to be
 * understood: "Bass" is another thing among voices, strings, trombones and guitars. Null where a name
 * needs nothing, or its surroundings tell nothing.
 */
export function companiesOf(strands: readonly Evidence[]): (Company | null)[] {
  const shared = strands.map(({ name }) => sharedBy(name));
  const voices = strands.map(({ name }) => voiceIn(name));
  const told = voices.filter((word) => word !== null);
  if (told.length === 0 && shared.every((among) => among === null)) return strands.map(() => null);
  const kinds = strands.map((strand, at) => kindAt(strand, shared[at] !== null));
  const played = kinds.filter((kind, at) => voices[at] && kind && kind !== 'voices');
  const isChoir =
    differentVoices(told) >= FEWEST &&
    told.length >= SHARE * strands.length &&
    2 * played.length < told.length;
  if (isChoir) return strands.map(() => 'voices');
  return shared.map((among, at) => among && likeliest(among, surroundings(at, kinds, voices), kinds));
}
