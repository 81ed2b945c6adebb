import type { ShortNotes } from '../../decisions/kinds/values';
import { type Frame, frameEnd } from '../../model/frame';
import { beatsOf } from '../../model/meter';
import { type Bar, barIndexOf } from '../../model/score';
import type { Attack } from '../../model/sketch';
import { type Moment, QUARTER, type Span } from '../../model/time';
import { STACCATO } from './gates';

/** The shortest value that is written with a rest after it. */
const SHORTEST = QUARTER / 4;
/** What is held for less than this share of its value may be written shorter, with a rest. */
const LET_GO = 0.6;

/**
 * Writes the notes of some bars that are let go early in the way that was
 * chosen: to the next attack or the end of their beat with a staccato dot, or
 * as short as they were held, halved as often as it takes, with a rest.
 *
 * @param attacks of one body in order, with their ends
 */
export function writeShortNotes(
  attacks: readonly Attack[],
  frame: Frame,
  choiceAt: (bar: number) => ShortNotes,
): void {
  // From the end on, so that the place of the next attack is at hand.
  let next = frameEnd(frame);
  let start = next;
  for (const attack of attacks.toReversed()) {
    if (attack.start < start) next = start;
    start = attack.start;
    const bar = frame.bars[barIndexOf(frame.bars, attack.start)]!;
    const choice = choiceAt(bar.index);
    if (choice === 'heard') continue;
    const latest = Math.min(next, beatEnd(bar, attack.start));
    for (const note of attack.notes) {
      const held = note.until - note.at;
      if (choice === 'rests') {
        note.end = note.start + shortened(note.end - note.start, held);
        if (held >= STACCATO * (note.end - note.start)) delete note.staccato;
      } else if (note.end < latest) {
        note.end = latest;
        if (held < LET_GO * (latest - note.start)) note.staccato = true;
      }
    }
  }
}

/** Where the beat ends in which a moment lies. */
function beatEnd(bar: Bar, moment: Moment): Moment {
  const zero = bar.start - bar.missing;
  const beat = beatsOf(bar).findLast((each) => zero + each.start <= moment);
  return beat ? zero + beat.start + beat.length : moment;
}

/** A value halved until most of it is held. */
function shortened(value: Span, held: Span): Span {
  let short = value;
  while (short >= 2 * SHORTEST && held < LET_GO * short) short /= 2;
  return short;
}
