import { Equals, IsIn, IsNumber, Max, Min } from 'class-validator';
import { SWUNG_VALUES, type SwungValue } from '../../model/score';
import { inPassage, isWhole, jobKind, lastOver, MayBeAbsent, OverPassage, passageSubject } from '../kind';

export const SWING_USES = ['found', 'straight', 'swung'] as const;

/** Reads eighths or 16ths as swung, or all as straight, over the whole piece or a passage; `found` goes back to what was found. */
export class SwingChoice extends OverPassage {
  @Equals('swing') kind = 'swing' as const;
  @IsIn(SWING_USES) use!: (typeof SWING_USES)[number];
  /** For `swung`: what comes in pairs of long and short; eighths where nothing is said. */
  @MayBeAbsent() @IsIn(SWUNG_VALUES) value?: SwungValue;
  /** For `swung`: where in its pair the second one sounds. */
  @MayBeAbsent() @IsNumber() @Min(0.5) @Max(0.8) ratio?: number;
}

type Swings = Omit<SwingChoice, 'kind'>[];

export const swing = jobKind({
  type: SwingChoice,
  field: 'swings',
  readBy: ['rhythm'],
  initial: (): Swings => [],
  add: (before: Swings, directive: SwingChoice): Swings =>
    directive.use === 'found' && isWhole(directive) ? [] : lastOver(before, directive),
  subject: passageSubject,
  words: (directive) =>
    ({
      found: 'Swing as found',
      straight: 'Read straight',
      swung: `Read ${directive.value === '16th' ? '16ths' : 'eighths'} as swung`,
    })[directive.use] + inPassage(directive),
  doc: {
    fields:
      '`use`: `found`, `straight` or `swung` (with optional `value`, `eighth` or `16th`, and `ratio`, 0.5–0.8); optional `from`, `to` (ticks)',
    meaning: 'whether eighths or 16ths are written straight and played swung',
  },
});
