import {
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { BAR_LINES, BAR_SIGNS, type BarLine, type BarSign, type BarSignChoice } from '../../model/bar-signs';
import { momentOfText } from '../../model/time';
import { Directive, jobKind, MayBeAbsent, OrNull } from '../kind';
import { MOMENT } from './place';

/** Puts a sign at a bar for all parts, or takes one off that stands there. */
export class PutBarSign extends Directive {
  @Equals('bar-sign') kind = 'bar-sign' as const;
  /** Where the bar begins, in quarter notes from the start. */
  @Matches(MOMENT) at!: string;
  @IsIn(BAR_SIGNS) what!: BarSign;
  /** Whether it stands there; null for whatever was found. */
  @OrNull() @IsBoolean() put!: boolean | null;
  @MayBeAbsent() @IsString() @MinLength(1) @MaxLength(120) text?: string;
  @MayBeAbsent() @IsNumber() @Min(10) @Max(600) quartersPerMinute?: number;
  @MayBeAbsent() @IsInt() @Min(-7) @Max(7) fifths?: number;
  @MayBeAbsent() @IsBoolean() minor?: boolean;
  @MayBeAbsent() @IsIn(BAR_LINES) style?: BarLine;
  @MayBeAbsent() @IsInt() @Min(2) @Max(99) times?: number;
  @MayBeAbsent() @IsInt() @Min(1) @Max(200) bars?: number;
}

type BarSigns = readonly BarSignChoice[];

const NAMES: Record<BarSign, string> = {
  rehearsal: 'rehearsal mark',
  tempo: 'tempo mark',
  key: 'key signature',
  'bar-line': 'bar line',
  'repeat-from': 'repeat sign',
  'repeat-to': 'end of a repeat',
  ending: 'ending',
};

const ENDING = /^\d{1,2}(?:, ?\d{1,2})*$/;

const isSame = (one: Pick<PutBarSign, 'what'>, other: Pick<PutBarSign, 'what'>) => one.what === other.what;

export const barSign = jobKind({
  type: PutBarSign,
  field: 'barSigns',
  readBy: ['source', 'score'],
  initial: (): BarSigns => [],
  add: (before: BarSigns, { kind: _, at: text, put, ...sign }: PutBarSign): BarSigns => {
    const at = momentOfText(text);
    const others = before.filter((each) => each.at !== at || !isSame(each, sign));
    return put === null ? others : [...others, { ...sign, at, put }];
  },
  subject: ({ at, what }) => `${at} ${what}`,
  check: ({ what, put, text, quartersPerMinute, fifths, style, bars }) => {
    if (put !== true) return null;
    if (what === 'rehearsal' && !text) return 'text must be there for a rehearsal mark';
    if (what === 'tempo' && !text && quartersPerMinute === undefined)
      return 'a tempo must have a text or quartersPerMinute';
    if (what === 'key' && fifths === undefined) return 'fifths must be there for a key';
    if (what === 'bar-line' && !style) return 'style must be there for a bar line';
    if (what === 'ending' && (!ENDING.test(text ?? '') || bars === undefined))
      return 'an ending must have its numbers as text, such as 1 or 1, 2, and bars';
    return null;
  },
  words: ({ what, put, text, quartersPerMinute, style }) => {
    if (put === null) return `A bar’s ${NAMES[what]} as found`;
    if (!put) return `A bar without ${NAMES[what]}`;
    const figure = quartersPerMinute === undefined ? '' : `${quartersPerMinute} quarters a minute`;
    const said = [text && `“${text}”`, figure || undefined, style].filter(Boolean).join(', ');
    return `A bar with ${NAMES[what]}${said && ` ${said}`}`;
  },
  doc: {
    fields:
      '`at` (where the bar begins, in quarter notes from the start, `48` or `97/2`), `what`: `rehearsal`, `tempo`, `key`, `bar-line`, `repeat-from`, `repeat-to` or `ending`; `put`: true, false or null; `text` of a rehearsal mark, a tempo or an ending (`1` or `1, 2`); `quartersPerMinute` (10–600); `fifths` (−7 to 7) and `minor` of a key in concert pitch; `style` of a bar line in MusicXML’s words; `times` that a repeat is played; `bars` that an ending goes over',
    meaning:
      'puts a sign at a bar for all parts, or takes off what stands there; null takes the decision back. Repeats, endings and the figure of a tempo are of scores that were read: a performance is folded by `repeats`, and its clock has its tempo',
  },
});
