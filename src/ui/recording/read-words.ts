import type { Read } from '../../core/recording/heard';

/** As what a recording is read. */
export const READ_WORDS: Record<Read, string> = {
  line: 'one line',
  many: 'many notes at once',
  mix: 'a band',
};
