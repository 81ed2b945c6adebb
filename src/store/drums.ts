import { BadBriefError, EMPTY_BRIEF, parseBrief } from '../core/decisions/brief';
import type { PlainDirective } from '../core/decisions/kinds';
import { readSetting, writeSetting } from './jobs';
import { withRoom } from './room';

const SETTING = 'drums';

/** How the user has drum sounds written, as decisions about all strands; none where nothing is kept, or it is damaged. */
export async function keptDrums(): Promise<PlainDirective[]> {
  const text = await readSetting(SETTING);
  if (!text) return [];
  try {
    return parseBrief({ ...EMPTY_BRIEF, directives: JSON.parse(text) }).directives.filter(
      ({ kind }) => kind === 'drum',
    );
  } catch (error) {
    if (error instanceof BadBriefError || error instanceof SyntaxError) return [];
    throw error;
  }
}

/** Keeps how drum sounds are written, for jobs to come. */
export const keepDrums = (drums: readonly PlainDirective[]): Promise<unknown> =>
  withRoom(() => writeSetting(SETTING, JSON.stringify(drums)));
