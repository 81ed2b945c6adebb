import type { StrandId } from '../../core/model/ids';
import type { Heard } from '../../core/sound/events';
import type { Level } from '../../core/sound/render';

/** What can be heard of a job: its readings, and the recording and the stems that are laid along them. */
export type HeardNow = Heard | 'recording' | 'stems';

/** Whether it is sound that was taken in, and no reading. */
export const isSound = (heard: HeardNow): heard is 'recording' | 'stems' =>
  heard === 'recording' || heard === 'stems';

export const READING_NAMES: Record<HeardNow, string> = {
  source: 'Source',
  cleaned: 'Cleaned',
  'score-played': 'Score, played',
  'score-performed': 'Score, performed',
  score: 'Score, written',
  recording: 'Recording',
  stems: 'Stems',
};

/** How one strand is heard. */
export interface Hearing {
  muted: boolean;
  solo: boolean;
  /** 0–2, 1 as it is. */
  gain: number;
  /** −1 left to 1 right. */
  pan: number;
}

export const PLAIN: Hearing = { muted: false, solo: false, gain: 1, pan: 0 };

/**
 * Mutes, solos and levels taken together; a gain of 0 is silence.
 * @param silent strands that are left out, and so never heard
 */
export function levelsOf(
  strands: readonly StrandId[],
  hearing: ReadonlyMap<StrandId, Hearing>,
  silent: ReadonlySet<StrandId>,
): Map<StrandId, Level> {
  const anySolo = [...hearing.values()].some((each) => each.solo);
  return new Map(
    strands.map((strand) => {
      const { muted, solo, gain, pan } = hearing.get(strand) ?? PLAIN;
      const isSilent = silent.has(strand) || muted || (anySolo && !solo);
      return [strand, { gain: isSilent ? 0 : gain, pan }];
    }),
  );
}
