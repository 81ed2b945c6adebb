import { type Brief, EMPTY_BRIEF, salvageBrief } from '../core/decisions/brief';
import type { PlainDirective } from '../core/decisions/kinds';
import { database } from './database';
import { withRoom } from './room';
import type { BriefRow, StepRow } from './rows';
import { applied, isNothing, patchBetween, takenBack } from './steps';

/** A job's decisions, as the page uses them. */
export interface History {
  brief: Brief;
  /** Steps that the brief holds, and all that are known. */
  position: number;
  steps: number;
  canUndo: boolean;
  canRedo: boolean;
  /** A sentence for each kept decision that can no longer be read and is left out. */
  refused: string[];
}

/** One step in the list of a history. */
export interface Step {
  index: number;
  at: number;
  added: readonly PlainDirective[];
  removed: readonly PlainDirective[];
}

/** Milliseconds after which checking gives way to whoever waits. */
const SLICE = 12;

/** Runs a check to its end; where there is much to check, with pauses. */
async function finish<T>(steps: Generator<undefined, T>): Promise<T> {
  let since = Date.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    if (Date.now() - since < SLICE) continue;
    await new Promise((resolve) => setTimeout(resolve, 0));
    since = Date.now();
  }
}

function finishNow<T>(steps: Generator<undefined, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

const stepsOf = (jobId: string, from = 0, to = Number.POSITIVE_INFINITY) =>
  database.steps.where('[jobId+index]').between([jobId, from], [jobId, to], true, false);

/** The directives of a kept brief, unchecked; of one that is damaged as a whole those that its steps come to. */
async function directivesOf({ jobId, brief, position }: BriefRow): Promise<unknown[]> {
  const { directives } = (brief ?? {}) as { directives?: unknown };
  if (Array.isArray(directives)) return directives;
  const steps = await stepsOf(jobId, 0, position).toArray();
  return steps.reduce<unknown[]>((list, step) => applied(list, step), []);
}

/** A sign of a job's decisions that is another after each change; null where there are none. */
export async function lastChange(jobId: string): Promise<unknown> {
  return (await database.briefs.get(jobId)) ?? null;
}

export async function findHistory(jobId: string): Promise<History | null> {
  const found = await database.transaction('r', database.briefs, database.steps, async () => {
    const row = await database.briefs.get(jobId);
    if (!row) return null;
    return { row, directives: await directivesOf(row), steps: await stepsOf(jobId).count() };
  });
  if (!found) return null;
  const { row, directives, steps } = found;
  const damaged = Array.isArray((row.brief as { directives?: unknown } | null)?.directives)
    ? []
    : ['The decisions of this job were damaged and were put together again from its history.'];
  const { brief, refused } = await finish(salvageBrief({ ...EMPTY_BRIEF, directives }));
  return {
    brief,
    position: row.position,
    steps,
    canUndo: row.position > 0,
    canRedo: row.position < steps,
    refused: [...damaged, ...refused],
  };
}

/** All steps of a job, oldest first, with what of them can be read. */
export async function listSteps(jobId: string): Promise<Step[]> {
  const readable = (directives: readonly unknown[]) =>
    finishNow(salvageBrief({ ...EMPTY_BRIEF, directives })).brief.directives;
  return (await stepsOf(jobId).toArray()).map(({ index, at, added, removed }) => ({
    index,
    at,
    added: readable(added),
    removed: readable(removed.map(([, directive]) => directive)),
  }));
}

/** So many notes of decisions are known to be kept. */
const NOTES = 100;

/**
 * Changes a job's decisions in one transaction, so that two tabs never overwrite each other's.
 * @param make the row that comes of it; the same where nothing changes, null where it is not to be made now
 * @param note by which the change is known: it is made once
 * @returns whether it is made, now or before
 */
function change(
  jobId: string,
  make: (row: BriefRow, directives: unknown[]) => Promise<BriefRow | null>,
  note?: string,
): Promise<boolean> {
  return withRoom(() =>
    database.transaction('rw', database.jobs, database.briefs, database.steps, async () => {
      const row = await database.briefs.get(jobId);
      if (!row) throw new Error('This job is no longer in this browser: it was deleted in another tab.');
      const notes: readonly unknown[] = Array.isArray(row.notes) ? row.notes : [];
      if (note !== undefined && notes.includes(note)) return true;
      const next = await make(row, await directivesOf(row));
      if (!next) return false;
      if (note !== undefined) await database.briefs.put({ ...next, notes: [...notes, note].slice(-NOTES) });
      else if (next !== row) await database.briefs.put(next);
      if (next !== row) await database.jobs.update(jobId, { changedAt: Date.now(), state: undefined });
      return true;
    }),
  );
}

const briefOf = (directives: readonly unknown[]) => ({ ...EMPTY_BRIEF, directives });

/** What a newer version of this program may understand, though this one does not. */
const isOfSomeKind = (directive: unknown): boolean =>
  typeof (directive as { kind?: unknown } | null)?.kind === 'string';

/**
 * Changes a job's brief as one step of undo; what was undone before is gone for good. Decisions that cannot be read
 * stay where they are, for a version of this program that can; what is no decision at all goes.
 *
 * @param make the brief that comes of one; null where it is not to be changed now
 * @param how.forgets what cannot be read goes, whatever it is
 * @param how.note by which the change is known (`unkept.ts`): it is made once
 * @returns whether it is made, now or before
 */
export const changeBrief = (
  jobId: string,
  make: (brief: Brief) => Brief | null,
  { forgets = false, note }: { forgets?: boolean; note?: string } = {},
): Promise<boolean> =>
  change(
    jobId,
    async (row, directives) => {
      const { position } = row;
      const { brief, places } = finishNow(salvageBrief({ ...EMPTY_BRIEF, directives }));
      const readable = new Set(places);
      const after = make(brief);
      if (!after) return null;
      const { removed, added } = patchBetween(brief.directives, after.directives);
      const gone = new Set(removed.map(([place]) => places[place]));
      const patch = {
        removed: directives.flatMap((directive, place): [number, unknown][] =>
          gone.has(place) || (!readable.has(place) && (forgets || !isOfSomeKind(directive)))
            ? [[place, directive]]
            : [],
        ),
        added,
      };
      if (isNothing(patch)) return row;
      await stepsOf(jobId, position).delete();
      await database.steps.add({ jobId, index: position, ...patch, at: Date.now() });
      return { ...row, brief: briefOf(applied(directives, patch)), position: position + 1 };
    },
    note,
  );

/** Takes out the decisions that cannot be read, as one step of undo. */
export const forgetUnread = (jobId: string): Promise<boolean> =>
  changeBrief(jobId, (brief) => brief, { forgets: true });

/** Goes to another state; where it lies is settled inside the transaction, so that two undos at once are two. */
const move = (jobId: string, to: (position: number) => number): Promise<boolean> =>
  change(jobId, async (row, directives) => {
    const { position } = row;
    const target = Math.max(0, to(position));
    const between = await stepsOf(jobId, Math.min(position, target), Math.max(position, target)).toArray();
    if (between.length === 0) return row;
    const list =
      target > position
        ? between.reduce((before, step: StepRow) => applied(before, step), directives)
        : between.reduceRight((after, step: StepRow) => takenBack(after, step), directives);
    return {
      ...row,
      brief: briefOf(list),
      position: position + Math.sign(target - position) * between.length,
    };
  });

/** Goes to the state after so many steps, back or forth. */
export const goTo = (jobId: string, target: number): Promise<boolean> => move(jobId, () => target);

export const undo = (jobId: string): Promise<boolean> => move(jobId, (position) => position - 1);
export const redo = (jobId: string): Promise<boolean> => move(jobId, (position) => position + 1);
