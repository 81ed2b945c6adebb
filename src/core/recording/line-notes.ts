import { medianOf } from '../basics/average';
import type { Steps } from '../basics/steps';
import type { Onsets } from './onsets';
import { type PitchTrack, tuningOf, usualLevel } from './pitch-track';
import { beginningOf } from './rise';
import type { Sound } from './sound';

/** A note as it is heard. Seconds of the recording; nothing is rounded. */
export interface HeardNote {
  on: number;
  off: number;
  /** MIDI key. */
  key: number;
  /** 1–127, from how loud it is against the others. */
  velocity: number;
  /** How far its pitch lies from its key, in cents, with the tuning of the whole taken out. */
  cents: number;
  /** 0–1. */
  confidence: number;
}

/** Semitones within which a pitch speaks for a key: a held note, vibrato and all. */
const SPREAD = 0.4;
/** What a moment says against a key at most, so that an outlier is borne. */
const WORST = 6;
/** What it costs to go from a key to another, into silence and out of it; natural logarithms. */
const COST = { change: 10, silence: 5 };
/** What a moment without pitch says against a note, and one with a pitch against silence. */
const AGAINST = { note: 1.2, silence: 2.5 };
/** Hertz of MIDI key 69 (ISO 16). */
const A4 = 440;
/** Softer than this share of what is usual is silence. */
const SILENCE = 0.06;
/** Shorter ones are no notes, but the noise of beginning; seconds. */
const SHORTEST = 0.05;
/** Seconds about the change of pitch within which the onset that began it is looked for. */
const BEFORE = 0.07;
const AFTER = 0.05;
/** A struck key is struck again where so much begins, against what begins with notes, and this much fell before. */
const AGAIN = 0.35;
const FELL = 0.8;
/** Where the pitch stays as sure as this throughout, it is a player's tremolo unless it fell to so much: tongues and bows stop the tone. */
const STEADY = { sure: 0.9, fell: 0.36 };
/** What goes on within held notes, as the beating of many voices, begins so often; a new attack is this many times as much. */
const RIPPLE = 3;
/** Moments after which a note is held. */
const SETTLED = 10;
/** Moments before and after an attack in which its rise is looked for, how soft it must begin, and the share of it that is heard as its beginning. */
const RISE = { before: 12, after: 8, dip: 0.5, share: 0.06 };
/** Two attacks of one key are this far apart at least; seconds. */
const APART = 0.09;
/** A note has ended where it is so much softer than it was; a share. */
const ENDED = 0.05;

/**
 * The notes of a single line: of all ways to divide its pitches into keys and silences the likeliest, attacks where
 * the sound begins anew, ends where it is gone. What it is tuned above or below 440 Hz is taken out.
 * Source of the idea of notes as states: M. Mauch and others, "Computer-aided melody note transcription" (2015), from memory.
 */
export function* notesOfLine(track: PitchTrack, { rows }: Onsets, sound: Sound): Steps<HeardNote[]> {
  const tuning = tuningOf(track) / 100;
  const level = usualLevel(track);
  const begins = rows.at(-1)!;
  const states = yield* statesOf(track, tuning, level * SILENCE);
  const least = leastBegin(states, begins);
  const notes: HeardNote[] = [];
  for (let from = 0; from < states.length; ) {
    let to = from + 1;
    while (to < states.length && states[to] === states[from]) to++;
    if (states[from]! >= 0) {
      const cuts = [from, ...attacksWithin(track, begins, from, to, least), to];
      for (let at = 0; at + 1 < cuts.length; at++) {
        const made = noteOf(track, tuning, states[from]!, cuts[at]!, cuts[at + 1]!, begins, at === 0);
        if (made.off - made.on >= SHORTEST) notes.push(made);
      }
    }
    from = to;
  }
  for (const [index, note] of notes.entries()) {
    const before = notes[index - 1];
    const hertz = A4 * 2 ** ((note.key + tuning - 69 + note.cents / 100) / 12);
    note.on = beginningOf(sound, hertz, note.on, note.off, before ? before.on + SHORTEST : 0);
    if (before && before.off > note.on) before.off = note.on;
    if (index % 50 === 49) yield;
  }
  const loudest = notes.map(({ velocity }) => velocity);
  const middle = medianOf(loudest);
  // The middle of all is mezzo-forte; six decibels are a step of the scale of dynamics (common practice).
  for (const note of notes)
    note.velocity = Math.max(
      1,
      Math.min(127, Math.round(80 + (20 * Math.log10(note.velocity / middle) * 16) / 6)),
    );
  return notes.filter(({ on, off }) => off > on);
}

/** Each moment's key, or −1 for silence: the likeliest of all (Viterbi). */
function* statesOf({ keys, voiced, loud }: PitchTrack, tuning: number, floor: number): Steps<Int16Array> {
  const heard = [...keys].filter((key) => !Number.isNaN(key));
  const states = new Int16Array(keys.length).fill(-1);
  if (heard.length === 0) return states;
  const lowest = Math.round(heard.reduce((least, key) => Math.min(least, key), 127)) - 1;
  const count = Math.round(heard.reduce((most, key) => Math.max(most, key), 0)) + 2 - lowest;
  let now = new Float64Array(count + 1).fill(-COST.silence);
  now[count] = 0;
  const from: Uint8Array[] = [];
  for (let moment = 0; moment < keys.length; moment++) {
    const key = keys[moment]! - tuning;
    const isSilent = loud[moment]! < floor;
    const sure = Math.min(1, voiced[moment]!);
    let top = 0;
    for (let state = 1; state < count; state++) if (now[state]! > now[top]!) top = state;
    const next = new Float64Array(count + 1);
    const own = new Uint8Array(count + 1);
    for (let state = 0; state < count; state++) {
      const other = now[top]! - COST.change;
      const begun = now[count]! - COST.silence;
      const best = Math.max(now[state]!, other, begun);
      own[state] = best === now[state] ? state : best === other ? top : count;
      const off = Number.isNaN(key)
        ? AGAINST.note + (isSilent ? WORST : 0)
        : Math.min(WORST, ((key - lowest - state) / SPREAD) ** 2 / 2) * sure + (isSilent ? WORST : 0);
      next[state] = best - off;
    }
    const ended = now[top]! - COST.silence;
    own[count] = ended > now[count]! ? top : count;
    next[count] = Math.max(now[count]!, ended) - (isSilent || Number.isNaN(key) ? 0 : AGAINST.silence * sure);
    from.push(own);
    now = next;
    if (moment % 500 === 499) yield;
  }
  let at = now.reduce((best, score, state) => (score > now[best]! ? state : best), 0);
  for (let moment = keys.length - 1; moment >= 0; moment--) {
    states[moment] = at === count ? -1 : lowest + at;
    at = from[moment]![at]!;
  }
  return states;
}

/** How much must begin for a new attack: a share of what begins with notes, and far more than goes on within them. */
function leastBegin(states: Int16Array, begins: Float32Array): number {
  const [starts, ripples]: [number[], number[]] = [[], []];
  let since = 0;
  for (let at = 1; at < states.length; at++) {
    if (states[at] !== states[at - 1]) {
      since = at;
      if (states[at]! < 0) continue;
      let most = 0;
      for (let by = -6; by <= 5; by++) most = Math.max(most, begins[at + by] ?? 0);
      starts.push(most);
    } else if (
      states[at]! >= 0 &&
      at - since > SETTLED &&
      begins[at]! >= (begins[at - 1] ?? 0) &&
      begins[at]! > (begins[at + 1] ?? 0)
    )
      ripples.push(begins[at]!);
  }
  return Math.max(AGAIN * medianOf(starts), RIPPLE * medianOf(ripples));
}

/** Moments within a held key at which it is struck again. */
function attacksWithin(
  { loud, voiced, perSecond }: PitchTrack,
  begins: Float32Array,
  from: number,
  to: number,
  enough: number,
): number[] {
  const apart = Math.round(APART * perSecond);
  const found: number[] = [];
  for (let at = from + apart; at < to - apart / 2; at++) {
    const value = begins[at]!;
    if (value < enough) continue;
    let isTop = true;
    for (let by = -4; by <= 4; by++) if ((begins[at + by] ?? 0) > value) isTop = false;
    if (!isTop || at - (found.at(-1) ?? from) < apart) continue;
    // It must have fallen before, and risen since.
    let least = Number.POSITIVE_INFINITY;
    let [before, after] = [0, 0];
    let surest = 1;
    for (let by = -10; by <= 5; by++) surest = Math.min(surest, voiced[at + by] ?? 0);
    for (let by = -10; by <= 0; by++) {
      least = Math.min(least, loud[at + by] ?? 0);
      before = Math.max(before, loud[at + by - 5] ?? 0);
    }
    for (let by = 1; by <= 8; by++) after = Math.max(after, loud[at + by] ?? 0);
    const enoughFell = surest >= STEADY.sure ? STEADY.fell : FELL;
    if (least < enoughFell * after && (least < enoughFell * before || after > before / enoughFell))
      found.push(at);
  }
  return found;
}

/** Where the rise begins of which an attack is the steepest part, where the sound was softer before: slow attacks are heard from there. */
function riseOf(swell: Float32Array, attack: number, earliest: number): number {
  let lowest = attack;
  for (let at = attack; at >= Math.max(earliest, attack - RISE.before); at--)
    if (swell[at]! < swell[lowest]!) lowest = at;
  let most = 0;
  for (let at = lowest; at <= attack + RISE.after; at++) most = Math.max(most, swell[at] ?? 0);
  const least = swell[lowest] ?? 0;
  if (least > RISE.dip * most) return attack;
  for (let at = lowest; at <= attack + RISE.after; at++)
    if ((swell[at] ?? 0) >= least + RISE.share * (most - least)) return at;
  return attack;
}

function noteOf(
  { keys, voiced, loud, swell, perSecond }: PitchTrack,
  tuning: number,
  key: number,
  from: number,
  to: number,
  begins: Float32Array,
  isFirst: boolean,
): HeardNote {
  let peak = 0;
  for (let at = from; at < to; at++) peak = Math.max(peak, loud[at]!);
  let end = to;
  while (end > from + 1 && loud[end - 1]! < ENDED * peak) end--;
  const own: number[] = [];
  let sure = 0;
  for (let at = from; at < to; at++) {
    sure += Math.min(1, voiced[at]!);
    if (!Number.isNaN(keys[at]!)) own.push(keys[at]! - tuning - key);
  }
  // A pitch is known some moments after its sound began.
  let on = from;
  if (isFirst) {
    const [first, last] = [from - Math.round(BEFORE * perSecond), from + Math.round(AFTER * perSecond)];
    let most = 0;
    for (let at = Math.max(0, first); at <= last; at++)
      if ((begins[at] ?? 0) > most) {
        most = begins[at]!;
        on = at;
      }
  }
  on = riseOf(swell, on, isFirst ? 0 : from);
  return {
    on: on / perSecond,
    off: end / perSecond,
    key,
    velocity: Math.max(1e-6, peak),
    cents: medianOf(own) * 100,
    confidence: sure / Math.max(1, to - from),
  };
}
