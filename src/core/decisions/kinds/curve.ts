import { Type } from 'class-transformer';
import { ArrayMaxSize, Equals, IsArray, IsInt, Matches, Max, Min, ValidateNested } from 'class-validator';
import { counted } from '../../basics/words';
import { laneName } from '../../model/lanes';
import { OfStrandOrAll, strandKind } from '../kind';

/** Lanes that can be drawn: controllers but those that choose or switch modes, bends, pressure. */
const DRAWN = /^(cc([1-9]|[1-9]\d|1[01]\d)|pitch-bend|channel-pressure)$/;
/** More than any hand draws. */
const MOST_POINTS = 5000;

export class Breakpoint {
  @IsInt() @Min(0) tick!: number;
  @IsInt() @Min(0) @Max(16_383) value!: number;
}

/** Draws one lane of a strand, or of all that have none of their own, through points; none takes it back. */
export class DrawCurve extends OfStrandOrAll {
  @Equals('curve') kind = 'curve' as const;
  @Matches(DRAWN) lane!: string;
  @IsArray()
  @ArrayMaxSize(MOST_POINTS)
  @ValidateNested({ each: true })
  @Type(() => Breakpoint)
  points!: Breakpoint[];
}

/** Curves by their lanes. */
export type Curves = Readonly<Record<string, readonly Breakpoint[]>>;

export const curve = strandKind({
  type: DrawCurve,
  field: 'curves',
  readBy: ['clean'],
  add: (before: Curves | undefined, { lane, points }: DrawCurve): Curves => ({ ...before, [lane]: points }),
  join: (all, own) => (all && own ? { ...all, ...own } : (own ?? all)),
  subject: ({ lane }) => lane,
  check: ({ lane, points }) =>
    points.some(({ tick }, index) => index > 0 && tick <= points[index - 1]!.tick)
      ? 'its points are not in order'
      : lane !== 'pitch-bend' && points.some(({ value }) => value > 127)
        ? 'its values go beyond 127'
        : null,
  words: ({ lane, points }) =>
    points.length > 0
      ? `${laneName(lane)} drawn with ${counted(points.length, 'point')}`
      : `${laneName(lane)} as it was`,
  doc: {
    fields:
      'optional `strand`, `lane` (`cc1`–`cc119`, `pitch-bend`, `channel-pressure`), `points`: [{`tick`, `value`} …] in order',
    meaning:
      'draws a lane in straight lines from the first point to the last; before and after that it stays as it was; no points take it back',
  },
});
