import { Equals, IsIn, IsInt, Max, Min } from 'class-validator';
import { CLEF_NAMES, PITCHED_CLEFS, type PitchedClef } from '../../model/clefs';
import {
  inPassage,
  inTurn,
  lastOver,
  MayBeAbsent,
  OfStrandOverPassage,
  passageSubject,
  strandKind,
} from '../kind';

/** As the music or the source has it. */
export const AS_FOUND = 'as-found';

/** Staves of a part at most (MusicXML allows any number; common practice: an organ has three). */
const MOST_STAVES = 9;

/** The clef under which a staff is read, everywhere or in a passage. */
export class ReadClef extends OfStrandOverPassage {
  @Equals('clef') kind = 'clef' as const;
  @IsIn([...PITCHED_CLEFS, AS_FOUND]) clef!: PitchedClef | typeof AS_FOUND;
  /** From 1, the upper one, which it is where absent. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(MOST_STAVES) staff?: number;
}

const staffOf = ({ staff = 1 }: Pick<ReadClef, 'staff'>): number => staff;

/** What was decided about the clefs of one staff (from 1). */
export const clefsOfStaff = (choices: readonly ReadClef[] | undefined, staff: number): ReadClef[] =>
  (choices ?? []).filter((each) => staffOf(each) === staff);

export const clef = strandKind<ReadClef, 'clefs', ReadClef[]>({
  type: ReadClef,
  field: 'clefs',
  readBy: ['score'],
  // What holds throughout one staff says nothing of the others.
  add: (before = [], directive) => [
    ...before.filter((each) => staffOf(each) !== staffOf(directive)),
    ...lastOver(clefsOfStaff(before, staffOf(directive)), directive),
  ],
  join: inTurn,
  subject: (directive) => `${staffOf(directive)} ${passageSubject(directive)}`,
  words: (directive) => {
    const name = directive.clef === AS_FOUND ? 'clefs as found' : `${CLEF_NAMES[directive.clef]} clef`;
    const which = directive.staff === undefined ? '' : ` on staff ${directive.staff}`;
    return `${name}${which}${inPassage(directive)}`;
  },
  doc: {
    fields: `\`clef\`: ${PITCHED_CLEFS.map((name) => `\`${name}\``).join(', ')} or \`${AS_FOUND}\`; optional \`staff\` (from 1, the upper one), \`strand\`, \`from\`, \`to\` (ticks)`,
    meaning:
      'the clef under which a staff with pitches is read; it changes before the first note from there on, and back before the first one after it',
  },
});
