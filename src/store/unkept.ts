import { type Brief, EMPTY_BRIEF, salvageBrief } from '../core/decisions/brief';
import type { JobRow } from './rows';

/** What was decided, while it is on its way into the database. */
export interface Unkept {
  key: string;
  brief: Brief;
  /** It stands in the place of all that was decided before; otherwise it is added. */
  isWhole: boolean;
}

/** A job as it is told from another that had its id before. */
type Of = Pick<JobRow, 'id' | 'createdAt'>;

const startOf = ({ id, createdAt }: Of): string => `unkept ${id} ${createdAt} `;

/** Notes of this page so far: those of one millisecond stay in order. */
let count = 0;

/**
 * Notes a decision at once, where a page that is left or dies before the database has it finds it again. Where the
 * browser has no room for the note, the decision is no worse off than without. A note that was taken away may come back,
 * since browsers write such things late: the database knows the notes that it has kept.
 *
 * @returns its key
 */
export function noteUnkept(job: Of, brief: Brief, isWhole: boolean): string {
  // Sorted as texts, keys are in order of time.
  const key = `${startOf(job)}${Date.now()} ${String(count++).padStart(9, '0')} ${crypto.randomUUID()}`;
  try {
    localStorage.setItem(key, JSON.stringify({ directives: brief.directives, isWhole }));
  } catch {
    // There is no room.
  }
  return key;
}

/** Takes a note away: its decision is kept, or given up. */
export function dropUnkept(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // The browser keeps nothing here, so there is none.
  }
}

const keysFrom = (start: string): string[] => {
  try {
    return Object.keys(localStorage).filter((key) => key.startsWith(start));
  } catch {
    return [];
  }
};

/** Takes away all notes of a job, which is deleted. */
export function dropAllUnkept(jobId: string): void {
  for (const key of keysFrom(`unkept ${jobId} `)) dropUnkept(key);
}

/** What a page that was left, or another that is at it, noted of a job; oldest first. What cannot be read is dropped. */
export function listUnkept(job: Of): Unkept[] {
  return keysFrom(startOf(job))
    .sort()
    .flatMap((key) => {
      const read = readNote(localStorage.getItem(key));
      if (!read) dropUnkept(key);
      return read ? [{ key, ...read }] : [];
    });
}

function readNote(text: string | null): { brief: Brief; isWhole: boolean } | null {
  try {
    const { directives, isWhole } = JSON.parse(text ?? '') as { directives?: unknown; isWhole?: unknown };
    const steps = salvageBrief({ ...EMPTY_BRIEF, directives });
    for (;;) {
      const { done, value } = steps.next();
      if (!done) continue;
      const { brief, refused } = value;
      // A brief that can be read in part is not put in the place of a whole one.
      if (isWhole === true) return refused.length > 0 ? null : { brief, isWhole };
      return brief.directives.length === 0 ? null : { brief, isWhole: false };
    }
  } catch {
    return null;
  }
}
