import type { Barline } from '../../model/score';
import { child, numberFrom, textOf, type XmlElement } from './elements';
import { BAR_STYLES, known } from './values';

/** What a bar line says (MusicXML 4.0, `barline`), but for its jumps. @param lost told of what the model has no place for */
export function readBarline(element: XmlElement, lost: (name: string) => void): Barline {
  const style = known(BAR_STYLES, textOf(element, 'bar-style'), lost);
  const repeat = child(element, 'repeat');
  const ending = child(element, 'ending');
  const direction = repeat?.attributes.direction === 'forward' ? 'forward' : 'backward';
  const times = numberFrom(repeat?.attributes.times);
  const type = ending?.attributes.type;
  return {
    ...(style && { style }),
    ...(repeat && { repeat: { direction, ...(times !== undefined && { times }) } }),
    ...(ending && {
      ending: {
        numbers: (ending.attributes.number ?? '').split(/[ ,]+/).flatMap((each) => numberFrom(each) ?? []),
        type: type === 'start' || type === 'stop' ? type : 'discontinue',
        ...(ending.text.trim() && { text: ending.text.trim() }),
      },
    }),
  };
}
