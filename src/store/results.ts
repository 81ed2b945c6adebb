import { digestOf } from '../core/basics/digest';
import { database } from './database';

/** So many jobs keep what was last worked out for them. */
const KEPT = 12;

/** What was worked out for a job, if it was made of the very same things and is as it was kept. */
export async function findResult(jobId: string, of: string): Promise<unknown> {
  const row = await database.results.get(jobId);
  return row?.of === of && row.digest === digestOf(row.value) ? row.value : undefined;
}

/** Keeps a result; what cannot be kept for want of room is worked out again another time. */
export async function keepResult(jobId: string, of: string, value: unknown): Promise<void> {
  try {
    const digest = digestOf(value);
    await database.transaction('rw', database.results, async () => {
      await database.results.put({ jobId, of, value, digest, at: Date.now() });
      const old = await database.results.orderBy('at').reverse().offset(KEPT).primaryKeys();
      await database.results.bulkDelete(old);
    });
  } catch {
    await database.results.delete(jobId).catch(() => {});
  }
}
