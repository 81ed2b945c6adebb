import { Dexie, type EntityTable, type Table } from 'dexie';
import { EMPTY_BRIEF, upgradeBrief } from '../core/decisions/brief';
import { FIRST_SOURCE } from '../core/model/ids';
import type {
  BankRow,
  BriefRow,
  JobRow,
  PictureRow,
  RecordingRow,
  ResultRow,
  SourceRow,
  StepRow,
} from './rows';
import { patchBetween } from './steps';

/** Everything that is kept in the browser. */
export const database = new Dexie('dragoman') as Dexie & {
  jobs: EntityTable<JobRow, 'id'>;
  sources: EntityTable<SourceRow, 'id'>;
  briefs: EntityTable<BriefRow, 'jobId'>;
  steps: Table<StepRow, [jobId: string, index: number]>;
  results: EntityTable<ResultRow, 'jobId'>;
  pictures: EntityTable<PictureRow, 'name'>;
  banks: EntityTable<BankRow, 'id'>;
  recordings: EntityTable<RecordingRow, 'jobId'>;
  /** Sound files that lie beside jobs; of each name one. */
  stems: Table<RecordingRow, [jobId: string, name: string]>;
  settings: EntityTable<{ name: string; value: string }, 'name'>;
};

database.version(1).stores({
  jobs: 'id, changedAt',
  sources: 'id, jobId',
  histories: 'jobId',
  settings: 'name',
});
database.version(2).stores({ banks: 'id' });

/** Before version 3 a job had one source, and its history was all its briefs. */
interface OldHistory {
  jobId: string;
  past: unknown[];
  present: unknown;
  future: unknown[];
}

database
  .version(3)
  .stores({
    sources: 'id, jobId, &[jobId+source+version]',
    briefs: 'jobId',
    steps: '[jobId+index], jobId',
    results: 'jobId, at',
  })
  .upgrade(async (change) => {
    await change
      .table('sources')
      .toCollection()
      .modify((row) => {
        // Worked out when it is first asked for: an upgrade may not wait for anything but the database.
        Object.assign(row, { source: FIRST_SOURCE, version: 1, hash: '', addedAt: Date.now() });
      });
    const histories: OldHistory[] = await change.table('histories').toArray();
    for (const { jobId, past, present, future } of histories) {
      // The first step that is known comes from nothing, so that steps alone come to every state.
      const lists = [EMPTY_BRIEF, ...past, present, ...future].map(
        (brief) => (upgradeBrief(brief) as { directives?: unknown[] } | null)?.directives ?? [],
      );
      const steps = lists.slice(1).map(
        (list, index): StepRow => ({
          jobId,
          index,
          ...patchBetween(lists[index]!, list),
          at: Date.now(),
        }),
      );
      await change.table('steps').bulkAdd(steps);
      const brief = upgradeBrief(present);
      await change.table('briefs').add({ jobId, brief, position: past.length + 1 } satisfies BriefRow);
    }
    await change
      .table('settings')
      .filter(({ name }) => String(name).startsWith('hearing '))
      .modify((row) => {
        row.value = String(row.value).replace(/"strand":"(t\d)/g, `"strand":"${FIRST_SOURCE}/$1`);
      });
  });
database.version(4).stores({ histories: null });
database.version(5).stores({ recordings: 'jobId' });
database.version(6).stores({ pictures: 'name, at' });
database.version(7).stores({ stems: '[jobId+name], jobId' });
