import { Equals, IsIn } from 'class-validator';
import { Directive, jobKind } from '../kind';

/** As each player reads it, or all as it sounds. */
export const PITCHES = ['written', 'concert'] as const;
/** As it came, or left to whoever opens it. */
export const LAYOUTS = ['kept', 'left-out'] as const;

/** How a score is handed over as MusicXML. */
export class ScoreForm extends Directive {
  @Equals('score-form') kind = 'score-form' as const;
  @IsIn(PITCHES) pitch!: (typeof PITCHES)[number];
  @IsIn(LAYOUTS) layout!: (typeof LAYOUTS)[number];
}

export type ScoreFormChoice = Omit<ScoreForm, 'kind'>;

const AS_IT_IS: ScoreFormChoice = { pitch: 'written', layout: 'kept' };

export const scoreForm = jobKind({
  type: ScoreForm,
  field: 'scoreForm',
  readBy: ['hand-over'],
  initial: () => AS_IT_IS,
  add: (_: ScoreFormChoice, { pitch, layout }: ScoreForm): ScoreFormChoice => ({ pitch, layout }),
  words: ({ pitch, layout }) =>
    `MusicXML ${pitch === 'concert' ? 'in concert pitch' : 'as parts are written'}${layout === 'kept' ? '' : ', without its layout'}`,
  doc: {
    fields: '`pitch`: `written` or `concert`; `layout`: `kept` or `left-out`',
    meaning:
      'how MusicXML is handed over: transposing instruments as they read or as they sound; the page layout of a score that was read as it came, or left to whoever opens it',
  },
});
