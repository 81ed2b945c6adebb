import { finished } from '../core/basics/steps';
import { counted } from '../core/basics/words';
import { lostInCleaning } from '../core/clean/desk';
import type { Decisions } from '../core/decisions/decisions';
import { deliverMidi, isZip, needsScore } from '../core/deliver';
import { writtenScore } from '../core/deliver/folded';
import { deliverScore } from '../core/deliver/score';
import { unaccounted } from '../core/transcribe';
import type { Workbench } from '../core/workbench/workbench';
import { UsageError } from './usage-error';

/** What a file is converted to. */
export const CONVERTED = ['musicxml', 'mxl', 'midi'] as const;
export type Converted = (typeof CONVERTED)[number];

/**
 * What was laid out under a revision, as a file.
 *
 * @param name of the source, for what is said of it
 * @returns its bytes, and the extension that such a file has
 * @throws UsageError where it is not known what became of a note
 */
export function handedOver(
  name: string,
  workbench: Workbench,
  revision: number,
  to: Converted,
  { scoreForm, handOver }: Pick<Decisions, 'scoreForm' | 'handOver'>,
): { extension: string; bytes: Uint8Array } {
  const { desk } = workbench.at(revision);
  if (to === 'midi') {
    const written = needsScore(handOver) ? finished(workbench.write(revision)).transcription : null;
    return { extension: isZip(handOver) ? 'zip' : 'mid', bytes: deliverMidi(desk, handOver, written) };
  }
  const { transcription } = finished(workbench.write(revision));
  const lost = unaccounted(transcription.account) + lostInCleaning(desk);
  if (lost !== 0)
    throw new UsageError(
      `${name}: it is not known what became of ${counted(Math.abs(lost), 'note')}: a fault of this program.`,
    );
  return { extension: to, bytes: deliverScore(desk, writtenScore(transcription), to, scoreForm) };
}
