import { ArrayUnique, Equals, IsIn, IsNumber, Max, Min } from 'class-validator';
import {
  AS_HEARD,
  type HearingSettings,
  MIX_FORMS,
  MIX_GRADES,
  type MixForm,
  type MixGrade,
  READS,
  RULES,
  type Rule,
} from '../../recording/heard';
import { Directive, jobKind, MayBeAbsent, OrNull } from '../kind';

/** Longer recordings are not heard; seconds. */
const LONGEST = 36_000;

/** How what was heard in a recording is taken. */
export class Hear extends Directive implements HearingSettings {
  @Equals('hearing') kind = 'hearing' as const;
  @OrNull() @IsIn(READS) read!: HearingSettings['read'];
  @MayBeAbsent() @IsIn(MIX_FORMS) form?: MixForm;
  @MayBeAbsent() @IsIn(MIX_GRADES) grade?: MixGrade;
  @IsNumber() @Min(0) @Max(1) threshold!: number;
  @IsIn(RULES, { each: true }) @ArrayUnique() rules!: Rule[];
  @OrNull() @IsNumber() @Min(0) @Max(LONGEST) from!: number | null;
  @OrNull() @IsNumber() @Min(0) @Max(LONGEST) to!: number | null;
}

const SAID = { line: 'as one line', many: 'as many notes at once', mix: 'as a band' };
const MADE: Record<MixForm, string> = {
  'lead-sheet': 'a lead sheet of it',
  'with-bass': 'a lead sheet with bass of it',
  piano: 'a piano version of it',
  band: 'all its lines',
};

export const hearing = jobKind({
  type: Hear,
  field: 'hearing',
  readBy: ['source'],
  initial: (): HearingSettings => AS_HEARD,
  add: (_: HearingSettings, { kind: _kind, ...settings }: Hear): HearingSettings => settings,
  check: ({ from, to }) => (from !== null && to !== null && from >= to ? 'ends before it begins' : null),
  words: ({ read, form = 'lead-sheet', threshold, rules, from, to }) =>
    [
      `Recording heard ${read ? SAID[read] : 'as it was guessed'}, from ${Math.round(threshold * 100)} % on`,
      ...(read === 'mix' ? [MADE[form]] : []),
      ...(rules.length < RULES.length ? [`${RULES.length - rules.length} of its rules off`] : []),
      ...(from !== null || to !== null
        ? [`from ${from ?? 0} s to ${to === null ? 'the end' : `${to} s`}`]
        : []),
    ].join(', '),
  doc: {
    fields: `\`read\`: \`line\`, \`many\`, \`mix\` or null for as it was guessed; of a mix optional \`form\`: \`lead-sheet\`, \`with-bass\`, \`piano\` or \`band\`, and \`grade\` (1–3, of the left hand); \`threshold\` (0–1); \`rules\`: those that may speak, of ${RULES.map((rule) => `\`${rule}\``).join(', ')}; \`from\`, \`to\` (seconds of the recording, or null)`,
    meaning: 'how what was heard in a recording is taken',
  },
});
