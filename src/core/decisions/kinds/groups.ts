import { ArrayMaxSize, Equals, IsArray, IsIn, IsInt, Max, Min } from 'class-validator';
import { isSameMeter } from '../../model/clock';
import { inPassage, isWhole, jobKind, OverPassage, passageSubject } from '../kind';

/** Groups the bars of an irregular meter, over the whole piece or a passage; no groups go back to what was found. */
export class ChooseGroups extends OverPassage {
  @Equals('groups') kind = 'groups' as const;
  /** Of the meter, in whose units the groups are; they add up to it. */
  @IsInt() @Min(5) @Max(13) numerator!: number;
  @IsIn([2, 4, 8, 16, 32]) denominator!: number;
  @IsArray() @ArrayMaxSize(6) @IsIn([2, 3], { each: true }) groups!: number[];
}

type GroupChoices = Omit<ChooseGroups, 'kind'>[];

export const groups = jobKind({
  type: ChooseGroups,
  field: 'groups',
  readBy: ['rhythm'],
  initial: (): GroupChoices => [],
  add: (before: GroupChoices, directive: ChooseGroups): GroupChoices => {
    const others = isWhole(directive) ? before.filter((each) => !isSameMeter(each, directive)) : before;
    others.push(directive);
    return others;
  },
  subject: (directive) => `${directive.numerator}/${directive.denominator} ${passageSubject(directive)}`,
  check: (directive) =>
    directive.groups.length === 0 ||
    directive.groups.reduce((sum, units) => sum + units, 0) === directive.numerator
      ? null
      : `groups must add up to ${directive.numerator}`,
  words: (directive) =>
    `${directive.numerator}/${directive.denominator} grouped ${
      directive.groups.length > 0 ? directive.groups.join(' + ') : 'as found'
    }${inPassage(directive)}`,
  doc: {
    fields:
      '`numerator`, `denominator` (of the meter); `groups`: twos and threes that add up to the numerator, or none for what was found; optional `from`, `to` (ticks)',
    meaning: 'how bars of 5/8, 7/8 and other irregular meters group',
  },
});
