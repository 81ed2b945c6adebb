import { medianOf } from '../../basics/average';
import { lastAtOrBefore } from '../../basics/search';
import { informationOf } from './information';
import { drawn, type Onset } from './onsets';

/** An attack within this share of a slot is on it; so many must be, and so many on the finest slots. */
const ON_SLOT = 0.2;
const KEPT = 0.85;
const FINEST = 0.2;
/** What the places of attacks may tell of beats in sixths that should be counted in fours, in bits an attack. */
const TELLS_NOTHING = 0.1;

/** Kicks and snares of a kit, in seconds, ascending. */
export interface Backbeat {
  kicks: readonly number[];
  snares: readonly number[];
}

/** So many snares, this share of them as far from each other as is usual, within this share of that. */
const SNARES = 12;
const REGULAR = 0.6;
const ALIKE = 0.06;
/** This share of kicks lies about the middle between snares, or about a snare's own distance from one, within this share of it. */
const BETWEEN = 0.6;
const MIDDLE = 0.12;
/** Where snares are so many beats apart, of how many slots in a beat so many make a beat of two to a snare. */
const BY_SNARES: readonly [apart: number, slots: number, step: number][] = [
  [1, 2, 1],
  [1.5, 4, 3],
  [3, 2, 3],
  [4, 1, 2],
];
/** Beats as quick as this, in seconds, with a snare in four are rather halves; slower ones are in half time. */
const QUICK = 0.36;

/**
 * The beats, or others at the pace of a kit whose snares answer its kicks: a
 * snare is two beats from the next, and kicks come between (the backbeat,
 * common practice of popular music).
 */
export function countedByKit(
  beats: readonly number[],
  onsets: readonly Onset[],
  { kicks, snares }: Backbeat,
): number[] {
  const gaps = snares.slice(1).map((snare, at) => snare - snares[at]!);
  if (gaps.length < SNARES || beats.length < 2) return [...beats];
  const usual = medianOf(gaps);
  const regular = gaps.filter((gap) => Math.abs(gap / usual - 1) < ALIKE).length;
  if (regular < REGULAR * gaps.length) return [...beats];
  const between = kicks.filter((kick) => {
    const before = snares[lastAtOrBefore(snares, kick, (each) => each)]!;
    const phase = ((kick - before) / usual) % 1;
    return Math.abs(Math.abs(phase) - 0.5) < MIDDLE;
  }).length;
  if (between < BETWEEN * kicks.length || kicks.length < SNARES) return [...beats];
  const pace = medianOf(beats.slice(1).map((beat, at) => beat - beats[at]!));
  const other = BY_SNARES.find(
    ([apart]) => Math.abs(usual / pace / apart - 1) < ALIKE && (apart < 4 || pace < QUICK),
  );
  if (!other) return [...beats];
  const [, slots, step] = other;
  // It begins where snares and kicks stand.
  const votes = new Array<number>(step).fill(0);
  for (const stroke of [...snares, ...kicks]) {
    const at = Math.min(
      lastAtOrBefore(beats, stroke, (beat) => beat),
      beats.length - 2,
    );
    const place = slots * (at + (stroke - beats[at]!) / (beats[at + 1]! - beats[at]!));
    votes[((Math.round(place) % step) + step) % step]!++;
  }
  return everySlots(beats, onsets, slots, votes.indexOf(Math.max(...votes)), step);
}

/** The slots of beats, so many to each, on which onsets fall; null where too many fall between. */
function slotsOf(beats: readonly number[], onsets: readonly Onset[], count: number) {
  const slots: { slot: number; weight: number }[] = [];
  let between = 0;
  for (const { seconds, weight } of onsets) {
    const at = lastAtOrBefore(beats, seconds, (beat) => beat);
    const next = beats[at + 1];
    if (next === undefined || seconds < beats[at]!) continue;
    const place = count * (at + (seconds - beats[at]!) / (next - beats[at]!));
    const slot = Math.round(place);
    if (Math.abs(place - slot) < ON_SLOT) slots.push({ slot, weight });
    else between++;
  }
  return slots.length < KEPT * (slots.length + between) ? null : slots;
}

/** Beats at every so many slots, each drawn to what is struck around it. */
function everySlots(
  beats: readonly number[],
  onsets: readonly Onset[],
  count: number,
  first: number,
  step: number,
): number[] {
  const out: number[] = [];
  for (let at = first; at <= count * (beats.length - 1); at += step) {
    const beat = beats[Math.floor(at / count)]!;
    const next = beats[Math.floor(at / count) + 1] ?? beat;
    out.push(drawn(beat + ((next - beat) * (at % count)) / count, onsets));
  }
  return out;
}

/**
 * The beats, or three for two of them where their sixths are all struck alike:
 * those are rather the 16ths of another pulse (common practice: four to a beat
 * are far more usual than six). It begins where it is struck hardest.
 */
export function countedInFours(beats: number[], onsets: readonly Onset[]): number[] {
  const slots = slotsOf(beats, onsets, 6);
  if (!slots) return beats;
  const places = slots.map(({ slot }) => slot);
  const odd = places.filter((place) => place % 6 === 1 || place % 6 === 5).length;
  if (odd < FINEST * slots.length || informationOf(places, 6) > TELLS_NOTHING) return beats;
  const weights = [0, 0, 0, 0];
  for (const { slot, weight } of slots) weights[slot % 4]! += weight;
  return everySlots(beats, onsets, 6, weights.indexOf(Math.max(...weights)), 4);
}

/** The beats, or two for each where many attacks fall on its eighths: 16ths are far more usual than 32nds. */
export function countedInSixteenths(beats: number[], onsets: readonly Onset[]): number[] {
  const slots = slotsOf(beats, onsets, 8);
  if (!slots) return beats;
  const odd = slots.filter(({ slot }) => slot % 2 === 1).length;
  return odd < FINEST * slots.length ? beats : everySlots(beats, onsets, 8, 0, 4);
}
