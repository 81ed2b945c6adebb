import { ArrayUnique, Equals, IsIn, IsNumber, Max, Min } from 'class-validator';
import { AS_HEARD, type HearingSettings, RULES, type Rule } from '../../recording/heard';
import { Directive, jobKind, OrNull } from '../kind';

/** Longer recordings are not heard; seconds. */
const LONGEST = 36_000;

/** How what was heard in a recording is taken. */
export class Hear extends Directive implements HearingSettings {
  @Equals('hearing') kind = 'hearing' as const;
  @OrNull() @IsIn(['line', 'many']) read!: HearingSettings['read'];
  @IsNumber() @Min(0) @Max(1) threshold!: number;
  @IsIn(RULES, { each: true }) @ArrayUnique() rules!: Rule[];
  @OrNull() @IsNumber() @Min(0) @Max(LONGEST) from!: number | null;
  @OrNull() @IsNumber() @Min(0) @Max(LONGEST) to!: number | null;
}

const SAID = { line: 'as one line', many: 'as many notes at once' };

export const hearing = jobKind({
  type: Hear,
  field: 'hearing',
  readBy: ['source'],
  initial: (): HearingSettings => AS_HEARD,
  add: (_: HearingSettings, { kind: _kind, ...settings }: Hear): HearingSettings => settings,
  check: ({ from, to }) => (from !== null && to !== null && from >= to ? 'ends before it begins' : null),
  words: ({ read, threshold, rules, from, to }) =>
    [
      `Recording heard ${read ? SAID[read] : 'as it was guessed'}, from ${Math.round(threshold * 100)} % on`,
      ...(rules.length < RULES.length ? [`${RULES.length - rules.length} of its rules off`] : []),
      ...(from !== null || to !== null
        ? [`from ${from ?? 0} s to ${to === null ? 'the end' : `${to} s`}`]
        : []),
    ].join(', '),
  doc: {
    fields: `\`read\`: \`line\`, \`many\` or null for as it was guessed; \`threshold\` (0–1); \`rules\`: those that may speak, of ${RULES.map((rule) => `\`${rule}\``).join(', ')}; \`from\`, \`to\` (seconds of the recording, or null)`,
    meaning: 'how what was heard in a recording is taken',
  },
});
