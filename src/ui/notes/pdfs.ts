import { fileNames } from '../../core/basics/file-names';
import type { PartSummary, ScoreSummary } from '../../core/workbench/replies';
import type { Core } from '../../workers/client';
import { type ChosenFormat, engravePages, fetchPdf, formatFor, type LaidPages, pdfRequest } from './paper';

/** Parts in hand at a time. */
const AT_ONCE = 3;

/** A score at one state, and how it is put on paper. */
export interface Printing {
  core: Core;
  summary: ScoreSummary;
  concert: boolean;
  chosen: ChosenFormat;
}

/** What stands at the head of a score, or of a part by itself. */
export function letteringOf({ summary, concert }: Printing, parts: readonly PartSummary[]) {
  const { title, composer, copyright } = summary;
  const isPart = parts.length === 1;
  return {
    title,
    composer,
    copyright,
    name: isPart ? parts[0]!.name : '',
    pitch: concert && !isPart ? 'Score in concert pitch' : '',
  };
}

/** A PDF of pages that are laid already. */
export const pdfOfPages = (printing: Printing, parts: readonly PartSummary[], laid: LaidPages) =>
  fetchPdf(pdfRequest(laid, letteringOf(printing, parts), formatFor(printing.chosen, parts.length)));

/**
 * A PDF of some parts together.
 * @param onSystem told how far it is
 * @returns null where the signal was given
 */
export async function pdfOfParts(
  printing: Printing,
  parts: readonly PartSummary[],
  signal: AbortSignal,
  onSystem: (done: number, of: number) => void = () => {},
): Promise<Uint8Array | null> {
  const { core, summary, concert, chosen } = printing;
  const asked = {
    core,
    revision: summary.revision,
    parts: parts.map(({ id }) => id),
    concert,
    format: formatFor(chosen, parts.length),
  };
  const laid = await engravePages(asked, signal, ({ done, of }) => onSystem(done, of));
  return laid && !signal.aborted ? pdfOfPages(printing, parts, laid) : null;
}

/** Each part as a PDF of its own, numbered in the order of the score; null where the signal was given. */
export async function pdfOfEach(
  printing: Printing,
  parts: readonly PartSummary[],
  signal: AbortSignal,
  onPart: (name: string, done: number) => void,
): Promise<{ name: string; bytes: Uint8Array }[] | null> {
  const names = fileNames(parts.map(({ name }) => name));
  const made: { name: string; bytes: Uint8Array }[] = [];
  let next = 0;
  const work = async (): Promise<boolean> => {
    for (let index = next++; index < parts.length; index = next++) {
      const part = parts[index]!;
      onPart(part.name, index);
      const bytes = await pdfOfParts(printing, [part], signal);
      if (!bytes) return false;
      made[index] = { name: names[index]!, bytes };
    }
    return true;
  };
  // While one is made a PDF, the next are engraved.
  const all = await Promise.all(Array.from({ length: AT_ONCE }, work));
  return all.every(Boolean) ? made : null;
}
