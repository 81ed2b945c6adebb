import { chordMarkers } from '../infer/marks/chord-names';
import { secondsAt } from '../model/clock';
import { frameIndex, momentOf } from '../model/frame';
import type { Check, Found } from './finding';

/** Markers nearer to a bar line than this stand on it. */
const NEAR = 0.02;
/** And further away than this share of a bar they are meant where they are: hit points. */
const FAR = 0.25;

/** Markers that miss their bar line by a little. */
export const checkMarkers: Check = ({ desk: { performance }, result: { frame } }) => {
  const { clock } = frame;
  // What names chords stands at beats.
  const { others } = chordMarkers(performance.markers);
  return others.flatMap(({ tick, text }): Found[] => {
    const bar = frameIndex(frame, tick);
    const [start, end] = [frame.ticks[bar]!, frame.ticks[bar + 1] ?? Number.POSITIVE_INFINITY];
    const near = end - tick < tick - start ? end : start;
    const seconds = secondsAt(clock, tick) - secondsAt(clock, near);
    if (Math.abs(seconds) <= NEAR || Math.abs(tick - near) > FAR * (Math.min(end, start + 1e6) - start))
      return [];
    return [
      {
        weight: 'remark',
        at: momentOf(frame, tick),
        about: `${tick} ${text}`,
        what: `Marker “${text}” stands ${Math.round(1000 * Math.abs(seconds))} ms ${seconds < 0 ? 'before' : 'after'} the bar line.`,
      },
    ];
  });
};
