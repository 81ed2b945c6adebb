import { momentOf } from '../model/frame';
import type { Check } from './finding';

/** Syllables that found no note. */
export const checkLyrics: Check = ({ result: { lostLyrics, frame } }) =>
  lostLyrics.map(({ tick, text }) => ({
    weight: 'doubtful' as const,
    at: momentOf(frame, tick),
    about: `${tick} ${text}`,
    what: `“${text.trim()}” has no note to be sung on.`,
  }));
