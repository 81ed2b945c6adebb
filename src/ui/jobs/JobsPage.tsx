'use client';

import { BulbOutlined, CopyOutlined, DeleteOutlined } from '@ant-design/icons';
import { Alert, App, Button, Input, Space, Table, type TableColumnsType, Tooltip } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useEffect, useMemo, useState } from 'react';
import { counted } from '../../core/basics/words';
import { OPENABLE } from '../../core/sources/openable';
import { ENGINE } from '../../core/workbench/engine';
import { deleteJobs, duplicateJob, listJobs } from '../../store/jobs';
import { NoStorageError } from '../../store/room';
import type { JobRow, JobState } from '../../store/rows';
import { warmCore } from '../../workers/client';
import { ChooseFile, DropAnywhere } from '../common/DropAnywhere';
import { clockText } from '../common/names';
import { useAppearance } from '../common/Providers';
import { percent } from '../common/percent';
import { Backup } from './Backup';
import { addDemo, addDemoOnce } from './demo';
import styles from './JobsPage.module.css';
import { PacketsDialog } from './PacketsDialog';

/** How a job stands; undefined where this build has not checked its decisions as they are. */
const stateOf = ({ state }: JobRow): JobState | undefined => (state?.engine === ENGINE ? state : undefined);

/** The share of notes that agree or are otherwise by decision; −1 where it is not known. */
function shareOf(job: JobRow): number {
  const state = stateOf(job);
  return state ? (state.notes === 0 ? 1 : state.settled / state.notes) : -1;
}

const Unknown = () => (
  <span className="soft" title="Not known: it is checked when it is opened">
    –
  </span>
);

export function JobsPage() {
  return (
    <DropAnywhere>
      <Shelf />
    </DropAnywhere>
  );
}

function Shelf() {
  const { modal, notification } = App.useApp();
  const { isNight, toggle } = useAppearance();
  const found = useLiveQuery(() =>
    listJobs().then(
      (rows) => ({ rows, refused: '' }),
      (error: Error) => ({ rows: [], refused: error.message }),
    ),
  );
  const jobs = found?.rows;
  const [search, setSearch] = useState('');
  const [chosen, setChosen] = useState<string[]>([]);
  const [packing, setPacking] = useState(false);

  useEffect(() => {
    const demo = addDemoOnce().catch((error: unknown) => {
      // What the browser refuses as a whole is said on the page.
      if (!(error instanceof NoStorageError))
        notification.error({
          title: 'The demo piece was not put here',
          description: (error as Error).message,
        });
    });
    // Whoever comes here opens something next.
    void demo.then(warmCore);
  }, [notification]);

  const shown = useMemo(() => {
    const words = search.trim().toLowerCase();
    return (jobs ?? []).filter((job) => `${job.title} ${job.sourceName}`.toLowerCase().includes(words));
  }, [jobs, search]);

  const remove = (ids: string[]) =>
    modal.confirm({
      title: ids.length === 1 ? 'Delete this job?' : `Delete ${ids.length} jobs?`,
      content: 'Its source and all decisions go from this browser. This cannot be undone.',
      okText: 'Delete',
      okButtonProps: { danger: true },
      onOk: async () => {
        await deleteJobs(ids).catch((error: unknown) =>
          notification.error({ title: 'Nothing was deleted', description: (error as Error).message }),
        );
        setChosen([]);
      },
    });

  const duplicate = (id: string) =>
    duplicateJob(id).catch((error: unknown) => notification.error({ title: (error as Error).message }));

  const columns: TableColumnsType<JobRow> = [
    {
      title: 'Job',
      dataIndex: 'title',
      sorter: (a, b) => a.title.localeCompare(b.title),
      render: (title: string, job) => (
        <Link href={`/job/${job.id}/sources`} className={styles.title}>
          {title}
        </Link>
      ),
    },
    { title: 'Source', dataIndex: 'sourceName', sorter: (a, b) => a.sourceName.localeCompare(b.sourceName) },
    {
      title: 'Piece',
      key: 'piece',
      sorter: (a, b) => (stateOf(a)?.seconds ?? 0) - (stateOf(b)?.seconds ?? 0),
      render: (_, job) => {
        const state = stateOf(job);
        return state
          ? `${counted(state.parts, 'part')}, ${counted(state.bars, 'bar')}, ${clockText(state.seconds)}`
          : counted(job.strands, 'strand');
      },
    },
    {
      title: 'Notes',
      dataIndex: 'notes',
      align: 'right',
      sorter: (a, b) => a.notes - b.notes,
      render: (notes: number) => notes.toLocaleString('en'),
    },
    {
      title: 'Agrees',
      key: 'agrees',
      align: 'right',
      sorter: (a, b) => shareOf(a) - shareOf(b),
      render: (_, job) => {
        const share = shareOf(job);
        return share < 0 ? <Unknown /> : percent(share);
      },
    },
    {
      title: 'To look at',
      key: 'open',
      align: 'right',
      sorter: (a, b) => (stateOf(a)?.open ?? -1) - (stateOf(b)?.open ?? -1),
      render: (_, job) => {
        const state = stateOf(job);
        if (!state) return <Unknown />;
        return state.open > 0 ? (
          <Link href={`/job/${job.id}/proof`} className="rubric">
            {state.open}
          </Link>
        ) : (
          'Nothing'
        );
      },
    },
    {
      title: 'Changed',
      dataIndex: 'changedAt',
      sorter: (a, b) => a.changedAt - b.changedAt,
      render: (time: number) =>
        new Date(time).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }),
    },
    {
      title: <span className="soft">Actions</span>,
      key: 'actions',
      render: (_, job) => (
        <Space size={2}>
          <Tooltip title="Duplicate">
            <Button
              type="text"
              icon={<CopyOutlined />}
              aria-label={`Duplicate ${job.title}`}
              onClick={() => void duplicate(job.id)}
            />
          </Tooltip>
          <Tooltip title="Delete">
            <Button
              type="text"
              icon={<DeleteOutlined />}
              aria-label={`Delete ${job.title}`}
              onClick={() => remove([job.id])}
            />
          </Tooltip>
        </Space>
      ),
    },
  ];

  return (
    <main className="plain-page">
      <header className={styles.head}>
        <div>
          <h1 className={styles.brand}>Dragoman</h1>
          <p className="soft">From sequencer to notation, with every decision in the open.</p>
        </div>
        <Space>
          <Button icon={<BulbOutlined />} onClick={toggle}>
            {isNight ? 'Day' : 'Night'}
          </Button>
          <ChooseFile primary />
        </Space>
      </header>
      {found?.refused && <Alert type="error" title={found.refused} />}
      <section className={styles.drop} aria-label="Open a file">
        Drop a {OPENABLE} anywhere on this page. Its source stays untouched; what you decide is kept beside
        it.
      </section>
      <div className={styles.tools}>
        <Input.Search
          placeholder="Find a job"
          aria-label="Find a job"
          allowClear
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          style={{ width: 260 }}
        />
        {chosen.length > 0 && (
          <Button onClick={() => setPacking(true)}>
            {chosen.length === 1 ? 'Packet…' : `Packets of ${counted(chosen.length, 'job')}…`}
          </Button>
        )}
        {chosen.length > 0 && (
          <Button danger onClick={() => remove(chosen)}>
            Delete {counted(chosen.length, 'job')}
          </Button>
        )}
      </div>
      <Table
        rowKey="id"
        size="small"
        columns={columns}
        dataSource={shown}
        loading={jobs === undefined}
        pagination={false}
        rowSelection={{ selectedRowKeys: chosen, onChange: (keys) => setChosen(keys as string[]) }}
        locale={{
          emptyText: (
            <div className={styles.empty}>
              <p>
                {found?.refused
                  ? 'No job can be kept here.'
                  : search
                    ? 'No job fits the search.'
                    : 'No jobs yet.'}
              </p>
              {!search && !found?.refused && <Button onClick={() => void addDemo()}>Load the demo</Button>}
            </div>
          ),
        }}
      />
      <Backup jobs={jobs?.length ?? 0} />
      <footer>
        <Link href="/licences" className="soft">
          Licences
        </Link>
      </footer>
      {packing && (
        <PacketsDialog
          jobs={(jobs ?? []).filter(({ id }) => chosen.includes(id))}
          onDone={() => setPacking(false)}
        />
      )}
    </main>
  );
}
