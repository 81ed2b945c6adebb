import { lastAtOrBefore } from '../../basics/search';
import { informationOf } from './information';
import { drawn, type Onset } from './onsets';

/** An attack within this share of a slot is on it; so many must be, and so many on the finest slots. */
const ON_SLOT = 0.2;
const KEPT = 0.85;
const FINEST = 0.2;
/** What the places of attacks may tell of beats in sixths that should be counted in fours, in bits an attack. */
const TELLS_NOTHING = 0.1;

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
