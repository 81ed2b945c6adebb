import type { PlainDirective } from '../decisions/kinds';
import type { EventId } from '../model/ids';
import type { Lyric } from '../model/marks';
import { beatsOf } from '../model/meter';
import type { Chord, Part, Score, VoiceLine } from '../model/score';
import { readSyllable, typedSyllable } from '../model/syllable';
import { type Moment, QUARTER } from '../model/time';
import { divide, type WordLanguage } from './syllables';

/** What is to stand under a line of notes. */
export interface LyricsRequest {
  /** Index of the part. */
  part: number;
  /** Under these notes alone; one of them: from it on; none: under the part's upper voice, whole. */
  notes: readonly EventId[];
  /** From 1. */
  verse: number;
  /** A slur holds its syllable. */
  slurs: boolean;
  /** Words by lines: hyphens between syllables, `_` a note more for the one before, `*` a note without a word. */
  text: string;
  /** Lines begin where the tune breathes; else each syllable has the next note. */
  fit: boolean;
}

/** The notes that are meant, and how they are sung. */
export type LyricsLine = Omit<LyricsRequest, 'text' | 'fit'>;

export interface LaidSyllable {
  /** Index of the bar. */
  bar: number;
  note: EventId;
  text: string;
}

/** Words laid under notes: what would stand there, and what finds no place. */
export interface LaidLyrics {
  laid: LaidSyllable[];
  /** Syllables for which no note is left. */
  left: string[];
  /** Notes after the last syllable. */
  free: number;
  /** Whether lines begin where the tune breathes: what is too long has the next note for each syllable. */
  isFitted: boolean;
  /** What gives the notes these syllables; nothing where they have them. */
  directives: PlainDirective[];
}

/** A note that can take a syllable. */
interface Place {
  note: EventId;
  bar: number;
  chord: Chord;
  /** How surely a line of words can begin here, from 0 to 1: after a rest, a fermata, a long note. */
  start: number;
  /** How little it asks for a syllable of its own, as a factor: off the beat, beamed to the note before. */
  ease: number;
  /** Notes under a slur follow. */
  isHeld: boolean;
}

/** A note this many times as long as the line's usual one is the end of a line, as likely as this. */
const LONG = 2;
const AFTER_LONG = 0.5;
/** A line of words begins after a comma as likely as this. */
const AFTER_COMMA = 0.5;
/** The price of holding a syllable over a note off the beat, and over one beamed to the note before: by so much. */
const OFF_BEAT = 0.5;
const BEAMED = 0.5;

/** Prices by which words are laid where there are more notes than syllables or fewer; chosen on the chorales of even number in `bench:lyrics`. */
const PRICES = {
  /** A line of words begins, or the last ends, where the tune does not breathe. */
  lineAstray: 1,
  /** A syllable on a note that hardly asks for one. */
  weak: 0.3,
  /** The tune breathes within a line of words. */
  breathWithin: 0.6,
  /** A syllable is held over one more note, and over a breath. */
  held: 1.2,
  heldOverBreath: 2,
  /** A note without a word between two lines, and after the last. */
  between: 0.8,
  after: 0.05,
  /** A syllable without a note. */
  left: 3,
};

/** More syllables times notes than this are laid one after the other. */
const MOST = 4_000_000;

interface Syllable {
  typed: string;
  /** How surely it begins a line of words, from 0 to 1: where one does, or after a comma or the like. */
  first: number;
  /** Notes that it has beside its own, as was asked for. */
  more: number;
  /** Notes without a word before it, as was asked for. */
  skipped: number;
}

/** What a text says to be sung, in order. */
function syllablesOf(text: string): Syllable[] {
  const out: Syllable[] = [];
  let skipped = 0;
  let number = '';
  for (const line of text.normalize('NFC').split(/\r?\n/)) {
    let first = 1;
    for (const token of line.split(BETWEEN_WORDS).filter(Boolean)) {
      const last = out.at(-1);
      if (/^\*+$/.test(token)) skipped += token.length;
      else if (/^[-_]+$/.test(token)) {
        if (last) last.more += heldIn(token);
      }
      // The number of a verse stands with its first syllable, a sign by itself with the last.
      else if (/^\d+[.)]$/.test(token)) number = `${token} `;
      else if (!/[\p{L}\p{N}]/u.test(token)) {
        if (last && !last.typed.endsWith('-')) last.typed += ` ${token}`;
      } else
        for (const typed of syllablesIn(token.replaceAll('\u00a0', ' '))) {
          const before = out.at(-1);
          if (/^[-_]+$/.test(typed)) {
            if (before) before.more += heldIn(typed);
            continue;
          }
          const bare = typed.replace(/_+(?=-?$)/, '').replace(/^-?/, (hyphen) => `${hyphen}${number}`);
          out.push({ typed: bare, first, more: heldIn(typed), skipped });
          [first, skipped, number] = [0, 0, ''];
        }
      if (/[,;:.!?]$/.test(token)) first = AFTER_COMMA;
    }
  }
  return out;
}

/** A space that does not break belongs to its syllable. */
const BETWEEN_WORDS = /[^\S\u00a0]+/;

const heldIn = (typed: string): number => /_*(?=-*$)/.exec(typed)?.[0].length ?? 0;

/** The syllables of a word between its hyphens, each with those that say so. */
function syllablesIn(word: string): string[] {
  const parts = word.split('-');
  return parts.flatMap((part, at) =>
    part === '' ? [] : `${at > 0 ? '-' : ''}${part}${at < parts.length - 1 ? '-' : ''}`,
  );
}

/** The words of a text divided into their syllables; those that have hyphens or signs of their own stay. */
export const divideText = (text: string, language: WordLanguage): string =>
  text.replace(/\S+/g, (word) => (/.[-_~]./.test(word) ? word : divide(word, language).join('-')));

/** The notes of a line that can take a syllable, in order. */
function placesOf(score: Score, { part: index, notes, slurs }: LyricsLine): Place[] {
  const part = score.parts[index];
  if (!part) return [];
  const wanted = new Set(notes);
  const line = lineOf(part, wanted);
  const held = slurs ? heldBySlurs(part, line) : new Set<string>();
  const out: (Place & { at: Moment; length: number })[] = [];
  let end: Moment | null = null;
  let breathes = true;
  part.bars.forEach((bar, at) => {
    const written = score.bars[at]!;
    const beats = new Set(beatsOf(written).map(({ start }) => start - written.missing));
    for (const { voice, staff, items } of bar.voices) {
      if (voice !== line.voice || staff !== line.staff) continue;
      for (const item of items) {
        if (item.kind === 'rest' || item.cue) continue;
        const [head] = item.notes;
        const from = written.start + item.onset;
        if (end !== null && from > end) breathes = true;
        end = from + item.duration;
        const note = head?.sources[0];
        const last = out.at(-1);
        if (head && note && !head.tieStop && !held.has(head.id)) {
          const isOff = !beats.has(item.onset);
          const isBeamed = item.beams?.[0] === 'continue' || item.beams?.[0] === 'end';
          const ease = (isOff ? OFF_BEAT : 1) * (isBeamed ? BEAMED : 1);
          const start = breathes ? 1 : 0;
          out.push({
            note,
            bar: at,
            chord: item,
            start,
            ease,
            isHeld: false,
            at: from,
            length: item.duration,
          });
          breathes = false;
        } else if (last) {
          last.length = end - last.at;
          if (!head?.tieStop) last.isHeld = true;
        }
        if (item.marks?.some(({ kind }) => kind === 'fermata' || kind === 'breath' || kind === 'caesura'))
          breathes = true;
      }
    }
  });
  const lengths = out.map(({ length }) => length).sort((a, b) => a - b);
  const usual = lengths[lengths.length >> 1] ?? QUARTER;
  out.forEach((place, at) => {
    const before = out[at - 1];
    if (before && place.start === 0 && before.length >= LONG * usual) place.start = AFTER_LONG;
  });
  if (wanted.size === 0) return out;
  const first = out.findIndex(({ note }) => wanted.has(note));
  if (first < 0) return [];
  return wanted.size === 1 ? out.slice(first) : out.filter(({ note }) => wanted.has(note));
}

type Line = Pick<VoiceLine, 'voice' | 'staff'>;

/** The voice and staff of the chosen notes, or the upper ones. */
function lineOf(part: Part, wanted: ReadonlySet<EventId>): Line {
  if (wanted.size > 0)
    for (const { voices } of part.bars)
      for (const { voice, staff, items } of voices)
        for (const item of items)
          if (item.kind === 'chord' && item.notes.some(({ sources }) => sources.some((id) => wanted.has(id))))
            return { voice, staff };
  return { voice: 1, staff: 1 };
}

/** The notes of a line under slurs but for those that begin them. */
function heldBySlurs(part: Part, { voice, staff }: Line): ReadonlySet<string> {
  const chords = part.bars.flatMap(({ voices }) =>
    voices.flatMap((line) =>
      line.voice === voice && line.staff === staff
        ? line.items.flatMap((item) => (item.kind === 'chord' ? [item] : []))
        : [],
    ),
  );
  const order = new Map(chords.flatMap(({ notes }, at) => notes.map(({ id }) => [id, at])));
  const held = new Set<string>();
  for (const spanner of part.spanners ?? []) {
    if (spanner.kind !== 'slur' || !('note' in spanner.from) || !('note' in spanner.to)) continue;
    const [from, to] = [order.get(spanner.from.note), order.get(spanner.to.note)];
    if (from === undefined || to === undefined) continue;
    for (const { notes } of chords.slice(from + 1, to + 1)) for (const { id } of notes) held.add(id);
  }
  return held;
}

/** For each syllable the index of its place; -1 where none is left. @param isFixed the first syllable has the first place */
function laidAt(syllables: readonly Syllable[], places: readonly Place[], isFixed: boolean): number[] {
  const [rows, columns] = [syllables.length, places.length];
  // Each state: so many syllables are laid, and so many places are past.
  const width = columns + 1;
  const price = new Float64Array((rows + 1) * width).fill(Number.POSITIVE_INFINITY);
  /** The place that the last syllable took; or, before the first state, nothing. */
  const came = new Int32Array((rows + 1) * width).fill(-1);
  const took = new Uint8Array((rows + 1) * width);
  price[0] = 0;
  const offer = (to: number, cost: number, from: number, takes: boolean) => {
    if (cost >= price[to]!) return;
    price[to] = cost;
    came[to] = from;
    took[to] = takes ? 1 : 0;
  };
  for (let row = 0; row <= rows; row++)
    for (let at = 0; at < columns; at++) {
      const here = row * width + at;
      const cost = price[here]!;
      if (cost === Number.POSITIVE_INFINITY) continue;
      const { start, ease } = places[at]!;
      const next = syllables[row];
      if (next) {
        const from = at + next.skipped;
        const place = places[from];
        const past = Math.min(columns, from + 1 + next.more);
        if (place) {
          const astray =
            PRICES.lineAstray * next.first * (1 - place.start) +
            PRICES.breathWithin * (1 - next.first) * place.start;
          // What follows the last word is another line, too.
          const rest = row + 1 === rows ? (places[past]?.start ?? 1) : 1;
          const own = astray + PRICES.weak * (1 - place.ease) + PRICES.lineAstray * (1 - rest);
          offer((row + 1) * width + past, cost + own, here, true);
        }
        if (row > 0) offer(here + 1, cost + PRICES.held * ease + PRICES.heldOverBreath * start, here, false);
        if (next.first > 0 && (row > 0 || !isFixed)) offer(here + 1, cost + PRICES.between, here, false);
      } else offer(here + 1, cost + PRICES.after, here, false);
    }
  let best = rows;
  const final = (row: number) => price[row * width + columns]! + PRICES.left * (rows - row);
  for (let row = rows - 1; row >= 0; row--) if (final(row) < final(best)) best = row;
  const out = new Array<number>(rows).fill(-1);
  for (let state = best * width + columns; came[state]! >= 0; state = came[state]!) {
    if (took[state] !== 1) continue;
    const row = Math.floor(state / width) - 1;
    out[row] = (came[state]! % width) + (syllables[row]?.skipped ?? 0);
  }
  return out;
}

function inTurn(syllables: readonly Syllable[], count: number): number[] {
  let at = 0;
  return syllables.map(({ more, skipped }) => {
    const own = at + skipped;
    at = own + 1 + more;
    return own < count ? own : -1;
  });
}

const wordOf = ({ chord }: Place, verse: number): Lyric | undefined =>
  chord.lyrics?.find((lyric) => (lyric.verse ?? 1) === verse);

/**
 * Lays words under a line of notes: one syllable a note, ties and, if wanted, slurs held. If lines are to begin where the tune
 * breathes, dynamic programming over notes and syllables finds the cheapest way (`PRICES`). What stood under these notes in
 * this verse goes.
 */
export function layLyrics(score: Score, request: LyricsRequest): LaidLyrics {
  const { verse } = request;
  const places = placesOf(score, request);
  const syllables = syllablesOf(request.text);
  const isFitted = request.fit && syllables.length * places.length <= MOST;
  const laid = isFitted
    ? laidAt(syllables, places, request.notes.length > 0)
    : inTurn(syllables, places.length);
  const typedAt = new Map<number, string>();
  syllables.forEach(({ typed }, index) => {
    const at = laid[index]!;
    if (at < 0) return;
    const next = laid.slice(index + 1).find((other) => other >= 0) ?? at + 1;
    const goesOn = typed.endsWith('-') || typed.endsWith('_');
    const isHeld =
      places[at]!.isHeld ||
      syllables[index]!.more > 0 ||
      (next > at + 1 && !isBetween(places, at, next, syllables[index + 1]));
    typedAt.set(at, isHeld && !goesOn ? `${typed}_` : typed);
  });
  const ends = Math.max(-1, ...laid);
  return {
    laid: [...typedAt].map(([at, text]) => ({ bar: places[at]!.bar, note: places[at]!.note, text })),
    left: syllables.flatMap(({ typed }, index) => (laid[index]! < 0 ? [typed] : [])),
    free: places.length - 1 - ends,
    isFitted,
    directives: places.flatMap((place, at): PlainDirective[] => {
      const before = wordOf(place, verse);
      const text = typedAt.get(at);
      if (isSame(before, text)) return [];
      const own = { kind: 'sign' as const, note: place.note, sign: 'lyric' as const };
      const inVerse = verse === 1 ? {} : { verse };
      return [{ ...own, put: text !== undefined, ...(text !== undefined && { text }), ...inVerse }];
    }),
  };
}

/** Whether a syllable is the one that stands there; a line after it is a matter of print. */
function isSame(before: Lyric | undefined, typed: string | undefined): boolean {
  if (!before || typed === undefined) return before === undefined && typed === undefined;
  const bare = ({ extends: _, ...others }: Lyric) => typedSyllable(others);
  return bare(before) === bare(readSyllable(typed));
}

/** Whether the notes between two syllables stand between two lines of words, and are no held ones. */
const isBetween = (
  places: readonly Place[],
  at: number,
  next: number,
  following: Syllable | undefined,
): boolean =>
  (following?.skipped ?? 0) > 0 ||
  ((following?.first ?? 0) > 0 && places.slice(at + 1, next).some(({ start }) => start === 1));

/** The verses that stand under a part, from 1. */
export const versesUnder = (score: Score, part: number): number[] =>
  [
    ...new Set(
      (score.parts[part]?.bars ?? []).flatMap(({ voices }) =>
        voices.flatMap(({ items }) =>
          items.flatMap((item) =>
            item.kind === 'chord' ? (item.lyrics ?? []).map(({ verse = 1 }) => verse) : [],
          ),
        ),
      ),
    ),
  ].sort((a, b) => a - b);

/** The words that stand under a line of notes, as `layLyrics` takes them. */
export function lyricsText(score: Score, request: LyricsLine): string {
  const places = placesOf(score, request);
  const words = places.map((place) => wordOf(place, request.verse));
  const last = words.findLastIndex(Boolean);
  let text = '';
  let goesOn = false;
  let isHeld = false;
  for (const [at, place] of places.slice(0, last + 1).entries()) {
    const lyric = words[at];
    const gap = at === 0 ? '' : place.start === 1 && !goesOn ? '\n' : ' ';
    if (!lyric) text += goesOn || isHeld ? (goesOn ? '_-' : ' _') : `${gap}*`;
    else {
      const typed = typedSyllable(lyric).replace(/^-/, '').replace(/_$/, '').replaceAll(' ', '\u00a0');
      text += goesOn ? typed : `${gap}${typed}`;
      goesOn = lyric.syllabic === 'begin' || lyric.syllabic === 'middle';
      isHeld = lyric.extends === true;
    }
  }
  return text;
}
