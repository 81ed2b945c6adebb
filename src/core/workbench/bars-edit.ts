import { counted } from '../basics/words';
import { barIndexOf } from '../model/score';
import { type BarsEdit, orderAfter } from '../rewrite/bar-order';
import { rebarred } from '../rewrite/rebarred';
import type { State, Workbench } from './workbench';

/** A document whose bars were put in, taken out or moved: the next version of its source. */
export interface EditedBars {
  name: string;
  bytes: Uint8Array;
  /** What went along, as sentences. */
  told: string[];
}

/** Packed documents come out plain. */
const PACKED = /\.mxl$/i;

/**
 * The leading source with bars of it put in, taken out, repeated or moved, over all parts; what was decided about it is
 * not in it, and goes along with the music as with any new version.
 *
 * @throws BarsEditError where that cannot be done
 */
export function editBars(bench: Workbench, { desk }: State, edit: BarsEdit): EditedBars {
  const reading = bench.readingOf(desk.source.source, desk.version);
  if (reading?.kind !== 'score') throw new Error('Bars are put in and taken out of scores only.');
  const { bars } = reading.written.asRead;
  const order = orderAfter(edit, bars.length);
  const { bytes, told } = rebarred(reading.written, order);
  const stays = new Set(order);
  const isGone = (moment: number) => !stays.has(barIndexOf(bars, moment));
  const notes = [...desk.decisions.writtenNotes.values()].filter(({ start }) => isGone(start)).length;
  const signs = desk.decisions.barSigns.filter(({ at }) => isGone(at)).length;
  return {
    name: reading.name.replace(PACKED, '.musicxml'),
    bytes,
    told: [
      ...told,
      ...(notes > 0 ? [`${counted(notes, 'note')} that you wrote into these bars went with them.`] : []),
      ...(signs > 0 ? [`${counted(signs, 'sign')} that you put at these bars went with them.`] : []),
    ],
  };
}
