import { type DrumLayout, drumSound } from '../../instruments/kit';
import { type Frame, frameEnd } from '../../model/frame';
import { beatsOf } from '../../model/meter';
import { barIndexOf } from '../../model/score';
import type { Attack } from '../../model/sketch';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { writeGraces } from './graces';
import { piecesOf } from './pieces';
import { isMultiple, placesOf, quarterOf } from './places';

/**
 * Lengths for drums, whose releases mean nothing: a stroke is written to the
 * next stroke of the same hands or feet, at most to the end of its beat, and
 * never longer than one value can say: a stroke is no tied note (common practice).
 */
export function fitDrumLengths(
  attacks: readonly Attack[],
  frame: Frame,
  layout: DrumLayout = drumSound,
): void {
  writeGraces(attacks);
  const { divisions } = placesOf(
    attacks.filter(({ grace }) => !grace),
    frame,
  );
  const isTriplet = (start: Moment) => {
    const made = divisions.get(quarterOf(start, frame).quarter);
    return made !== undefined && [3, 6, 12].some((count) => made.has(count));
  };
  for (const foot of [false, true]) {
    let following = frameEnd(frame);
    for (const attack of attacks.toReversed()) {
      if (attack.grace) continue;
      const notes = attack.notes.filter((note) => layout(note.key).foot === foot);
      if (notes.length === 0) continue;
      const end = untied(
        frame,
        attack.start,
        Math.min(following, beatEnd(frame, attack.start)),
        isTriplet(attack.start),
      );
      for (const note of notes) {
        note.start = attack.start;
        note.end = end;
      }
      following = attack.start;
    }
  }
}

/** Values that a stroke may have instead of one that needs a tie, from the longest down; and within triplets, where it stands on a third, a sixth, or finer. */
const STROKES: readonly Span[] = [6, 4, 3, 2, 1.5, 1, 0.75, 0.5, 0.25].map((each) => (each * QUARTER) / 4);
const IN_TRIPLETS: readonly (readonly [place: number, values: readonly Span[]])[] = [
  [3, [QUARTER, (2 * QUARTER) / 3, QUARTER / 3, QUARTER / 6, QUARTER / 12]],
  [6, [QUARTER / 6, QUARTER / 12]],
  [12, [QUARTER / 12, QUARTER / 24]],
];

/** The last end up to this one that a single value reaches. @param isTriplet its beat is divided by three */
function untied(frame: Frame, start: Moment, end: Moment, isTriplet: boolean): Moment {
  if (isTriplet) {
    const { inside } = quarterOf(start, frame);
    const values = IN_TRIPLETS.find(([place]) => isMultiple(inside, place))?.[1] ?? [];
    return start + (values.find((span) => start + span <= end) ?? end - start);
  }
  if (piecesOf(frame, start, end) <= 1) return end;
  const value = STROKES.find((span) => start + span < end && piecesOf(frame, start, start + span) <= 1);
  return value === undefined ? end : start + value;
}

function beatEnd(frame: Frame, moment: Moment): Moment {
  const bar = frame.bars[barIndexOf(frame.bars, moment)]!;
  const zero = bar.start - bar.missing;
  const beat = beatsOf(bar).findLast((each) => zero + each.start <= moment)!;
  return Math.min(zero + beat.start + beat.length, bar.start + bar.length);
}
