import { asTitle, isRemark } from '../basics/titles';
import type { Instrument } from '../instruments/catalogue';
import { type InstrumentGuess, isRole } from '../instruments/recognise';
import type { Strand } from '../model/performance';

/** What a part is called, and shortened to. */
export interface PartName {
  name: string;
  abbreviation: string;
  /** The first player of it, from 1, by which parts alike are ordered; 0 for none. */
  player: number;
}

/** A part that is to be named. */
export interface Unnamed {
  /** The strand that leads it; none for a part that was added. */
  leader: Strand | null;
  guess: InstrumentGuess | null;
  instrument: Instrument;
  /** The instrument was chosen, or is of both hands, so that the part is named by it. */
  isChosen: boolean;
  players: readonly number[];
  technique: string | null;
}

const ROMAN = ['', 'I', 'II', 'III', 'IV', 'V', 'VI', 'VII', 'VIII', 'IX', 'X', 'XI', 'XII'];

/** A part's name with its players: Roman for violins, Arabic for the others. */
export function numbered(text: string, instrument: Instrument, players: readonly number[] | null): string {
  if (players === null) return text;
  const written = players.map((player) => (instrument.romanNumbers ? (ROMAN[player] ?? player) : player));
  return `${text} ${written.join('+')}`;
}

/** What programs call a track that nobody named. */
const PLACEHOLDER =
  /^(staff|instrument|inst|part|channel|ch|chan|voice|strand|stream|port|device|output|out|new|empty|audio|none|no name|default|unknown|smart ?music|piano roll)?[\s#:.\-_]*\d*$/i;
/** More letters or words do not stand before a staff. */
const LONGEST = 28;
const MOST_WORDS = 4;

const isName = (name: string): boolean =>
  asTitle(name) !== '' &&
  /\p{L}/u.test(name) &&
  !PLACEHOLDER.test(name) &&
  !isRemark(name) &&
  name.length <= LONGEST &&
  name.split(/\s+/).length <= MOST_WORDS;

/** One word in full, as Canto or Bassus. */
const VOICE_NAME = /^\p{Lu}\p{L}{3,}$/u;

/** The number or letter behind a name that is otherwise an instrument's in full; '' for none, null where it is no such name. */
function designation(name: string, { names }: Instrument): string | null {
  for (const full of [names.en.one, names.en.many]) {
    if (name === full) return '';
    const rest = name.startsWith(`${full} `) ? name.slice(full.length + 1) : '';
    if (/^(\d{1,2}|[A-H]|[IVX]{1,4})$/.test(rest)) return rest;
  }
  return null;
}

/** A name that says nothing of an instrument, shortened: longer words to four letters (common practice). */
const shortened = (name: string): string =>
  name.length <= 8
    ? name
    : name
        .split(/\s+/)
        .map((word) => (word.length > 5 && /^\p{L}+$/u.test(word) ? `${word.slice(0, 4)}.` : word))
        .join(' ');

/**
 * The name that a strand brings along, where it is one to keep: a role (melody, riff), one that
 * nobody knows, or an instrument's in full, with its own number or letter. Others are written out
 * by the catalogue.
 */
function ownName({ leader, guess, instrument, isChosen }: Unnamed): PartName | null {
  const name = leader?.name.trim() ?? '';
  if (!leader || !guess || isChosen || leader.piece || leader.chair || leader.heading) return null;
  if (!isName(name)) return null;
  // Singers are called as their books call them.
  if (leader.company === 'voices' && VOICE_NAME.test(name))
    return { name, abbreviation: `${name[0]}.`, player: guess.players[0] ?? 0 };
  if (guess.words === null || isRole(guess.words))
    return { name, abbreviation: shortened(name), player: guess.players[0] ?? 0 };
  const own = designation(name, instrument);
  if (!own) return null;
  return { name, abbreviation: `${instrument.abbreviation} ${own}`, player: guess.players[0] ?? 0 };
}

/** The letter of a section that is divided (Violins A, B, C); null for none. */
const letterOf = ({ leader, players }: Unnamed): string | null =>
  players.length > 0 ? null : (/[\s._-]([A-H])$/.exec(leader?.name.trim() ?? '')?.[1] ?? null);

/**
 * Names for parts. Those for the same instrument are told apart as their own names tell them: by
 * the players that they number, each once, or by letters; the others take the numbers that are
 * left, in order. Two that name the same players and play in different ways say how. A lone part
 * without a number keeps its plain name.
 */
export function nameParts(parts: readonly Unnamed[]): PartName[] {
  const names = withoutTitles(parts, parts.map(ownName));
  for (const id of new Set(parts.map(({ instrument }) => instrument.id))) {
    const alike = parts.flatMap((part, at) => (part.instrument.id === id ? [at] : []));
    nameAlike(parts, alike, names);
  }
  return apart(
    parts.map(({ instrument: { name, abbreviation } }, at) => names[at] ?? { name, abbreviation, player: 0 }),
  );
}

/** What parts for several instruments are called alike, and nobody knows, is the name of the piece. */
function withoutTitles(parts: readonly Unnamed[], names: readonly (PartName | null)[]): (PartName | null)[] {
  const instruments = new Map<string, Set<string>>();
  names.forEach((own, at) => {
    const { guess, instrument } = parts[at]!;
    if (own && guess?.words === null)
      instruments.set(own.name, (instruments.get(own.name) ?? new Set()).add(instrument.id));
  });
  return names.map((own) => (own && (instruments.get(own.name)?.size ?? 0) > 1 ? null : own));
}

/** Names the parts for one instrument, at `alike`, that have none yet. */
function nameAlike(parts: readonly Unnamed[], alike: readonly number[], names: (PartName | null)[]): void {
  const taken = new Map<number, string | null>();
  const put = (at: number, player: number, name: (text: string) => string) => {
    const { instrument } = parts[at]!;
    names[at] ??= { name: name(instrument.name), abbreviation: name(instrument.abbreviation), player };
  };
  for (const at of alike) {
    const { players, technique, instrument } = parts[at]!;
    if (players.length === 0) continue;
    if (!players.some((player) => taken.has(player)))
      put(at, players[0]!, (text) => numbered(text, instrument, players));
    else if (players.every((player) => taken.has(player) && taken.get(player) !== technique))
      put(at, players[0]!, (text) => `${numbered(text, instrument, players)} (${technique ?? 'ordinary'})`);
    else continue;
    for (const player of players) if (!taken.has(player)) taken.set(player, technique);
  }
  const letters = alike.flatMap((at) => letterOf(parts[at]!) ?? []).sort();
  const areLettered = letters.length > 1 && letters.every((letter, at) => letter === 'ABCDEFGH'[at]);
  const left = alike.filter((at) => names[at] === null);
  if (areLettered)
    for (const at of left) {
      const letter = letterOf(parts[at]!);
      if (letter) put(at, 'ABCDEFGH'.indexOf(letter) + 1, (text) => `${text} ${letter}`);
    }
  const last = Math.max(0, ...taken.keys());
  nameTechniques(parts, alike, (at, name) => put(at, last, name));
  // A part that keeps a name of its own needs no number, and leaves none out.
  const unsettled = alike.filter((at) => names[at] === null || parts[at]!.players.length > 0);
  if (unsettled.length === 1) return;
  let next = 1;
  for (const at of left) {
    if (names[at] !== null) continue;
    while (taken.has(next)) next++;
    taken.set(next, null);
    put(at, next, (text) => numbered(text, parts[at]!.instrument, [next]));
  }
}

/**
 * A strand that says how it is played and not by whom is the same players as the others, played so: muted trumpets
 * beside open ones are no more trumpets.
 */
function nameTechniques(
  parts: readonly Unnamed[],
  alike: readonly number[],
  put: (at: number, name: (text: string) => string) => void,
): void {
  const unnumbered = alike.filter((at) => parts[at]!.players.length === 0 && !letterOf(parts[at]!));
  const countOf = (technique: string | null) =>
    unnumbered.filter((at) => parts[at]!.technique === technique).length;
  if (alike.length === unnumbered.length && countOf(null) !== 1) return;
  for (const at of unnumbered) {
    const { technique } = parts[at]!;
    if (technique !== null && countOf(technique) === 1) put(at, (text) => `${text} (${technique})`);
  }
}

/** Names of which several are the same get numbers behind them. */
function apart(names: readonly PartName[]): PartName[] {
  const counts = new Map<string, number>();
  for (const { name } of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  const used = new Map<string, number>();
  return names.map((own) => {
    if (counts.get(own.name) === 1) return own;
    const number = (used.get(own.name) ?? 0) + 1;
    used.set(own.name, number);
    return { ...own, name: `${own.name} ${number}`, abbreviation: `${own.abbreviation} ${number}` };
  });
}
