import type { Mark } from '../../model/marks';
import type { TempoMark } from '../../model/score';
import { type Moment, QUARTER } from '../../model/time';
import { type Change, spaceBefore } from './changes';
import { elementAt } from './elements';
import type { Places } from './part-reader';
import { writeMark } from './write-marks';
import { XmlText } from './xml';

/** Whether a mark stands in one part for all. */
export const isForAll = ({ kind }: Mark): boolean => kind === 'tempo' || kind === 'rehearsal';

/** What stands in the first part for all parts, bar by bar. */
export interface SaidOnce {
  marks: readonly (readonly Mark[])[];
  tempos: readonly TempoMark[];
}

/** What is written before the music of a bar (MusicXML 4.0, `measure`). */
const BEFORE = new Set(['print', 'barline', 'attributes']);

/**
 * The changes that write into a part what stood in one that is gone: each mark
 * in its bar, at its moment by an offset, and tempos that only sound.
 */
export function saidOnce(text: string, { bars }: Places, { marks, tempos }: SaidOnce): Change[] {
  const changes: Change[] = [];
  let divisions = 1;
  for (const [bar, place] of bars.entries()) {
    if (!place) continue;
    const said = text.slice(place.from, place.to).matchAll(/<divisions>\s*([\d.]+)/g);
    for (const [, count] of said) divisions = Number(count) || divisions;
    const offset = (at: Moment) => Math.round((at / QUARTER) * divisions);
    const own = (marks[bar] ?? []).filter(isForAll);
    const xml = new XmlText();
    for (const mark of own) writeMark(xml, mark, offset(mark.at), undefined);
    for (const { at, quartersPerMinute } of tempos.filter((tempo) => tempo.bar === bar)) {
      if (own.some((mark) => mark.kind === 'tempo' && mark.at === at)) continue;
      xml.start('sound', { tempo: quartersPerMinute });
      if (at > 0) xml.leaf('offset', offset(at));
      xml.end();
    }
    const lines = xml.text();
    if (lines === '') continue;
    const element = elementAt(text, place);
    const first = element.children.find(({ name }) => !BEFORE.has(name));
    if (first)
      changes.push({ from: first.from, to: first.from, text: lines + spaceBefore(text, first.from) });
  }
  return changes;
}
