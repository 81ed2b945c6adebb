import { fileNames } from '../../core/basics/file-names';
import type { PageFormat } from '../../core/engrave/pages';
import type { PartId } from '../../core/model/ids';
import type { PartSummary, ScoreSummary } from '../../core/workbench/replies';
import { type Core, withPdf } from '../../workers/client';
import {
  type ChosenFormat,
  engravePages,
  formatFor,
  type LaidPages,
  letteringOf,
  type Printed,
  pdfRequest,
} from '../../workers/paper';
import { unlessStopped } from '../common/unlessStopped';
import { engrave } from '../engraving/engrave';

/** Parts in hand at a time. */
const AT_ONCE = 3;

/** A score at one state, and how it is put on paper. */
export interface Printing {
  core: Core;
  summary: ScoreSummary;
  concert: boolean;
  chosen: ChosenFormat;
  /** Told the letters that are not in a PDF, since none of its faces has them. */
  onMissing: (letters: readonly string[]) => void;
}

/** Some parts as they go on paper. */
export const printedParts = (
  {
    core,
    summary: { revision },
    concert,
  }: Pick<Printing, 'core' | 'concert'> & {
    summary: Pick<ScoreSummary, 'revision'>;
  },
  parts: readonly PartId[],
  format: PageFormat,
): Printed => ({
  isPart: parts.length === 1,
  format,
  systems: (width, from) => core.systems(revision, { parts: [...parts], width, from, concert, paper: true }),
  window: (from, to) => core.window(revision, { parts: [...parts], from, to, concert, paper: true }),
  engrave,
});

const namesOf = (parts: readonly PartSummary[]): string[] => parts.map(({ name }) => name);

type Maker = Parameters<Parameters<typeof withPdf>[0]>[0];

async function made(
  maker: Maker,
  printing: Printing,
  parts: readonly PartSummary[],
  laid: LaidPages,
): Promise<Uint8Array> {
  const format = formatFor(printing.chosen, parts.length);
  const { bytes, missing } = await maker.make(
    pdfRequest(laid, letteringOf(printing.summary, namesOf(parts), printing.concert), format),
  );
  printing.onMissing(missing);
  return bytes;
}

/** A PDF of pages that are laid already; null where the signal was given. */
export const pdfOfPages = (
  printing: Printing,
  parts: readonly PartSummary[],
  laid: LaidPages,
  signal: AbortSignal,
): Promise<Uint8Array | null> =>
  unlessStopped(
    signal,
    withPdf((maker) => made(maker, printing, parts, laid), signal),
  );

const laidParts = (
  printing: Printing,
  parts: readonly PartSummary[],
  signal: AbortSignal,
  onSystem: (done: number, of: number) => void = () => {},
): Promise<LaidPages | null> => {
  const ids = parts.map(({ id }) => id);
  const printed = printedParts(printing, ids, formatFor(printing.chosen, parts.length));
  return engravePages(printed, signal, ({ done, of }) => onSystem(done, of));
};

/**
 * A PDF of some parts together.
 * @param onSystem told how far it is
 * @returns null where the signal was given
 */
export async function pdfOfParts(
  printing: Printing,
  parts: readonly PartSummary[],
  signal: AbortSignal,
  onSystem: (done: number, of: number) => void,
): Promise<Uint8Array | null> {
  const laid = await laidParts(printing, parts, signal, onSystem);
  return laid && !signal.aborted ? pdfOfPages(printing, parts, laid, signal) : null;
}

interface PartPdf {
  name: string;
  bytes: Uint8Array;
}

/** Each part as a PDF of its own, numbered in the order of the score; null where the signal was given. */
export function pdfOfEach(
  printing: Printing,
  parts: readonly PartSummary[],
  signal: AbortSignal,
  onPart: (name: string, done: number) => void,
): Promise<PartPdf[] | null> {
  const names = fileNames(parts.map(({ name }) => name));
  const all = withPdf(async (maker) => {
    const pdfs: PartPdf[] = [];
    let next = 0;
    const work = async (): Promise<void> => {
      for (let index = next++; index < parts.length; index = next++) {
        const part = parts[index]!;
        onPart(part.name, index);
        const laid = await laidParts(printing, [part], signal);
        signal.throwIfAborted();
        if (laid) pdfs[index] = { name: names[index]!, bytes: await made(maker, printing, [part], laid) };
      }
    };
    // While one is made a PDF, the next are engraved.
    await Promise.all(Array.from({ length: AT_ONCE }, work));
    return pdfs;
  }, signal);
  return unlessStopped(signal, all);
}
