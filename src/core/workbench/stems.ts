import { counted } from '../basics/words';
import { plansOf } from '../cast/written';
import type { Desk } from '../clean/desk';
import { clockTime } from '../deliver/bar-table';
import { FAMILY_NAMES } from '../instruments/families';
import type { Heard, Timeline } from '../sound/events';
import { LARGEST_WAV } from '../sound/sound-file';
import { bytesOfStem, endOfSound, type Stem, type StemsChoice, type StemsMade } from '../sound/stem-choice';

/** What has a sound file of its own: each part, each family of instruments, or all together. */
export const STEMS_BY = ['part', 'family', 'all'] as const;
export type StemsBy = (typeof STEMS_BY)[number];

/**
 * The stems of a job, in the order of its score. Of the source as it came, strands that no part
 * has (those left out) are stems of their own.
 */
export function stemsOf(desk: Desk, heard: Heard, by: StemsBy): Stem[] {
  const { performance, decisions, source } = desk;
  const plans = plansOf(performance, decisions, desk.written?.score.parts ?? null);
  const parts = plans
    .filter(({ strands }) => strands.length > 0)
    .map(({ name, instrument, strands }) => ({ name, strands, family: FAMILY_NAMES[instrument.family] }));
  const cast = new Set(plans.flatMap(({ strands }) => strands));
  const others =
    heard === 'source'
      ? source.strands
          .filter(({ id }) => !cast.has(id))
          .map(({ id, name }) => ({ name: name || 'Without a name', strands: [id], family: 'Others' }))
      : [];
  const all = [...parts, ...others];
  if (by === 'all') return [{ name: '', strands: all.flatMap(({ strands }) => strands) }];
  if (by === 'part') return all.map(({ name, strands }) => ({ name, strands }));
  const families = new Set(all.map(({ family }) => family));
  return [...families].map((name) => ({
    name,
    strands: all.flatMap(({ family, strands }) => (family === name ? strands : [])),
  }));
}

/**
 * Why so much sound cannot be written, as a sentence; null where it can. The sizes in a WAV file and in a zip have
 * 32 bits; how small FLAC gets is not known before.
 *
 * @param together whether all become one zip
 */
export function tooMuchSound(
  timeline: Timeline,
  { length }: readonly Stem[],
  choice: StemsChoice,
  together: boolean,
): string | null {
  const files = (length > 1 ? length + 1 : 1) + (choice.click ? 1 : 0);
  const each = bytesOfStem(choice, endOfSound(timeline, choice.leadInBars));
  const bytes = together ? files * each : each;
  if (bytes <= LARGEST_WAV || (!together && choice.format === 'flac')) return null;
  const what = together ? counted(files, 'file') : 'Each file';
  return `${what} would be ${(bytes / 1e9).toFixed(1)} GB, and ${together ? 'a zip' : 'WAV'} holds 4. Fewer files, 16 bits or 44.1 kHz take less.`;
}

/** What became of sound, for people. */
export function renderedWords({ names, frames, turnedDown, peak }: StemsMade, rate: number): string {
  const all = names.length === 1 ? 'One file' : `${counted(names.length, 'file')} from one start`;
  const level = Number.isFinite(peak)
    ? `loudest place at ${peak.toFixed(1).replace('-', '\u2212')} dB`
    : 'silent';
  const less = turnedDown > 0 ? `, turned down by ${turnedDown.toFixed(1)} dB to fit` : '';
  return `${all}, ${clockTime(frames / rate)} long; ${level}${less}.`;
}
