import { instrumentOf } from '../instruments/catalogue';
import type { MeterChange, TempoChange } from '../model/clock';
import { SLOWEST_MICROS_PER_QUARTER } from '../model/clock';
import type { KeyChange } from '../model/performance';
import {
  type Bar,
  type Chord,
  type Item,
  keyInBar,
  type Note,
  type Part,
  type Score,
  writtenKeys,
} from '../model/score';
import { gcd, type Moment, QUARTER, type Span, WHOLE } from '../model/time';
import { type PlayedBar, playedOrder } from './bar-order';
import { accentOf, dynamicsOf, isDynamicWord } from './dynamics';
import { heldShare } from './lengths';
import { ornamented, ornamentOf, type Stroke } from './ornaments';
import { isTempoWord, temposOf } from './tempo';
import { strokeSpan, strokesOver, tremoloOf } from './tremolo';

/** A note as a score is played: ticks from the start of the playing, sounding key. */
export interface PerformedNote {
  on: number;
  off: number;
  key: number;
  velocity: number;
  /** The written note with which it begins. */
  note: string;
}

/** A score as it is played. */
export interface Performed {
  ticksPerQuarter: number;
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  /** Rehearsal marks. */
  markers: { tick: number; text: string }[];
  /** In the order of the score. */
  parts: { part: Part; notes: PerformedNote[]; lyrics: { tick: number; text: string }[] }[];
  order: PlayedBar[];
  end: number;
  /** What became of marks, by kind: how many sound, and as what. */
  became: Map<string, { count: number; as: string }>;
  /** Marks that are not played out, by name. */
  silent: Map<string, number>;
}

/** What is played out; all of it unless said otherwise. */
export interface PerformSettings {
  repeats: boolean;
  dynamics: boolean;
  articulation: boolean;
  graces: boolean;
  fermatas: boolean;
  /** Trills, mordents, turns, tremolos and broken chords. */
  ornaments: boolean;
  /** Rit. and accel. */
  gradual: boolean;
}

export const ALL_PLAYED: PerformSettings = {
  repeats: true,
  dynamics: true,
  articulation: true,
  graces: true,
  fermatas: true,
  ornaments: true,
  gradual: true,
};

/** Ticks to a quarter that sequencers like, and the most that a file can say (SMF 1.0: 15 bits). */
const USUAL_TICKS = 480;
const MOST_TICKS = 32_767;
/** A grace note lasts a 32nd and takes it from the note before (common practice). */
const GRACE = QUARTER / 8;
/** Quarters a minute until the score says otherwise (SMF 1.0). */
const USUAL_PACE = 120;
/** Notes of a broken chord follow each other by at most this (common practice: a 64th). */
const ROLLED = QUARTER / 16;
/** Where dynamics are not played out. */
const FLAT = 80;
/** A fermata makes its note so many times as long (common practice: about twice). */
const FERMATA = 2;

/**
 * Performance = perform(Score): the bars in their order, written pitch as it
 * sounds, ties joined, grace notes before the beat, dynamics as velocity,
 * articulation as length, fermatas and tempos as tempo.
 */
export function performScore(score: Score, settings: PerformSettings = ALL_PLAYED): Performed {
  const order = settings.repeats ? playedOrder(score.bars) : asWritten(score.bars);
  const became: Performed['became'] = new Map();
  const silent: Performed['silent'] = new Map();
  const starts: Moment[] = [];
  let end: Moment = 0;
  for (const { from, to } of order) {
    starts.push(end);
    end += to - from;
  }
  const ticksPerQuarter = resolutionOf(score);
  const tickOf = (moment: Moment): number => Math.round((moment * ticksPerQuarter) / QUARTER);
  const fermatas: { from: Moment; to: Moment }[] = [];
  const parts = score.parts.map((part) => {
    const played = playPart(score, part, settings, order, starts, fermatas, became, silent);
    return {
      part,
      notes: played.notes
        .map(({ from, to, ...note }) => ({
          ...note,
          on: tickOf(from),
          off: Math.max(tickOf(from) + 1, tickOf(to)),
        }))
        .sort((a, b) => a.on - b.on || a.key - b.key),
      lyrics: played.lyrics.map(({ at, text }) => ({ tick: tickOf(at), text })),
    };
  });
  return {
    ticksPerQuarter,
    tempos: tempoChanges(score, settings, order, starts, fermatas, tickOf),
    meters: meterChanges(score.bars, order, starts, tickOf),
    keys: keyChanges(score, order, starts, tickOf),
    markers: markersOf(score, order, starts, tickOf),
    parts,
    order,
    end: tickOf(end),
    became,
    silent,
  };
}

/** Ticks in which everything that is written can be told exactly, where a file can hold that many. */
function resolutionOf(score: Score): number {
  let unit: Span = QUARTER;
  for (const part of score.parts)
    for (const bar of part.bars)
      for (const line of bar.voices)
        for (const item of line.items)
          unit = gcd(unit, gcd(Math.round(item.onset), Math.round(item.duration)));
  const needed = QUARTER / Math.max(1, unit);
  const both = (USUAL_TICKS * needed) / gcd(USUAL_TICKS, needed);
  return both <= MOST_TICKS ? both : needed <= MOST_TICKS ? needed : 2 * USUAL_TICKS;
}

const asWritten = (bars: readonly Bar[]): PlayedBar[] =>
  bars.map(({ length }, bar) => ({ bar, from: 0, to: length, pass: 0 }));

interface Sounding {
  from: Moment;
  to: Moment;
  key: number;
  velocity: number;
  note: string;
}

function playPart(
  score: Score,
  part: Part,
  settings: PerformSettings,
  order: readonly PlayedBar[],
  starts: readonly Moment[],
  fermatas: { from: Moment; to: Moment }[],
  became: Performed['became'],
  silent: Performed['silent'],
) {
  const dynamics = dynamicsOf(score, part);
  const keys = writtenKeys(score, part);
  const notes: Sounding[] = [];
  const lyrics: { at: Moment; text: string }[] = [];
  const held = new Map<string, Sounding>();
  const count = (kind: string, as: string) => {
    const known = became.get(kind) ?? { count: 0, as };
    became.set(kind, { count: known.count + 1, as });
  };
  order.forEach(({ bar, from, to, pass }, index) => {
    const written = part.bars[bar];
    if (!written) return;
    const zero = starts[index]! - from;
    const isFirst = pass === 0;
    const fifths = keys.findLast((key) => key.bar < bar || (key.bar === bar && key.at === 0))?.fifths ?? 0;
    const taken = new Set<Chord>();
    if (isFirst)
      for (const mark of written.marks ?? []) {
        if (mark.kind === 'dynamic') count('dynamic', 'velocity');
        else if (mark.kind === 'tempo') count('tempo', 'tempo');
        else if (mark.kind === 'words' && isDynamicWord(mark.text)) count('cresc. and dim.', 'velocity');
        else if (mark.kind === 'words' && isTempoWord(mark.text)) count('rit. and accel.', 'tempo');
        else if (mark.kind === 'words') silent.set('words', (silent.get('words') ?? 0) + 1);
      }
    for (const line of written.voices)
      for (const [nth, item] of line.items.entries()) {
        if (item.kind !== 'chord' || item.cue || item.onset < from || item.onset >= to) continue;
        const at = zero + item.onset;
        const until = Math.min(at + item.duration, starts[index]! + (to - from));
        const place = score.bars[bar]!.start + item.onset;
        const velocity = settings.dynamics
          ? clamp(dynamics.at(place) + dynamics.attack(place) + accentOf(item.marks))
          : FLAT;
        if (isFirst) countMarks(item, count, silent);
        if (settings.graces) playGraces(item, at, until, velocity, notes);
        const share = settings.articulation ? heldShare(item) : 1;
        const partner = settings.ornaments ? partnerOf(line.items, nth) : undefined;
        if (partner) taken.add(partner);
        const strokes = partner ? strokesBetween(item, partner) : [];
        // What takes turns with the chord before it has been struck with that.
        if (!partner && !taken.has(item))
          for (const [order, note] of item.notes.entries()) {
            const own = settings.ornaments ? playedOut(item, note, order, until - at, fifths) : null;
            if (own) strokes.push(...own.map((stroke) => ({ ...stroke, note: note.id })));
            else strike(note, at, until, share, velocity, notes, held);
          }
        for (const { from: start, to: end, key, note } of strokes)
          notes.push({ from: at + start, to: at + end, key, velocity, note });
        if (settings.fermatas && item.marks?.some(({ kind }) => kind === 'fermata'))
          fermatas.push({ from: at, to: until });
        for (const { text, verse = 1 } of item.lyrics ?? [])
          if (verse === pass + 1 || (verse === 1 && isFirst)) lyrics.push({ at, text });
      }
  });
  if (part.spanners) for (const { kind } of part.spanners) countSpanner(kind, count, silent);
  return { notes, lyrics };
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
  // A tied note goes on; only what stands alone is played out.
  if (note.tieStart || note.tieStop) return null;
  const tremolo = tremoloOf(item);
  if (tremolo && !tremolo.between)
    return strokesOver(length, strokeSpan(item, tremolo)).map(([from, to]) => ({ from, to, key: note.key }));
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
function strike(
  note: Note,
  at: Moment,
  until: Moment,
  share: number,
  velocity: number,
  notes: Sounding[],
  held: Map<string, Sounding>,
): void {
  const name = `${note.key} ${at}`;
  const before = note.tieStop ? held.get(name) : undefined;
  const end = note.tieStart ? until : at + Math.round((until - at) * share);
  const sounding = before ?? { from: at, to: end, key: note.key, velocity, note: note.id };
  sounding.to = end;
  if (before) held.delete(name);
  else notes.push(sounding);
  if (note.tieStart) held.set(`${note.key} ${until}`, sounding);
}

function playGraces(item: Chord, at: Moment, until: Moment, velocity: number, notes: Sounding[]): void {
  const place = (graces: readonly Note[], end: Moment) => {
    // Grace notes of one chord are struck together.
    let slots = 0;
    const slotOf = graces.map((note) => (note.graceSign?.inChord ? slots - 1 : slots++));
    graces.forEach((note, index) => {
      const from = Math.max(0, end - (slots - slotOf[index]!) * GRACE);
      notes.push({ from, to: from + GRACE, key: note.key, velocity, note: note.id });
    });
  };
  if (item.graces) place(item.graces, at);
  if (item.gracesAfter) place(item.gracesAfter, until);
}

const SHORTENED = new Set(['staccato', 'staccatissimo', 'spiccato', 'detached-legato', 'tenuto']);
const LOUDER = new Set(['accent', 'strong-accent', 'soft-accent', 'stress', 'unstress']);

function countMarks(
  { marks = [], graces = [], gracesAfter = [] }: Chord,
  count: (kind: string, as: string) => void,
  silent: Map<string, number>,
): void {
  for (const _ of [...graces, ...gracesAfter]) count('grace note', 'a 32nd before');
  for (const mark of marks) {
    if (mark.kind === 'fermata') count('fermata', 'slower tempo');
    else if (mark.kind === 'articulation' && SHORTENED.has(mark.name)) count(mark.name, 'length');
    else if (mark.kind === 'articulation' && LOUDER.has(mark.name)) count(mark.name, 'velocity');
    else if (mark.kind === 'ornament' && ornamentOf([mark])) count(mark.name, 'notes');
    else if (mark.kind === 'tremolo' || mark.kind === 'arpeggio') count(mark.kind, 'notes');
    else {
      const name = 'name' in mark ? mark.name : mark.kind;
      silent.set(name, (silent.get(name) ?? 0) + 1);
    }
  }
}

function countSpanner(
  kind: string,
  count: (kind: string, as: string) => void,
  silent: Map<string, number>,
): void {
  if (kind === 'wedge') count('hairpin', 'velocity');
  else if (kind === 'octave') count('octave line', 'sounding pitch');
  else silent.set(kind, (silent.get(kind) ?? 0) + 1);
}

const clamp = (velocity: number): number => Math.max(1, Math.min(127, Math.round(velocity)));

/** Tempos where they are played; after each jump the one that holds there, and slower under fermatas. */
function tempoChanges(
  score: Score,
  settings: PerformSettings,
  order: readonly PlayedBar[],
  starts: readonly Moment[],
  fermatas: readonly { from: Moment; to: Moment }[],
  tickOf: (moment: Moment) => number,
): TempoChange[] {
  const written = temposOf(score, settings.gradual);
  const paces = new Map<number, number>();
  let before = -2;
  order.forEach(({ bar, from, to }, index) => {
    const zero = score.bars[bar]!.start;
    if (bar !== before + 1) {
      const holding = written.findLast(({ at }) => at <= zero + from);
      if (holding) paces.set(tickOf(starts[index]!), holding.quartersPerMinute);
    }
    for (const { at, quartersPerMinute } of written)
      if (at >= zero + from && at < zero + to)
        paces.set(tickOf(starts[index]! + at - zero - from), quartersPerMinute);
    before = bar;
  });
  if (!paces.has(0)) paces.set(0, USUAL_PACE);
  const inOrder = () => [...paces].sort((a, b) => a[0] - b[0]);
  const paceAt = (tick: number) => inOrder().findLast(([at]) => at <= tick)?.[1] ?? USUAL_PACE;
  // Several parts hold one fermata: it is slow once, as long as the first of them says.
  const held = new Map<number, number>();
  for (const { from, to } of fermatas) if (!held.has(tickOf(from))) held.set(tickOf(from), tickOf(to));
  for (const [on, off] of [...held].sort((a, b) => a[0] - b[0])) {
    const under = paceAt(on);
    if (!paces.has(off)) paces.set(off, paceAt(off));
    paces.set(on, under / FERMATA);
  }
  const steps = inOrder().filter(([, pace], index, all) => pace !== all[index - 1]?.[1]);
  return steps.map(([tick, pace]) => ({
    tick,
    microsPerQuarter: Math.min(SLOWEST_MICROS_PER_QUARTER, Math.max(1, Math.round(6e7 / pace))),
  }));
}

/** Meters where they are played; a bar that is cut short or long has one of its own length. */
function meterChanges(
  bars: readonly Bar[],
  order: readonly PlayedBar[],
  starts: readonly Moment[],
  tickOf: (moment: Moment) => number,
): MeterChange[] {
  const changes: MeterChange[] = [];
  order.forEach(({ bar, from, to }, index) => {
    const { meter } = bars[bar]!;
    const length = to - from;
    const full = (WHOLE * meter.numerator) / meter.denominator;
    const own = length === full ? meter : meterOf(length, meter.denominator);
    const last = changes.at(-1);
    if (last && last.numerator === own.numerator && last.denominator === own.denominator) return;
    changes.push({ tick: tickOf(starts[index]!), ...own });
  });
  return changes;
}

/** The meter of a bar of such a length, in the given unit or the largest finer one in which it is whole. */
function meterOf(length: Span, denominator: number): { numerator: number; denominator: number } {
  for (let unit = denominator; unit <= 64; unit *= 2)
    if (Number.isInteger((length * unit) / WHOLE))
      return { numerator: (length * unit) / WHOLE, denominator: unit };
  return { numerator: Math.max(1, Math.round((length * 64) / WHOLE)), denominator: 64 };
}

function keyChanges(
  score: Score,
  order: readonly PlayedBar[],
  starts: readonly Moment[],
  tickOf: (moment: Moment) => number,
): KeyChange[] {
  const changes: KeyChange[] = [];
  order.forEach(({ bar }, index) => {
    const { fifths, minor } = keyInBar(score, bar);
    const last = changes.at(-1);
    if (!last || last.fifths !== fifths || last.minor !== minor)
      changes.push({ tick: tickOf(starts[index]!), fifths, minor });
  });
  return changes;
}

function markersOf(
  score: Score,
  order: readonly PlayedBar[],
  starts: readonly Moment[],
  tickOf: (moment: Moment) => number,
) {
  const markers = new Map<string, { tick: number; text: string }>();
  order.forEach(({ bar, from, pass }, index) => {
    if (pass > 0) return;
    const put = (at: Moment, text: string) => {
      const tick = tickOf(starts[index]! + at - from);
      markers.set(`${tick} ${text}`, { tick, text });
    };
    for (const mark of score.rehearsals) if (mark.bar === bar) put(0, mark.text);
    for (const part of score.parts)
      for (const mark of part.bars[bar]?.marks ?? []) if (mark.kind === 'rehearsal') put(mark.at, mark.text);
  });
  return [...markers.values()].sort((a, b) => a.tick - b.tick);
}

/** Whether a part is played on the percussion channel. */
export const isUnpitched = (part: Part): boolean => instrumentOf(part.instrument).unpitched;
