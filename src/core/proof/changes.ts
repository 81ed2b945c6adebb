import { lastAtOrBefore } from '../basics/search';
import { secondsAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import type { Check, Found } from './finding';

/** Seconds that it takes to put a mute on or off, and to change between bow and fingers (common practice). */
const CHANGES: readonly [text: RegExp, seconds: number, what: string][] = [
  [/^(con sord|senza sord|mute|open$|(cup|harmon|straight|bucket) mute|plunger)/i, 2, 'to change the mute'],
  [/^(pizz|arco)/i, 0.25, 'to change between bow and fingers'],
];

/** Texts that ask a player for something faster than hands are. */
export const checkChanges: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index) => {
    const { frame } = result;
    const at = (moment: number) => secondsAt(frame.clock, tickOfMoment(frame, moment));
    const own = sounded[index]!;
    return part.bars.flatMap(({ marks = [] }, bar) =>
      marks.flatMap((mark): Found[] => {
        if (mark.kind !== 'words') return [];
        const change = CHANGES.find(([text]) => text.test(mark.text));
        const moment = frame.bars[bar]!.start + mark.at;
        const before = lastAtOrBefore(own, moment - 1, ({ start }) => start);
        const last = own[before];
        if (!change || !last || last.start >= moment) return [];
        const seconds = at(moment) - at(last.end);
        if (seconds >= change[1] - 1e-6) return [];
        return [
          {
            weight: 'doubtful',
            part: index,
            at: moment,
            about: `${bar} ${mark.text}`,
            what: `“${mark.text}”: ${Math.max(0, seconds).toFixed(1)} seconds ${change[2]}, which takes ${change[1]}.`,
          },
        ];
      }),
    );
  });
