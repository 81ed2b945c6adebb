import { Dexie, type EntityTable } from 'dexie';
import type { BankRow, HistoryRow, JobRow, SourceRow } from './rows';

/** Everything that is kept in the browser. */
export const database = new Dexie('dragoman') as Dexie & {
  jobs: EntityTable<JobRow, 'id'>;
  sources: EntityTable<SourceRow, 'id'>;
  histories: EntityTable<HistoryRow, 'jobId'>;
  banks: EntityTable<BankRow, 'id'>;
  settings: EntityTable<{ name: string; value: string }, 'name'>;
};

database.version(1).stores({
  jobs: 'id, changedAt',
  sources: 'id, jobId',
  histories: 'jobId',
  settings: 'name',
});
database.version(2).stores({ banks: 'id' });
