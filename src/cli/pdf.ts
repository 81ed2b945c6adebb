import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { enableLog, LOG_OFF, VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import type { ScoreFormChoice } from '../core/decisions/kinds/score-form';
import { onPaper } from '../core/engrave/pages';
import { planSystems } from '../core/engrave/systems';
import { windowOf } from '../core/engrave/window';
import type { Written } from '../core/workbench/workbench';
import { engraveSystem } from '../workers/engrave-system';
import { engravePages, formatFor, letteringOf, pdfRequest, USUAL_FORMAT } from '../workers/paper';
import { checkPdfRequest, pdfOf, textsOf } from '../workers/pdf';
import { type Face, facesFor } from '../workers/print-faces';
import { UsageError } from './usage-error';

let engraver: Promise<VerovioToolkit> | null = null;

/** Where the faces of a PDF lie (`scripts/print-fonts.mjs`), from wherever in the house this was bundled to. */
function facesFolder(): string {
  for (let at = dirname(fileURLToPath(import.meta.url)); ; at = dirname(at)) {
    const folder = join(at, 'public', 'print-fonts');
    if (existsSync(folder)) return folder;
    if (at === dirname(at)) throw new UsageError('The faces of a PDF are not there: start a build first.');
  }
}

/**
 * A score as pages, as the page makes them.
 * @returns also the letters that stand in none of the faces, and so are not in it
 */
export async function pdfOfScore(
  { transcription }: Written,
  { pitch, cues = false }: ScoreFormChoice,
): Promise<{ bytes: Uint8Array; missing: string[] }> {
  engraver ??= createVerovioModule().then((module) => {
    // What it says of windows that begin in mid-slur is of no use to anybody.
    enableLog(LOG_OFF, module);
    return new VerovioToolkit(module);
  });
  const toolkit = await engraver;
  const concert = pitch === 'concert';
  const ids = new Set(transcription.score.parts.map(({ id }) => id));
  const score = onPaper(transcription.score, ids, { concert, cues });
  const format = formatFor(USUAL_FORMAT, score.parts.length);
  const laid = await engravePages(
    {
      isPart: score.parts.length === 1,
      format,
      systems: async (width, from) => planSystems(score, ids, width, from),
      window: async (from, to) => windowOf(score, ids, from, to),
      engrave: async (job) => engraveSystem(toolkit, job),
    },
    new AbortController().signal,
    () => {},
  );
  if (!laid) throw new Error('The pages were not made.');
  // On the paper a single part has no name: it stands at the head of the page.
  const names = transcription.score.parts.map(({ name }) => name);
  const request = checkPdfRequest(pdfRequest(laid, letteringOf(score, names, concert), format));
  const { faces, missing } = facesFor(textsOf(request));
  const folder = facesFolder();
  const read = (face: Face) => new Uint8Array(readFileSync(join(folder, face.replaceAll(' ', '-'))));
  return { bytes: await pdfOf(request, new Map(faces.map((face) => [face, read(face)]))), missing };
}
