import type { Frame } from '../../model/frame';
import { barIndexOf, type SwingMark } from '../../model/score';
import type { Attack, SketchNote } from '../../model/sketch';
import { swingInBar, swungMoment } from '../../model/swing';
import type { Moment, Span } from '../../model/time';

/** Where a written place of an attack sounds: late where it is the second of a swung pair, and not read as it stands. */
export function soundingPlace(
  { start, literal, even }: Pick<Attack, 'start' | 'literal' | 'even'>,
  frame: Frame,
  swings: readonly SwingMark[],
): Moment {
  if (literal === undefined || even) return start;
  const bar = frame.bars[barIndexOf(frame.bars, start)]!;
  const swing = swingInBar(swings, bar.index);
  return swing ? swungMoment(start, bar.start - bar.missing, swing) : start;
}

/**
 * How long after where its written place sounds an attack, or one note of it,
 * was played; negative for early. The lead is taken out, swing is not undone:
 * bent times would make early attacks seem earlier than late ones late.
 */
export function lateness(
  attack: Attack,
  frame: Frame,
  swings: readonly SwingMark[],
  note: Attack | SketchNote = attack,
): Span {
  const literal = typeof note.literal === 'object' ? note.literal.at : note.literal;
  return (literal ?? note.at) - soundingPlace(attack, frame, swings);
}
