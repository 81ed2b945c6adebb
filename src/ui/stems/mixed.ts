import { counted } from '../../core/basics/words';
import { transfer, withListener } from '../../workers/client';
import { decoded } from '../recording/decode';
import type { Stem } from './laid-stems';

/** A sound that lies along the piece. */
export interface LaidSound {
  file: Blob;
  /** Seconds of it at which the piece begins. */
  offset: number;
}

const RATE = 44_100;
/** Longer ones are not put together: all of it is in memory at once. Seconds. */
const LONGEST = 20 * 60;

/** The last one that was put together, since that takes seconds. */
let latest: { key: string; sound: Promise<LaidSound> } | null = null;

const keyOf = (stems: readonly Stem[]): string =>
  stems.map(({ file, offset, row }) => `${row.jobId} ${file} ${row.addedAt} ${offset}`).join('\n');

/**
 * Stems as one sound, each where it lies; one by itself is its own file.
 * @throws Error that says why there is none
 */
export function mixedStems(stems: readonly Stem[]): Promise<LaidSound> {
  const [only, ...more] = stems;
  if (!only) return Promise.reject(new Error('All stems are muted or hidden.'));
  if (more.length === 0) return Promise.resolve({ file: only.row.file, offset: only.offset });
  const key = keyOf(stems);
  if (latest?.key === key) return latest.sound;
  const sound = mix(stems);
  latest = { key, sound };
  sound.catch(() => {
    if (latest?.sound === sound) latest = null;
  });
  return sound;
}

async function mix(stems: readonly Stem[]): Promise<LaidSound> {
  const before = Math.max(0, ...stems.map(({ offset }) => offset));
  const seconds = Math.max(...stems.map(({ offset, row }) => before - offset + row.seconds));
  if (seconds > LONGEST)
    throw new Error(
      `${counted(stems.length, 'stem')} together are longer than ${LONGEST / 60} minutes: hear them one by one.`,
    );
  return withListener(async (listener) => {
    await listener.beginMix(Math.ceil(seconds * RATE), RATE);
    // One after the other: all at once would not have room.
    for (const { row, offset } of stems) {
      const { channels } = await decoded(row.file, RATE);
      const buffers = channels.map((channel) => channel.buffer as ArrayBuffer);
      await listener.addToMix(transfer(channels, buffers), Math.round((before - offset) * RATE));
    }
    const bytes = await listener.endMix();
    return { file: new Blob([bytes as BlobPart], { type: 'audio/wav' }), offset: before };
  });
}
