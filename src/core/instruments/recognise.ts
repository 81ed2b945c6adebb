import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { type Company, PERCUSSION_CHANNEL } from '../model/performance';
import { AMONG, isAtHome, isSecondChoice, LETTERS } from './at-home';
import { CATALOGUE, type Instrument, instrumentOf, instrumentOfProgram, LANGUAGES } from './catalogue';
import { playersIn } from './name-numbers';
import { techniqueIn, techniqueOfPrograms } from './name-techniques';
import { inFull, type NameWord, nameWords, wordsOf } from './name-words';

/** What a strand seems to be played by, and why. */
export interface InstrumentGuess {
  instrument: Instrument;
  /** The first of `players`; null where the name gives none. */
  number: number | null;
  /** Numbers of the players or desks that the name gives (Horns 1+3, Violin II), in order. */
  players: number[];
  /** How they play, as the name says: "pizzicato"; null where it says nothing. */
  technique: string | null;
  /** 0–1: 0.95 for a full name, less for a short one, 0.5 for a program alone, 0.2 for nothing at all. */
  confidence: number;
  why: string;
  /** The words of the name that told it; null where none did. */
  words: string | null;
  /** Others that it may be, the likeliest first. */
  alternatives: Instrument[];
}

/** Below this confidence a guess is not to be trusted unseen. */
export const SURE = 0.6;

/** The part of a strand that tells its instrument. */
export interface Evidence {
  name: string;
  /** Programs used, 0–127, the first one first. */
  programs: readonly number[];
  /** 0–15. */
  channel: number;
  /** Sounding MIDI keys, of the notes or as far as they reach. */
  notes?: readonly { key: number }[];
  lowest?: number;
  highest?: number;
  /** The name above that this one, a mere number, goes on from. */
  heading?: string;
  /** Of one player's line of a divided section: what was decided for it. */
  chair?: { instrument: string; number: number };
  /** Whom it stands among, where its name needs that to be understood. */
  company?: Company;
}

/** Words that stand in a name for an instrument, and where. */
interface Match {
  from: number;
  to: number;
  text: string;
  instruments: readonly Instrument[];
  /** Those of them that are called so with the same spaces. */
  spaced: readonly Instrument[];
  /** Not shortened or misspelt. */
  isExact: boolean;
}

/**
 * What evidence is worth, as log odds in rough halves: a full name against
 * a short one, a program that agrees, a family that agrees, notes that the
 * instrument does not have (tuned on the half of bench/names that is for it).
 */
const FULL_NAME = 5;
const SHORT_NAME = 4;
const NEAR_NAME = 3.5;
const TWO_LETTERS = 3;
const ONE_LETTER = 1.2;
/** Words that are said of any instrument. */
const GENERIC_NAME = 1;
/** A word for a whole section, beside one for an instrument of it. */
const SECTION = -3;
const SAME_PROGRAM = 2.5;
const SAME_FAMILY = 1;
/** Program 1 is what files without a choice have. */
const DEFAULT_PROGRAM = 0.5;
/** How far a number is believed to go on from the name above it. */
const BELOW = 0.8;
const USUAL_OF_KIND = 0.6;
const SAME_SPACES = 0.7;
const OUT_OF_RANGE = -9;
/** A melody that a single drum or plate was named for. */
const NO_DRUM = -6;
/** What a name of several meanings stands for in its company. */
const AT_HOME = 2;
const SECOND_CHOICE = 1.5;
/** How sure such a name is then. */
const IN_COMPANY = 0.85;
/** Notes that only professionals reach. */
const UNCOMFORTABLE = -1.5;
const PROGRAM_APART = 0.01;
/** Semitones beyond the usual range that players reach all the same. */
const REACH = 3;
const NEAR = 3;

const key = (words: readonly string[]): string => words.join('');

interface Alias {
  words: string[];
  instrument: Instrument;
}
const ALIASES: Alias[] = CATALOGUE.flatMap((instrument) =>
  [
    ...LANGUAGES.flatMap((language) => [instrument.names[language].one, instrument.names[language].many]),
    ...instrument.aliases,
  ].map((alias) => ({ words: wordsOf(alias), instrument })),
);

/** Instruments by their names with the spaces taken out: "drumkit" and "drum kit" are one. */
const BY_NAME = new Map<string, Instrument[]>();
for (const { words, instrument } of ALIASES) {
  const known = BY_NAME.get(key(words)) ?? [];
  if (!known.includes(instrument)) BY_NAME.set(key(words), [...known, instrument]);
}

/** The same with the spaces: a tenor horn is not a Tenorhorn. */
const BY_WORDS = new Map<string, Instrument[]>();
for (const { words, instrument } of ALIASES) {
  const text = words.join(' ');
  BY_WORDS.set(text, [...(BY_WORDS.get(text) ?? []), instrument]);
}

/** Short names tell where they are long enough, and nobody else's. */
const SHORT = 3;
const shorts = new Map<string, Set<Instrument>>();
for (const instrument of CATALOGUE)
  for (const language of LANGUAGES) {
    const short = key(wordsOf(instrument.names[language].short));
    shorts.set(short, (shorts.get(short) ?? new Set()).add(instrument));
  }
for (const [short, instruments] of shorts)
  if (short.length >= SHORT && instruments.size === 1 && !BY_NAME.has(short))
    BY_NAME.set(short, [...instruments]);

/** A word is short for one that begins with it, from so many letters on; a letter may be wrong in longer ones. */
const SHORTENED = 3;
const MISSPELT = 6;

/** Whether a word is another one, shortened or with one letter wrong. */
const isNearly = (word: string, whole: string): boolean =>
  word === whole ||
  (word.length >= SHORTENED && whole.startsWith(word)) ||
  (word.length >= MISSPELT && whole.length >= MISSPELT && isOneOff(word, whole));

/** Whether one letter put in, left out or changed makes one word of the other. */
function isOneOff(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1) return false;
  let at = 0;
  while (at < a.length && at < b.length && a[at] === b[at]) at++;
  const [restA, restB] = [a.slice(at), b.slice(at)];
  return restA.slice(1) === restB.slice(1) || restA.slice(1) === restB || restA === restB.slice(1);
}

/** Aliases by how many words they have and the letter that they begin with: nobody misspells that. */
const BY_SHAPE = new Map<string, Alias[]>();
const shapeOf = (words: readonly string[]): string => `${words.length} ${words[0]?.[0]}`;
for (const alias of ALIASES) {
  const alike = BY_SHAPE.get(shapeOf(alias.words)) ?? [];
  BY_SHAPE.set(shapeOf(alias.words), [...alike, alias]);
}

/** Instruments that are called so, or would be if nothing were shortened. */
const namedBy = (words: readonly string[]): Instrument[] | undefined =>
  BY_NAME.get(key(words)) ?? (words.length > 1 ? BY_NAME.get(key(inFull(words))) : undefined);

/** Fewer letters are short for too much. */
const LEAST_LETTERS = 4;

/** Words that programs put where no name is: short for no instrument, whatever begins so. */
const OF_FILES =
  /^(music|musicxml|xml|midi|smf|part|track|tracks|staff|stave|instrument|instr|score|channel|chan|file|untitled)$/;

/** What General MIDI has a program for is met more often than what it has none for. */
const isCommon = (instrument: Instrument): boolean => instrumentOfProgram(instrument.program) === instrument;

/** Instruments whose names these words are short for: only where all that fit are one, or the common ones among them. */
function nearly(words: readonly string[]): readonly Instrument[] | undefined {
  if (key(words).length < LEAST_LETTERS || words.some((word) => OF_FILES.test(word))) return undefined;
  const found = new Set<Instrument>();
  for (const { words: whole, instrument } of BY_SHAPE.get(shapeOf(words)) ?? [])
    if (whole.every((word, at) => isNearly(words[at]!, word))) found.add(instrument);
  if (found.size === 1) return [...found];
  const common = [...found].filter(isCommon);
  return common.length === 1 ? common : undefined;
}

/** Words that name a whole kind of instrument, and how the ids of that kind end; the first is the usual one. */
const KINDS: readonly (readonly [words: RegExp, ids: readonly string[]])[] = [
  [
    /^(guitars?|gtrs?|gt|guit|git|gitarren?|guitare|guitarra|chitarra)$/,
    ['classical-guitar', 'electric-guitar', 'acoustic-guitar'],
  ],
  [
    /^(sax|saxes|sx|saxophones?|saxophon|saxofon)$/,
    ['alto-saxophone', 'tenor-saxophone', 'baritone-saxophone', 'soprano-saxophone'],
  ],
  [
    /^(bass|basso)$/,
    ['bass-guitar', 'double-bass', 'synth-bass', 'bass-voice', 'bass-trombone', 'tuba', 'bass-recorder'],
  ],
  [/^(bassus|bassi)$/, ['bass-voice', 'double-bass']],
  [/^horns?$/, ['horn-f', 'alto-horn']],
  [/^bari$/, ['baritone-saxophone', 'baritone']],
  [/^(baritones?|bariton)$/, ['baritone', 'baritone-horn', 'baritone-saxophone', 'baritone-horn-tc']],
  [/^(altos?|alt)$/, ['alto', 'alto-saxophone', 'viola', 'alto-recorder']],
  [/^(altus|alti|contratenor)$/, ['alto', 'countertenor']],
  [/^(tenor|ten|tenore|tenori)$/, ['tenor', 'tenor-saxophone', 'tenor-recorder']],
  [/^(soprano|sop|sopr|sopran|soprani)$/, ['soprano', 'soprano-saxophone', 'recorder']],
  [/^(cantus|superius|discantus|discant)$/, ['soprano', 'treble']],
  [/^canto$/, ['voice', 'soprano']],
  // The voices beyond the four, in books for each (common practice of the 16th century); a quinto is a conga, too.
  [/^quinto$/, ['congas', 'tenor', 'soprano', 'alto', 'baritone', 'bass-voice']],
  [
    /^(quintus|quinta|sesto|sextus|sexta|settimo|septimus|ottavo|octavus)$/,
    ['tenor', 'soprano', 'alto', 'baritone', 'bass-voice'],
  ],
];

/** Words that are said of any instrument's track (common practice). */
const GENERIC =
  /^(melody|melodie|lead|dbl|doubling|acc|accomp|accompaniment|comp|pad|pads|chorus|solo|theme|harmony|rhythm|chords?|riff|part|track|voice|stimme|voix|high|low|fill|line|bells?|keys|keyboard|keyboards|percussion|perc|sub|bass)$/;

/** Whether words say what a track does in the music, and not what plays it. */
export const isRole = (words: string): boolean => GENERIC.test(words);

/** Words for sections that stand before their instruments in libraries' names. */
const SECTIONS: ReadonlySet<string> = new Set(['strings', 'percussion', 'choir', 'brass-section']);

/** A word that is another thing beside an instrument: vibrato, the pedal of an organ, a key. */
const BESIDE: ReadonlySet<string> = new Set([
  'vib',
  'vibes',
  'mar',
  'pad',
  'chor',
  'chorus',
  'cel',
  'a',
  's',
  'b',
  'v',
]);

const ELECTRIC_GUITAR = instrumentOf('electric-guitar');

/** The longest names in words that are looked for. */
const LONGEST = 4;

/** What was found in names lately: the same strands are asked about again and again. */
const known = new Map<string, Match[]>();
const MOST_KNOWN = 5000;

function matchesIn(name: string, words: readonly NameWord[]): Match[] {
  const before = known.get(name);
  if (before) return before;
  if (known.size >= MOST_KNOWN) known.clear();
  const found = searched(words);
  known.set(name, found);
  return found;
}

function searched(words: readonly NameWord[]): Match[] {
  const found: Match[] = [];
  for (let from = 0; from < words.length; from++)
    for (let to = Math.min(words.length, from + LONGEST); to > from; to--) {
      const own = words.slice(from, to).map(({ text }) => text);
      const kind = own.length === 1 ? KINDS.find(([pattern]) => pattern.test(own[0]!)) : undefined;
      // "Violin I" is no plural.
      const isNumbered = own.length > 1 && /^[iv]+$/.test(own.at(-1)!);
      const exact = kind?.[1].map(instrumentOf) ?? (isNumbered ? undefined : namedBy(own));
      const instruments = exact ?? (isNumbered ? undefined : nearly(own));
      const text = own.join(' ');
      const spaced = BY_WORDS.get(text) ?? [];
      if (instruments) found.push({ from, to, text, instruments, spaced, isExact: exact !== undefined });
    }
  // What lies within a longer name is part of that.
  return found.filter(
    (match) =>
      !found.some(
        (other) =>
          other !== match &&
          other.from <= match.from &&
          other.to >= match.to &&
          other.to - other.from > match.to - match.from,
      ),
  );
}

/** What a match is worth by itself. */
function weightOf({ text, from, to, isExact }: Match): number {
  const letters = text.replaceAll(' ', '').length;
  if (from + 1 === to && GENERIC.test(text)) return GENERIC_NAME;
  if (!isExact) return NEAR_NAME;
  if (to - from > 1 || letters > 4) return FULL_NAME;
  return letters > 2 ? SHORT_NAME : letters === 2 ? TWO_LETTERS : ONE_LETTER;
}

/** How many notes there are on each key; the same notes are asked about again and again. */
const histograms = new WeakMap<object, Uint32Array>();

function histogramOf({ notes, lowest, highest }: Evidence): Uint32Array | null {
  if (notes) {
    const before = histograms.get(notes);
    if (before) return before;
    const counts = new Uint32Array(128);
    for (const { key } of notes) if (key >= 0 && key < 128) counts[key]!++;
    histograms.set(notes, counts);
    return counts;
  }
  if (lowest === undefined || highest === undefined) return null;
  return new Uint32Array(128).fill(1, lowest, highest + 1);
}

const OCTAVE = 12;

/**
 * The shares of the notes that an instrument does not have, and that are not
 * comfortable on it. What sounds in another octave than it reads stands in
 * files as it reads as often as not.
 */
function outside(instrument: Instrument, counts: Uint32Array | null): { beyond: number; strained: number } {
  if (!counts || instrument.unpitched) return { beyond: 0, strained: 0 };
  const { lowest, highest, comfortable, transposition } = instrument;
  const share = (low: number, high: number, shift: number): number => {
    let all = 0;
    let out = 0;
    counts.forEach((count, key) => {
      all += count;
      if (key < low - shift || key > high - shift) out += count;
    });
    return all === 0 ? 0 : out / all;
  };
  const isOctaves = transposition.chromatic % OCTAVE === 0 && transposition.chromatic > 0;
  const least = (low: number, high: number) =>
    isOctaves
      ? Math.min(share(low, high, 0), share(low, high, transposition.chromatic))
      : share(low, high, 0);
  return { beyond: least(lowest - REACH, highest + REACH), strained: least(...comfortable) };
}

/** Programs of General MIDI that are struck and have no pitch to speak of, 0–127. */
const isStruck = (program: number | undefined): boolean =>
  program !== undefined && program >= 112 && program < 120;

/** What a melody has at least: notes, different keys, semitones from the lowest to the highest; and shares of its moves. */
const MELODY = { notes: 24, keys: 8, span: 12, small: 0.6, still: 0.5 };
/** A move of so many semitones at most is a small one. */
const SMALL_MOVE = 5;

/**
 * Whether a strand sings: many keys, reached by small moves more than by leaps and strokes on the
 * same. What a single drum has on its keys, or a kit, does not.
 */
function isMelody({ notes, channel, programs }: Evidence, counts: Uint32Array | null): boolean {
  if (!notes || !counts || channel === PERCUSSION_CHANNEL || isStruck(programs[0])) return false;
  const keys = counts.reduce((sum, count) => sum + Math.min(1, count), 0);
  const lowest = counts.findIndex((count) => count > 0);
  const highest = counts.findLastIndex((count) => count > 0);
  if (notes.length < MELODY.notes || keys < MELODY.keys || highest - lowest < MELODY.span) return false;
  let still = 0;
  let small = 0;
  notes.forEach(({ key }, at) => {
    const before = notes[at - 1]?.key;
    if (before === undefined) return;
    if (key === before) still++;
    else if (Math.abs(key - before) <= SMALL_MOVE) small++;
  });
  const moves = notes.length - 1;
  return still <= MELODY.still * moves && small >= MELODY.small * (moves - still);
}

/** Whether it is one drum, plate or stick, and no kit of them. */
const isSingleDrum = ({ unpitched, family, id }: Instrument): boolean =>
  unpitched && family === 'percussion' && !/drum-set|electronic-drums|tom-toms|^percussion/.test(id);

/** From this share of notes on that an instrument does not have, they contradict its name. */
const CONTRADICTED = 0.05;

/** General MIDI has guitars and basses from 24 to 39. */
const isGuitar = ({ program }: Instrument): boolean => program >= 24 && program < 40;

/** What may stand for each other: of what is plucked, guitars and basses, but no harp for them. */
const isKin = (instrument: Instrument, own: Instrument): boolean =>
  instrument.family === own.family && isGuitar(instrument) === isGuitar(own);

interface Candidate {
  score: number;
  match: Match | null;
  /** The share of the notes that the instrument does not have. */
  beyond: number;
}

function candidatesOf(evidence: Evidence, words: readonly NameWord[]): Map<Instrument, Candidate> {
  const matches = matchesIn(evidence.name, words);
  const telling = matches.filter(({ text }) => !BESIDE.has(text));
  const candidates = new Map<Instrument, Candidate>();
  const put = (instrument: Instrument, score: number, match: Match | null) => {
    const before = candidates.get(instrument);
    if (!before || before.score < score) candidates.set(instrument, { score, match, beyond: 0 });
  };
  for (const match of matches) {
    const others = telling.filter((each) => each !== match);
    // "Oboe vib" is no vibraphone, and "Strings Vln 2" no string orchestra.
    if (BESIDE.has(match.text) && others.length > 0) continue;
    match.instruments.forEach((instrument, index) => {
      const isSection = SECTIONS.has(instrument.id) && others.length > 0;
      const isOneOfMany = match.instruments.length > 1;
      const usual =
        (isOneOfMany && index === 0 ? USUAL_OF_KIND : 0) +
        (isOneOfMany && match.spaced.includes(instrument) ? SAME_SPACES : 0);
      put(instrument, weightOf(match) + usual + (isSection ? SECTION : 0), match);
    });
  }
  if (evidence.company === 'voices')
    words.forEach(({ text }, from) => {
      const singer = LETTERS[text];
      const match = { from, to: from + 1, text, spaced: [], isExact: true };
      if (singer) put(instrumentOf(singer), TWO_LETTERS, { ...match, instruments: [instrumentOf(singer)] });
    });
  // What only electric guitars do tells which guitar.
  const isElectric = /distorted|clean|palm mute/.test(techniqueIn(evidence.name, false) ?? '');
  const electric = candidates.get(ELECTRIC_GUITAR);
  if (isElectric && electric) electric.score += SAME_PROGRAM;
  const [program] = evidence.programs;
  if (program !== undefined) {
    const own = instrumentOfProgram(program);
    put(own, 0, null);
    for (const instrument of CATALOGUE) {
      const isOwn = instrument === own || instrument.program === program;
      if (isKin(instrument, own) && !instrument.unpitched && isCommon(instrument)) put(instrument, 0, null);
      const candidate = candidates.get(instrument);
      if (!candidate) continue;
      if (isOwn)
        candidate.score +=
          program === 0 ? DEFAULT_PROGRAM : instrument === own ? SAME_PROGRAM : SAME_PROGRAM - 0.5;
      else if (instrument.family === own.family && program !== 0) candidate.score += SAME_FAMILY;
    }
  }
  const counts = histogramOf(evidence);
  const sings = [...candidates.keys()].some(isSingleDrum) && isMelody(evidence, counts);
  for (const [instrument, candidate] of candidates) {
    if (sings && isSingleDrum(instrument)) candidate.score += NO_DRUM;
    if (isMeant(instrument, candidate.match, evidence)) candidate.score += AT_HOME;
    else if (candidate.match && evidence.company && isSecondChoice(instrument, evidence.company))
      candidate.score += SECOND_CHOICE;
    const { beyond, strained } = outside(instrument, counts);
    candidate.beyond = beyond;
    candidate.score += OUT_OF_RANGE * beyond + UNCOMFORTABLE * strained;
    // Of those that have the notes the one that General MIDI puts nearest.
    if (program !== undefined && !candidate.match)
      candidate.score -= PROGRAM_APART * Math.abs(instrument.program - program);
  }
  return candidates;
}

/**
 * Whether a name of several meanings means an instrument by the company that it is in. Where the
 * strand's own program is that of another of its meanings, the company says nothing.
 */
function isMeant(instrument: Instrument, match: Match | null, { company, programs }: Evidence): boolean {
  if (!match || !company || !isAtHome(instrument, company)) return false;
  const [program] = programs;
  if (!program) return true;
  const own = instrumentOfProgram(program);
  return !match.instruments.some(
    (other) => (other === own || other.program === program) && !isAtHome(other, company),
  );
}

/**
 * Guesses what plays a strand from all that is known of it: the words of its
 * name, its program, its range, its channel. Each instrument that any of them
 * speaks for is weighed; generic words say little, a program that lies in
 * another family than the name less than the name, and what cannot play the
 * notes is not proposed while another can.
 */
export const recogniseInstrument = (evidence: Evidence): InstrumentGuess =>
  remembered(evidence, RECOGNISED, { evidence });

/** Many ask the same of a strand. */
const RECOGNISED = node('recognised', ({ evidence }: { evidence: Evidence }) => recognised(evidence));

function recognised(evidence: Evidence): InstrumentGuess {
  const { chair } = evidence;
  if (!chair)
    return evidence.heading ? recogniseNumber(evidence, evidence.heading) : recogniseWhole(evidence);
  // Of the players that the name numbers (Horns 3+4) the one in this place.
  const whole = recogniseWhole(evidence);
  const player = whole.players[chair.number - 1];
  return {
    ...whole,
    instrument: instrumentOf(chair.instrument),
    number: player ?? null,
    players: player === undefined ? [] : [player],
    confidence: 0.95,
    why: `One player’s line of ${evidence.name || 'its strand'}.`,
    alternatives: [],
  };
}

/** "2." below "Trumpet 1." is the second trumpet, where its notes and program do not say otherwise. */
function recogniseNumber(evidence: Evidence, heading: string): InstrumentGuess {
  const above = recogniseWhole({ ...evidence, name: heading });
  const own = recogniseWhole(evidence);
  const players = playersIn([...nameWords('players'), ...nameWords(evidence.name)], 0, 1);
  if (above.words === null || players.length === 0) return own;
  return {
    ...above,
    number: players[0]!,
    players,
    confidence: BELOW * above.confidence,
    why: `It is a number below “${heading}”.`,
  };
}

/** What the name says, where the notes speak against it; empty where they do not. */
function againstName(candidates: ReadonlyMap<Instrument, Candidate>, guessed: Instrument): string {
  const named = [...candidates].filter(([, { match }]) => match && weightOf(match) !== GENERIC_NAME);
  const beyondOf = new Map(named.map(([instrument, { beyond }]) => [instrument, beyond]));
  if (beyondOf.has(guessed)) return '';
  const [worst] = named.toSorted((a, b) => b[1].score - a[1].score);
  if (!worst || worst[1].beyond < CONTRADICTED) return '';
  return ` The name says ${worst[0].name}, which does not have ${Math.round(100 * worst[1].beyond)} % of its notes: they speak for ${guessed.name}.`;
}

function recogniseWhole(evidence: Evidence): InstrumentGuess {
  const words = nameWords(evidence.name);
  const candidates = candidatesOf(evidence, words);
  const ranked = [...candidates].sort((a, b) => b[1].score - a[1].score);
  const [first] = ranked;
  const named = first?.[1].match ? first : undefined;
  const technique = (instrument: Instrument | undefined) =>
    techniqueIn(evidence.name, instrument?.id === 'horn-f') ?? techniqueOfPrograms(evidence.programs);
  if (evidence.channel === PERCUSSION_CHANNEL && !named?.[0].unpitched)
    return {
      instrument: instrumentOf('drum-set'),
      number: null,
      players: [],
      technique: technique(undefined),
      confidence: 0.9,
      why: 'It is on the percussion channel.',
      words: null,
      alternatives: [],
    };
  if (!first)
    return {
      instrument: instrumentOf('piano'),
      number: null,
      players: [],
      technique: technique(undefined),
      confidence: 0.2,
      why: 'Neither name nor program tells.',
      words: null,
      alternatives: [],
    };
  const [instrument, { score, match }] = first;
  const alternatives = ranked
    .slice(1)
    .filter(([, other]) => other.score > score - NEAR && other.score > 0)
    .map(([other]) => other)
    .slice(0, 4);
  const [program] = evidence.programs;
  const ofProgram = program === undefined ? null : instrumentOfProgram(program);
  if (!match)
    return {
      instrument,
      // A name that says nothing of the instrument numbers the track, not the player.
      number: null,
      players: [],
      technique: technique(instrument),
      confidence: program === 0 ? 0.3 : 0.5,
      why: `${
        instrument === ofProgram
          ? `Its program is ${(program ?? 0) + 1}.`
          : `Its program is ${(program ?? 0) + 1}, and its range is that of ${instrument.name}.`
      }${againstName(candidates, instrument)}`,
      words: null,
      alternatives,
    };
  const players = playersIn(words, match.from, match.to);
  const letters = match.text.replaceAll(' ', '').length;
  const sure = match.to - match.from > 1 || letters > 4 ? 0.95 : letters > 2 ? 0.85 : 0.7;
  // Words that are said of any track are believed where the program says the same.
  const isGeneric = weightOf(match) === GENERIC_NAME;
  const isChosen = match.instruments.length > 1 && match.instruments[0] !== instrument;
  const { company } = evidence;
  const isInCompany =
    company !== undefined &&
    (isAtHome(instrument, company) || isSecondChoice(instrument, company)) &&
    (isGeneric || letters === 1 || match.instruments.length > 1);
  return {
    instrument,
    number: players[0] ?? null,
    players,
    technique: technique(instrument),
    confidence: isInCompany
      ? IN_COMPANY
      : isGeneric
        ? ofProgram === instrument
          ? 0.85
          : 0.4
        : match.instruments.length > 1
          ? Math.min(sure, 0.9)
          : sure,
    why: isInCompany
      ? `Its name contains "${match.text}", and it stands ${AMONG[company]}.`
      : isChosen
        ? `Its name contains "${match.text}", and its program or range says which.`
        : `Its name contains "${match.text}".`,
    words: match.text,
    alternatives,
  };
}
