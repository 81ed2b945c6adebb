import type { Listed } from '../../core/workbench/replies';
import { type Answer, useOfScore } from '../job/session';

/** What the playing speaks for: marks, and what comes again. */
export const useListed = (): Answer<Listed | null> =>
  useOfScore(['listed'], (core, revision) => core.listed(revision));
