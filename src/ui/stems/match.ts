import type { StrandId } from '../../core/model/ids';
import type { Timeline } from '../../core/sound/events';
import { likeliest } from '../../core/sound/stem-match';
import { transfer, withListener } from '../../workers/client';
import { unlessStopped } from '../common/unlessStopped';
import { decoded } from '../recording/decode';
import { layRecording } from '../recording/listen';
import type { Stem } from './laid-stems';
import { mixedStems } from './mixed';

/** A part by its leader and strands. */
export interface SoundingPart {
  leader: StrandId;
  strands: readonly StrandId[];
}

/**
 * The parts that stems are of, by what begins in both.
 *
 * @param signal stops it, which comes to null
 * @returns the leader by the file of each stem that is clearly like one part
 * @throws BadRecordingError where one is damaged
 */
export async function stemsBySound(
  stems: readonly Stem[],
  parts: readonly SoundingPart[],
  timeline: Timeline,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<Map<string, StrandId> | null> {
  const found = new Map<string, StrandId>();
  for (const [done, { file, row, offset }] of stems.entries()) {
    onProgress(done / stems.length);
    const likenesses = await unlessStopped(
      signal,
      withListener(async (listener) => {
        const { channels, rate } = await decoded(row.file);
        const buffers = channels.map((channel) => channel.buffer as ArrayBuffer);
        await listener.open(transfer(channels, buffers), rate);
        return listener.liken(
          timeline,
          parts.map(({ strands }) => strands),
          offset,
        );
      }, signal),
    );
    if (!likenesses) return null;
    const best = likeliest(likenesses);
    if (best !== null) found.set(file, parts[best]!.leader);
  }
  return found;
}

/** Where stems lie along the piece, all together. */
export interface LaidStems {
  /** Seconds of each at which the piece begins, by its file. */
  offsets: Map<string, number>;
  sure: boolean;
}

/**
 * Lays stems along the piece together, as they lie beside each other now.
 *
 * @param signal stops it, which comes to null
 * @returns also null where nothing begins in them, or in the piece
 * @throws Error that says why they cannot be laid
 */
export async function layStems(
  stems: readonly Stem[],
  timeline: Timeline,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<LaidStems | null> {
  const { file, offset } = await mixedStems(stems);
  if (signal.aborted) return null;
  const along = await layRecording(file, timeline, onProgress, signal);
  if (!along) return null;
  const by = along.offset - offset;
  const rounded = (seconds: number) => Math.round(seconds * 1000) / 1000;
  return {
    offsets: new Map(stems.map((stem) => [stem.file, rounded(stem.offset + by)])),
    sure: along.sure,
  };
}
