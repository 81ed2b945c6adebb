import type { ChordMark } from '../model/marks';
import type { Chord } from '../model/score';
import { QUARTER, type Span, typeSpan } from '../model/time';

export type TremoloMark = Extract<ChordMark, { kind: 'tremolo' }>;

export const tremoloOf = ({ marks }: Chord): TremoloMark | undefined =>
  marks?.find((mark): mark is TremoloMark => mark.kind === 'tremolo');

/**
 * How long one stroke of a tremolo is: strokes across the stem count as beams
 * of a value do, and add to those that the value has itself (MusicXML 4.0, `tremolo`).
 */
export const strokeSpan = ({ value }: Chord, { strokes }: TremoloMark): Span =>
  Math.min(typeSpan(value.type), QUARTER) / 2 ** Math.max(0, strokes);

/** The strokes of a stretch, each so long; the last may be shorter. */
export function strokesOver(length: Span, each: Span): [from: Span, to: Span][] {
  const count = Math.max(1, Math.round(length / each));
  return Array.from({ length: count }, (_, index) => [
    (length * index) / count,
    (length * (index + 1)) / count,
  ]);
}
