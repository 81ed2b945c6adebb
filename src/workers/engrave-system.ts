import type { VerovioToolkit } from 'verovio/esm';
import { mendedMei } from '../core/engrave/mend';
import { withoutMultiRests } from '../core/engrave/multi-rests';
import { countSystems, type EngraveJob, systemOptions } from './system-options';

/**
 * Engraves a document as one system, stretched to the width.
 * @returns the SVG text
 * @throws Error where the engraver cannot read it
 */
export function engraveSystem(engraver: VerovioToolkit, job: EngraveJob): string {
  engraver.setOptions(systemOptions(job));
  const { document, rests } = withoutMultiRests(job.document);
  const load = (text: string) => {
    if (!engraver.loadData(text)) throw new Error('The engraver could not read this window.');
  };
  load(document);
  const mended = mendedMei(document, () => engraver.getMEI(), rests);
  if (mended !== null) load(mended);
  const svg = engraver.renderToSVG(1);
  if (!job.even || countSystems(svg) <= 1) return svg;
  // Too much for the width in print size: one system all the same, drawn smaller.
  engraver.setOptions({ breaks: 'none', adjustPageWidth: true });
  engraver.redoLayout();
  const whole = engraver.renderToSVG(1);
  engraver.setOptions({ adjustPageWidth: false });
  return whole;
}
