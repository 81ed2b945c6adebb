import { ArrayMaxSize, ArrayMinSize, Equals, IsArray, IsIn, Matches } from 'class-validator';
import { inPassage, inTurn, OfStrandOverPassage, strandKind } from '../kind';

/** A kind of event: one controller or a range of them, bends or pressure. */
const LANE = /^(cc\d{1,3}(-\d{1,3})?|pitch-bend|channel-pressure|key-pressure)$/;

export const CONTROLLER_USES = ['keep', 'remove', 'first', 'neutral'] as const;

/** What becomes of controllers, bends and pressures: kept, removed, only the first kept, or one neutral value. */
export class Controllers extends OfStrandOverPassage {
  @Equals('controllers') kind = 'controllers' as const;
  @IsArray() @ArrayMinSize(1) @ArrayMaxSize(140) @Matches(LANE, { each: true }) lanes!: string[];
  @IsIn(CONTROLLER_USES) use!: (typeof CONTROLLER_USES)[number];
}

export type ControllerChoice = Omit<Controllers, 'kind' | 'strand'>;

/** Lanes and range of a directive about controllers. */
const reachOf = ({ lanes, from, to }: ControllerChoice): string => `${lanes.join()} ${from}-${to}`;

export const controllers = strandKind({
  type: Controllers,
  field: 'controllers',
  readBy: ['clean'],
  add: (before: ControllerChoice[] | undefined, directive: Controllers): ControllerChoice[] | undefined => {
    const rules = before ?? [];
    rules.push(directive);
    return rules;
  },
  join: inTurn,
  subject: reachOf,
  words: (directive) =>
    `${directive.lanes.length === 1 ? directive.lanes[0] : `${directive.lanes.length} lanes`} ${
      { keep: 'kept', remove: 'removed', first: 'reduced to the first', neutral: 'made neutral' }[
        directive.use
      ]
    }${inPassage(directive)}`,
  doc: {
    fields:
      'optional `strand`, `lanes` (`cc7`, `cc20-31`, `pitch-bend`, `channel-pressure`, `key-pressure`), `use`: `keep`, `remove`, `first` or `neutral`; optional `from`, `to` (ticks)',
    meaning:
      'what becomes of controllers; the last that fits an event decides, those of the strand after those for all',
  },
});
