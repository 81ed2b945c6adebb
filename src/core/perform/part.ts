import {
  barIndexOf,
  type Chord,
  type Item,
  type Note,
  type Part,
  type PartBar,
  type Score,
  type VoiceLine,
  writtenKeys,
} from '../model/score';
import { sungText } from '../model/syllable';
import { type Moment, QUARTER, type Span } from '../model/time';
import type { Course } from './course';
import { accentOf, dynamicsOf } from './dynamics';
import { type Glide, glidesOf, glissando } from './glides';
import { heldShare } from './lengths';
import { ornamented, ornamentOf, type Stroke } from './ornaments';
import { playersOf } from './players';
import type { PerformSettings } from './settings';
import { slurredOf } from './slurs';
import { swungMoments } from './swing';
import { techniquesOf } from './techniques';
import { strokeSpan, strokesOver, tremoloOf } from './tremolo';

/** A grace note lasts a 32nd and takes it from the note before (common practice). */
const GRACE = QUARTER / 8;
/** Notes of a broken chord follow each other by at most this (common practice: a 64th). */
const ROLLED = QUARTER / 16;
/** Where dynamics are not played out by how hard notes are struck. */
const FLAT = 80;

/** A note to sound, by moments of the playing; sounding key. */
export interface Sounding {
  from: Moment;
  to: Moment;
  key: number;
  velocity: number;
  /** The written note with which it begins. */
  note: string;
  /** How it is played, beyond the ordinary. */
  technique?: string;
  /** Which of several players play it, from 1. */
  players?: number[];
}

/** A part as it is played. */
export interface PlayedPart {
  notes: Sounding[];
  lyrics: { at: Moment; text: string }[];
  /** Stretches that are held. */
  fermatas: { from: Moment; to: Moment }[];
  /** Notes that slide to another key in their second half. */
  slides: { from: Moment; to: Moment; by: number }[];
}

/** What all notes of a part share while it is played. */
interface Playing {
  settings: PerformSettings;
  part: Part;
  notes: Sounding[];
  held: Map<string, Sounding>;
  slides: PlayedPart['slides'];
  glides: ReadonlyMap<string, Glide>;
}

/** How the notes of one chord are struck. */
interface Manner {
  velocity: number;
  /** Share of its value that it is held. */
  share: number;
  /** How far it sounds into what follows. */
  overlap: Span;
  /** Keys of what follows: they are not overlapped. */
  next: ReadonlySet<number>;
  technique?: string;
  /** For each note from low to high. */
  players: readonly (readonly number[])[] | null;
}

/**
 * Plays a part along the course of its score.
 *
 * @param overlapAt how long a note under a slur sounds into the next, by its written moment
 */
export function playPart(
  score: Score,
  part: Part,
  settings: PerformSettings,
  { order, starts }: Course,
  overlapAt: (written: Moment) => Span,
): PlayedPart {
  const dynamics = dynamicsOf(score, part);
  const keys = writtenKeys(score, part);
  const isSlurred = settings.slurOverlap > 0 ? slurredOf(score, part) : () => false;
  const techniqueOf = techniquesOf(score, part);
  const sharesOf = playersOf(score, part);
  const swung = settings.swing ? swungOf(score, part) : (moment: Moment) => moment;
  const playing: Playing = {
    settings,
    part,
    notes: [],
    held: new Map(),
    slides: [],
    glides: settings.glides ? glidesOf(part) : new Map(),
  };
  const lyrics: PlayedPart['lyrics'] = [];
  const fermatas: PlayedPart['fermatas'] = [];
  order.forEach(({ bar, from, to, pass }, index) => {
    const written = soundingBar(part.bars, bar);
    if (!written) return;
    const { start } = score.bars[bar]!;
    /** The moment of the playing of a moment in this bar. */
    const played = (moment: Moment): Moment => starts[index]! - from + swung(start + moment) - start;
    const fifths = keys.findLast((key) => key.bar < bar || (key.bar === bar && key.at === 0))?.fifths ?? 0;
    const taken = new Set<Chord>();
    const sung = sungVerse(written, pass);
    for (const line of written.voices)
      for (const [nth, item] of line.items.entries()) {
        if (item.kind !== 'chord' || item.cue || item.onset < from || item.onset >= to) continue;
        const at = played(item.onset);
        const until = Math.min(played(item.onset + item.duration), starts[index]! + (to - from));
        const place = start + item.onset;
        const level =
          settings.dynamics === 'velocity' || settings.dynamics === 'both' ? dynamics.at(place) : FLAT;
        const attack = settings.dynamics === 'none' ? 0 : dynamics.attack(place);
        const isJoined = isSlurred(line.staff, line.voice, place);
        const next = isJoined ? following(line, nth, part, order[index + 1]?.bar) : undefined;
        const manner: Manner = {
          velocity: clamp(level + attack + (settings.articulation ? accentOf(item.marks) : 0)),
          share: settings.articulation ? heldShare(item) : 1,
          overlap: next ? overlapAt(place) : 0,
          next: new Set(next?.notes.map(({ key }) => key)),
          players: sharesOf?.(bar, line, item) ?? null,
        };
        const technique = techniqueOf(place, line.staff, item.marks);
        if (technique) manner.technique = technique;
        if (settings.graces) playGraces(item, at, until, manner, playing.notes);
        const partner = settings.ornaments ? partnerOf(line.items, nth) : undefined;
        if (partner) taken.add(partner);
        if (partner)
          for (const stroke of strokesBetween(item, partner)) putStroke(stroke, at, manner, item, playing);
        // What takes turns with the chord before it has been struck with that.
        else if (!taken.has(item)) playChord(item, at, until, fifths, manner, playing);
        if (settings.fermatas && item.marks?.some(({ kind }) => kind === 'fermata'))
          fermatas.push({ from: at, to: until });
        for (const lyric of item.lyrics ?? [])
          if ((lyric.verse ?? 1) === sung) lyrics.push({ at, text: sungText(lyric) });
      }
  });
  return { notes: playing.notes, lyrics, fermatas, slides: playing.slides };
}

const hasChords = ({ voices }: PartBar): boolean =>
  voices.some(({ items }) => items.some(({ kind }) => kind === 'chord'));

/** What sounds in a bar: of a sign that repeats the bar before, and has no notes of its own, what sounded there. */
function soundingBar(bars: readonly PartBar[], index: number): PartBar | undefined {
  let at = index;
  while (at > 0 && bars[at]?.shown === 'repeat' && !hasChords(bars[at]!)) at--;
  return bars[at];
}

/** How written moments of a part sound where the score is swung. */
function swungOf(score: Score, part: Part): (moment: Moment) => Moment {
  if (!score.swings) return (moment) => moment;
  const attacks = part.bars.flatMap(({ voices }, index) =>
    voices.flatMap(({ items }) =>
      items.flatMap((item) =>
        item.kind === 'chord' ? [{ start: score.bars[index]!.start + item.onset }] : [],
      ),
    ),
  );
  return swungMoments(score, attacks, (moment) => score.bars[barIndexOf(score.bars, moment)]!);
}

/** The chord that follows in a line without a rest between. @param next the bar that is played next */
function following(line: VoiceLine, nth: number, part: Part, next: number | undefined): Chord | undefined {
  const inBar = line.items[nth + 1];
  const item =
    inBar ??
    (next === undefined
      ? undefined
      : part.bars[next]?.voices.find(({ staff, voice }) => staff === line.staff && voice === line.voice)
          ?.items[0]);
  return item?.kind === 'chord' ? item : undefined;
}

function playChord(
  item: Chord,
  at: Moment,
  until: Moment,
  fifths: number,
  manner: Manner,
  playing: Playing,
): void {
  const { settings, part, glides } = playing;
  for (const [order, note] of item.notes.entries()) {
    const glide = glides.get(note.id);
    const own =
      glide && !glide.slides && !note.tieStop
        ? glissando(note, glide.to, part, until - at, fifths)
        : settings.ornaments
          ? playedOut(item, note, order, until - at, fifths)
          : null;
    if (own) {
      for (const stroke of own) putStroke({ ...stroke, note: note.id }, at, manner, item, playing);
      continue;
    }
    if (glide?.slides)
      playing.slides.push({ from: (at + until) / 2, to: until, by: glide.to.key - note.key });
    strike(note, order, at, until, manner, playing);
  }
}

function putStroke(
  { from, to, key, note }: Stroke & { note: string },
  at: Moment,
  { velocity, technique, players }: Manner,
  { notes }: Chord,
  playing: Playing,
): void {
  const order = notes.findIndex(({ id }) => id === note);
  playing.notes.push({
    from: at + from,
    to: at + to,
    key,
    velocity,
    note,
    ...(technique && { technique }),
    ...(players && { players: [...(players[Math.max(0, order)] ?? [])] }),
  });
}

/** The chord with which this one alternates in a tremolo. */
function partnerOf(items: readonly Item[], at: number): Chord | undefined {
  const item = items[at]!;
  if (item.kind !== 'chord' || tremoloOf(item)?.between !== 'start') return undefined;
  return items
    .slice(at + 1)
    .find((each): each is Chord => each.kind === 'chord' && tremoloOf(each)?.between === 'stop');
}

/** Two chords in turns over the time of both. */
function strokesBetween(one: Chord, other: Chord): (Stroke & { note: string })[] {
  const length = other.onset + other.duration - one.onset;
  return strokesOver(length, strokeSpan(one, tremoloOf(one)!)).flatMap(([from, to], index) =>
    (index % 2 === 0 ? one : other).notes.map(({ key, id }) => ({ from, to, key, note: id })),
  );
}

/** A note as its ornament, tremolo or broken chord has it played; null where it is simply struck. */
function playedOut(item: Chord, note: Note, order: number, length: Span, fifths: number): Stroke[] | null {
  // A tremolo goes on under ties, stroke by stroke.
  const tremolo = tremoloOf(item);
  if (tremolo && !tremolo.between)
    return strokesOver(length, strokeSpan(item, tremolo)).map(([from, to]) => ({ from, to, key: note.key }));
  // Any other tied note goes on; only what stands alone is played out.
  if (note.tieStart || note.tieStop) return null;
  const ornament = ornamentOf(item.marks);
  // Of a chord the highest note has the ornament.
  if (ornament && order === item.notes.length - 1) return ornamented(note, ornament, length, fifths);
  const arpeggio = item.marks?.find((mark) => mark.kind === 'arpeggio');
  if (!arpeggio || item.notes.length < 2) return null;
  const rank = arpeggio.direction === 'down' ? item.notes.length - 1 - order : order;
  const step = Math.min(ROLLED, length / (2 * item.notes.length));
  return [{ from: rank * step, to: length, key: note.key }];
}

/** A note that is tied to one that still sounds makes that one longer; any other is struck. */
/** How loud a note in parentheses is, as a share of the others. */
const GHOST = 0.5;

function strike(
  note: Note,
  order: number,
  at: Moment,
  until: Moment,
  { velocity, share, overlap, next, technique, players }: Manner,
  { notes, held }: Playing,
): void {
  const name = `${note.key} ${at}`;
  const before = note.tieStop ? held.get(name) : undefined;
  const isJoined = share === 1 && overlap > 0 && !next.has(note.key);
  const end = note.tieStart ? until : isJoined ? until + overlap : at + Math.round((until - at) * share);
  const sounding: Sounding = before ?? {
    from: at,
    to: end,
    key: note.key,
    velocity: note.ghost ? clamp(velocity * GHOST) : velocity,
    note: note.id,
    ...(technique && { technique }),
    ...(players && { players: [...(players[order] ?? [])] }),
  };
  sounding.to = end;
  if (before) held.delete(name);
  else notes.push(sounding);
  // What rings on into a repeat is taken up where that begins.
  if (note.tieStart || note.ringsOn) held.set(`${note.key} ${until}`, sounding);
}

function playGraces(
  item: Chord,
  at: Moment,
  until: Moment,
  { velocity, technique, players }: Manner,
  notes: Sounding[],
): void {
  const place = (graces: readonly Note[], end: Moment) => {
    // Grace notes of one chord are struck together.
    let slots = 0;
    const slotOf = graces.map((note) => (note.graceSign?.inChord ? slots - 1 : slots++));
    graces.forEach((note, index) => {
      const from = Math.max(0, end - (slots - slotOf[index]!) * GRACE);
      notes.push({
        from,
        to: from + GRACE,
        key: note.key,
        velocity,
        note: note.id,
        ...(technique && { technique }),
        // They go with the highest note.
        ...(players && { players: [...(players.at(-1) ?? [])] }),
      });
    });
  };
  if (item.graces) place(item.graces, at);
  if (item.gracesAfter) place(item.gracesAfter, until);
}

const clamp = (velocity: number): number => Math.max(1, Math.min(127, Math.round(velocity)));

/** The verse of a bar that is sung in a pass (from 0): its own, or the first again where it has none (common practice). */
function sungVerse({ voices }: PartBar, pass: number): number {
  const isThere = voices.some(({ items }) =>
    items.some((item) => item.kind === 'chord' && item.lyrics?.some(({ verse }) => verse === pass + 1)),
  );
  return isThere ? pass + 1 : 1;
}
