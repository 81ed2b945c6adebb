import { BadBriefError } from '../core/decisions/brief';
import { EmptyScoreError } from '../core/deliver/score';
import { BadSourceError } from '../core/sources';

/** An error whose message is for people; the command ends with exit code 2. */
export class UsageError extends Error {}

/** Whether an error says what is wrong with what was given; any other is a fault of this program. */
export const isKnown = (error: unknown): boolean =>
  error instanceof UsageError ||
  error instanceof BadSourceError ||
  error instanceof BadBriefError ||
  error instanceof EmptyScoreError ||
  (error instanceof TypeError && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS'));

/** Why something did not work, in a sentence. */
export function whyOf(error: unknown): string {
  const [why = ''] = (error as Error).message.split('\n');
  return isKnown(error) ? why : `This did not work, through a fault of this program (${why}).`;
}
