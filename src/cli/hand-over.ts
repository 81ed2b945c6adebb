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
export const CONVERTED = ['musicxml', 'mxl', 'midi', 'pdf'] as const;
export type Converted = (typeof CONVERTED)[number];

/**
 * What was laid out under a revision, as a file.
 *
 * @param name of the source, for what is said of it
 * @returns its bytes, the extension that such a file has, and what is left out of it, a sentence each
 * @throws UsageError where it is not known what became of a note
 */
export async function handedOver(
  name: string,
  workbench: Workbench,
  revision: number,
  to: Converted,
  { scoreForm, handOver }: Pick<Decisions, 'scoreForm' | 'handOver'>,
): Promise<{ extension: string; bytes: Uint8Array; left: string[] }> {
  const { desk } = workbench.at(revision);
  if (to === 'midi') {
    const written = needsScore(handOver) ? finished(workbench.write(revision)).transcription : null;
    return {
      extension: isZip(handOver) ? 'zip' : 'mid',
      bytes: deliverMidi(desk, handOver, written),
      left: [],
    };
  }
  const written = finished(workbench.write(revision));
  const { transcription } = written;
  const lost = unaccounted(transcription.account) + lostInCleaning(desk);
  if (lost !== 0)
    throw new UsageError(
      `${name}: it is not known what became of ${counted(Math.abs(lost), 'note')}: a fault of this program.`,
    );
  if (to !== 'pdf')
    return {
      extension: to,
      bytes: deliverScore(desk, writtenScore(transcription), to, scoreForm),
      left: [],
    };
  // The engraver is loaded where it is needed alone.
  const { pdfOfScore } = await import('./pdf');
  const { bytes, missing } = await pdfOfScore(written, scoreForm);
  const left = missing.length > 0 ? [`Letters that are not in the PDF: ${missing.join(' ')}.`] : [];
  return { extension: to, bytes, left };
}
