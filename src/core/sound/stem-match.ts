import { withoutEnding } from '../basics/file-names';
import { type Instrument, instrumentOf } from '../instruments/catalogue';
import { recogniseInstrument } from '../instruments/recognise';
import type { StrandId } from '../model/ids';

/** A sound file that may be of a part. */
export interface NamedStem {
  id: string;
  /** Of the file, or as it was decided. */
  name: string;
}

/** A part that stems may be of. */
export interface StemPart {
  leader: StrandId;
  name: string;
  /** Catalogue id. */
  instrument: string;
  /** What else it is called: its abbreviation, its strands. */
  also: readonly string[];
}

/** What names of sound files say beside the part (common practice). */
const ASIDE = new Set(
  'stem stems dry wet mono stereo close room hall ambient bounce bounced print printed mix audio track take final export rendered render l r lr'.split(
    ' ',
  ),
);
/** Players are numbered so, and no further (common practice). */
const ROMAN = new Map(
  ['i', 'ii', 'iii', 'iv', 'v', 'vi', 'vii', 'viii'].map((word, at) => [word, String(at + 1)]),
);

/** The words of a name: letters and figures apart, Roman numbers behind a word as figures. */
function wordsOf(name: string): string[] {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{L})(\p{N})|(\p{N})(\p{L})/gu, '$1$3 $2$4')
    .toLowerCase()
    .split(/[^\p{L}\p{N}♭♯]+/u)
    .filter(Boolean);
  return words.map((word, at) => (at > 0 ? (ROMAN.get(word) ?? word) : word));
}

/** The words of a file that speak of its part; the number that files are counted by goes. */
function wordsOfFile(name: string): string[] {
  const words = wordsOf(withoutEnding(name)).filter((word) => !ASIDE.has(word));
  const isCounted = /^\d+$/.test(words[0] ?? '') && words.length > 1;
  return isCounted ? words.slice(1) : words;
}

/** How many words of a file are a whole name, one after the other; 0 where it is not there. */
function contained(file: readonly string[], name: readonly string[]): number {
  if (name.length === 0) return 0;
  for (let from = 0; from + name.length <= file.length; from++)
    if (name.every((word, at) => file[from + at] === word)) return name.length;
  return 0;
}

/** What each thing that speaks for a part weighs (rule of thumb): a whole name, each word of it, the instrument, its number. */
const NAMED = 2;
const WORD = 0.2;
const INSTRUMENT = 1;
const NUMBER = 0.5;
/** A name tells an instrument from this confidence on: a short name is one of few here (rule of thumb). */
const TOLD = 0.4;
/** Another part must speak for itself by so much less. */
const AHEAD = 0.1;

/** What a name says: its words, and the instrument that these tell, if they do. */
interface Said {
  words: readonly string[];
  instrument: Instrument | null;
  number: number | null;
}

function saidBy(name: string, words: readonly string[]): Said {
  const { instrument, number, confidence } = recogniseInstrument({ name, programs: [], channel: 0 });
  return { words, instrument: confidence < TOLD ? null : instrument, number };
}

/** A part with what its names say. */
interface Wanted {
  leader: StrandId;
  instrument: Instrument;
  number: number | null;
  names: readonly (readonly string[])[];
}

const wantedOf = ({ leader, name, instrument, also }: StemPart): Wanted => ({
  leader,
  instrument: instrumentOf(instrument),
  number: saidBy(name, []).number,
  names: [name, ...also].map(wordsOf),
});

/** In another pitch it is the same instrument. */
const isSame = (told: Instrument, wanted: Instrument): boolean =>
  told.id === wanted.id || (!told.unpitched && !wanted.unpitched && told.program === wanted.program);

function likeness(file: Said, part: Wanted): number {
  const whole = Math.max(0, ...part.names.map((name) => contained(file.words, name)));
  const named = whole > 0 ? NAMED + WORD * whole : 0;
  if (!file.instrument || !isSame(file.instrument, part.instrument)) return named;
  if (file.number === null || part.number === null) return named + INSTRUMENT;
  // Another player of the same instrument is another part.
  return file.number === part.number ? named + INSTRUMENT + NUMBER : named;
}

/**
 * The parts that stems are of, as far as their names tell: by the whole name of a part or of its strand in that of
 * the file, else by instrument and number. What speaks for two parts alike is of neither.
 *
 * @returns the leader of the part by the id of the stem; none for those that no name tells
 */
export function stemsByName(stems: readonly NamedStem[], parts: readonly StemPart[]): Map<string, StrandId> {
  const found = new Map<string, StrandId>();
  const wanted = parts.map(wantedOf);
  for (const { id, name } of stems) {
    const words = wordsOfFile(name);
    const file = saidBy(words.join(' '), words);
    const ranked = wanted
      .map((part) => ({ part, like: likeness(file, part) }))
      .filter(({ like }) => like > 0)
      .sort((a, b) => b.like - a.like);
    const [best, next] = ranked;
    if (best && best.like > (next?.like ?? 0) + AHEAD) found.set(id, best.part.leader);
  }
  return found;
}

/** How much of a stem of one part is like that part, beside the next best, to be believed (rule of thumb). */
const SURER = 1.25;
const LIKE = 0.12;

/**
 * The part that a stem is of by what begins in both.
 *
 * @param likenesses of the stem with each part, 0–1, as `likenessesOf` gives them
 * @returns the index of the part; null where none is clearly ahead
 */
export function likeliest(likenesses: readonly number[]): number | null {
  const ranked = likenesses.map((like, index) => ({ like, index })).sort((a, b) => b.like - a.like);
  const [best, next] = ranked;
  if (!best || best.like < LIKE) return null;
  return best.like > SURER * (next?.like ?? 0) ? best.index : null;
}
