import { Equals, IsBoolean, IsIn } from 'class-validator';
import { Directive, jobKind, MayBeAbsent } from '../kind';

/** As each player reads it, or all as it sounds. */
export const PITCHES = ['written', 'concert'] as const;
/** As it came, or left to whoever opens it. */
export const LAYOUTS = ['kept', 'left-out'] as const;

/** How a score and its parts are handed over. */
export class ScoreForm extends Directive {
  @Equals('score-form') kind = 'score-form' as const;
  @IsIn(PITCHES) pitch!: (typeof PITCHES)[number];
  @IsIn(LAYOUTS) layout!: (typeof LAYOUTS)[number];
  /** Small notes of others before entries after long rests, in parts by themselves. */
  @MayBeAbsent() @IsBoolean() cues?: boolean;
}

export type ScoreFormChoice = Omit<ScoreForm, 'kind'>;

const AS_IT_IS: ScoreFormChoice = { pitch: 'written', layout: 'kept' };

export const scoreForm = jobKind({
  type: ScoreForm,
  field: 'scoreForm',
  readBy: ['hand-over'],
  initial: () => AS_IT_IS,
  add: (_: ScoreFormChoice, { kind: __, ...choice }: ScoreForm): ScoreFormChoice => choice,
  words: ({ pitch, layout, cues }) =>
    `MusicXML ${pitch === 'concert' ? 'in concert pitch' : 'as parts are written'}${layout === 'kept' ? '' : ', without its layout'}${cues ? ', cues in parts' : ''}`,
  doc: {
    fields:
      '`pitch`: `written` or `concert`; `layout`: `kept` or `left-out`; `cues`: true or false, where wanted',
    meaning:
      'how MusicXML is handed over: transposing instruments as they read or as they sound; the page layout of a score that was read as it came, or left to whoever opens it; whether parts by themselves show small notes of others before entries after long rests',
  },
});
