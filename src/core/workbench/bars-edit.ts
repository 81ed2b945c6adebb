import { counted } from '../basics/words';
import { barIndexOf } from '../model/score';
import { type BarsEdit, orderAfter } from '../rewrite/bar-order';
import { checkBars, rebarred } from '../rewrite/rebarred';
import type { Source } from '../sources';
import type { State, Workbench } from './workbench';

/** The next version of a source, whose bars were put in, taken out or moved. */
export interface EditedBars extends Source {
  /** What went along, as sentences. */
  told: string[];
}

/** Packed documents come out plain. */
const PACKED = /\.mxl$/i;

/**
 * The leading source with bars of it put in, taken out, repeated or moved, over all parts, as its next version; what was
 * decided about it is not in it, and goes along with the music as with any new version. That version is at the workbench then.
 *
 * @throws BarsEditError where that cannot be done
 */
export function editBars(bench: Workbench, { desk }: State, edit: BarsEdit): EditedBars {
  const { source: id } = desk.source;
  const reading = bench.readingOf(id, desk.version);
  if (reading?.kind !== 'score') throw new Error('Bars are put in and taken out of scores only.');
  const { asRead } = reading.written;
  const { bars } = asRead;
  const order = orderAfter(edit, bars.length);
  const { bytes, told } = rebarred(reading.written, order);
  const name = reading.name.replace(PACKED, '.musicxml');
  const next: Source = { id, version: bench.newestOf(id) + 1, name, bytes };
  bench.add(next, (made) => {
    if (made.kind === 'score') checkBars(asRead, made.written.asRead, order);
  });
  const stays = new Set(order);
  const isGone = (moment: number) => !stays.has(barIndexOf(bars, moment));
  const notes = [...desk.decisions.writtenNotes.values()].filter(({ start }) => isGone(start)).length;
  const signs = desk.decisions.barSigns.filter(({ at }) => isGone(at)).length;
  return {
    ...next,
    told: [
      ...told,
      ...(notes > 0 ? [`${counted(notes, 'note')} that you wrote into these bars went with them.`] : []),
      ...(signs > 0 ? [`${counted(signs, 'sign')} that you put at these bars went with them.`] : []),
    ],
  };
}
