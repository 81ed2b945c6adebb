import { secondsAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** Seconds from note to note below which a bow cannot skip a string, nor a hand shift as well (common practice). */
const TOO_SOON = 0.11;
/** Semitones that a hand reaches without moving: an octave over two strings, at the nut less. */
const HAND = 6;
/** Nobody plays higher than this on a string, in semitones above the open one. */
const HIGHEST = 24;

/** Leaps that are too fast for bow and hand: a string is skipped, or no two strings take both notes in one position. */
export const checkStringCrossings: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument }, part): Found[] => {
    if (instrument.family !== 'strings' || !instrument.tuning) return [];
    const strings = [...instrument.tuning];
    const { frame } = result;
    const at = (moment: number) => secondsAt(frame.clock, tickOfMoment(frame, moment));
    const voices = new Map<string, (typeof sounded)[number][number]>();
    return sounded[part]!.flatMap((own): Found[] => {
      const name = `${own.staff} ${own.voice}`;
      const before = voices.get(name);
      voices.set(name, own);
      if (before?.notes.length !== 1 || own.notes.length !== 1) return [];
      const [from, to] = [before.notes[0]!.key, own.notes[0]!.key];
      if (at(own.start) - at(before.start) >= TOO_SOON || skipped(from, to, strings) < 2) return [];
      return [
        {
          weight: 'doubtful',
          part,
          at: own.start,
          notes: eventsOf(own.notes),
          what: `A leap of ${Math.abs(to - from)} semitones over a string within ${Math.round((at(own.start) - at(before.start)) * 1000)} ms: no bow gets there.`,
        },
      ];
    });
  });

/** How many strings apart two notes must be played at the least under one hand; many where that cannot be. */
function skipped(one: number, two: number, strings: readonly number[]): number {
  let least = strings.length;
  strings.forEach((low, first) => {
    strings.forEach((high, second) => {
      const [a, b] = [one - low, two - high];
      if (a < 0 || b < 0 || a > HIGHEST || b > HIGHEST) return;
      if (a > 0 && b > 0 && Math.abs(a - b) > HAND) return;
      least = Math.min(least, Math.abs(first - second));
    });
  });
  return least;
}
