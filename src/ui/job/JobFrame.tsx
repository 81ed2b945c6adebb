'use client';

import { BulbOutlined, QuestionCircleOutlined, RedoOutlined, UndoOutlined } from '@ant-design/icons';
import { Alert, Badge, Button, Modal, Progress, Spin, Tooltip } from 'antd';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { renameJob } from '../../store/jobs';
import { ChooseFile, DropAnywhere } from '../common/DropAnywhere';
import { EditableText } from '../common/EditableText';
import { isChoosing, isTyping } from '../common/isTyping';
import { useAppearance } from '../common/Providers';
import { PlaybackProvider } from '../playback/playback';
import { Transport } from '../playback/Transport';
import { attentionOf } from './attention';
import styles from './JobFrame.module.css';
import { type JobSession, SessionContext, useOpening } from './session';

const STAGES = [
  { id: 'sources', name: 'Sources' },
  { id: 'roster', name: 'Roster' },
  { id: 'time', name: 'Time' },
  { id: 'notes', name: 'Notes' },
  { id: 'deliver', name: 'Deliver' },
] as const;

const SHORTCUTS: [keys: string, does: string][] = [
  ['1 2 3 4 5', 'Go to Sources, Roster, Time, Notes, Deliver'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z', 'Redo'],
  ['Space', 'Play, stop'],
  ['/', 'Search the strands'],
  ['+  −', 'Larger, smaller score; closer, farther note bars'],
  ['←  →  ↑  ↓', 'Move over the note bars; with Shift farther'],
  ['.  ,', 'Next, previous note of the strand'],
  ['Shift ←  →', 'In Time: the chosen notes a slot earlier, later'],
  ['PgUp  PgDn', 'In Time: the bars before, after'],
  ['Shift ↑  ↓', 'In Time: the chosen notes a slot longer, shorter'],
  ['n  p', 'In Time: next, previous finding'],
  ['t', 'In Time, Beats: tap a beat while it plays'],
  ['Esc', 'Clear the selection'],
  ['?', 'This sheet'],
];

/** The frame around all stages of one job: the top line, and the open job below it. */
export function JobFrame({ jobId, children }: { jobId: string; children: ReactNode }) {
  const opening = useOpening(decodeURIComponent(jobId));
  return (
    <DropAnywhere>
      {opening.state === 'open' ? (
        <SessionContext value={opening.session}>
          <PlaybackProvider>
            <TopLine session={opening.session} jobId={jobId} />
            <main className={styles.stage}>{children}</main>
          </PlaybackProvider>
        </SessionContext>
      ) : opening.state === 'failed' ? (
        <main className="plain-page">
          <Alert type="error" title={opening.why} description={<Link href="/">To the jobs</Link>} />
        </main>
      ) : (
        <main className={styles.opening}>
          <Spin /> Opening the job
        </main>
      )}
    </DropAnywhere>
  );
}

function TopLine({ session, jobId }: { session: JobSession; jobId: string }) {
  const { isNight, toggle } = useAppearance();
  const path = usePathname();
  const router = useRouter();
  const [showsKeys, setShowsKeys] = useState(false);
  const attention = useMemo(() => attentionOf(session), [session]);
  const { undo, redo } = session;

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const command = event.ctrlKey || event.metaKey;
      const undoes = command && event.key.toLowerCase() === 'z';
      if (isTyping(event.target) && !(undoes && isChoosing(event.target))) return;
      if (undoes) {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (command || event.altKey) return;
      const stage = STAGES[Number(event.key) - 1];
      if (stage) router.push(`/job/${jobId}/${stage.id}`);
      if (event.key === '?') setShowsKeys(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [jobId, router, undo, redo]);

  return (
    <header className={styles.top}>
      <Link href="/" className={styles.brand} aria-label="Dragoman: all jobs">
        Dragoman
      </Link>
      <div className={styles.job} title={session.job.sourceName}>
        <EditableText
          value={session.job.title}
          label="Title of the job"
          onSave={(title) => void renameJob(session.job.id, title)}
        />
      </div>
      <nav className={styles.stages} aria-label="Stages">
        {STAGES.map((stage) => {
          const here = path.endsWith(`/${stage.id}`);
          const count = attention[stage.id];
          return (
            <Link
              key={stage.id}
              href={`/job/${jobId}/${stage.id}`}
              className={styles.stageLink}
              aria-current={here ? 'page' : undefined}
            >
              {stage.name}
              {count > 0 && (
                <Badge
                  count={count}
                  overflowCount={99}
                  size="small"
                  className={styles.count}
                  title={`${count} to look at`}
                />
              )}
            </Link>
          );
        })}
      </nav>
      <div className={styles.progress} role="status">
        {session.progress && (
          <>
            <Progress
              percent={Math.round((100 * session.progress.done) / session.progress.of)}
              size="small"
              aria-label="Writing the score"
              format={() => session.progress?.part}
            />
            <Button size="small" onClick={session.stop}>
              Stop
            </Button>
          </>
        )}
        {session.stopped && (
          <Button size="small" onClick={session.resume}>
            Stopped. Write the score
          </Button>
        )}
      </div>
      <Transport />
      <div className={styles.tools}>
        <Tooltip title={session.history.canUndo ? 'Undo (Ctrl Z)' : 'Nothing to undo'}>
          <Button
            type="text"
            icon={<UndoOutlined />}
            aria-label="Undo"
            disabled={!session.history.canUndo}
            onClick={undo}
          />
        </Tooltip>
        <Tooltip title={session.history.canRedo ? 'Redo (Ctrl Shift Z)' : 'Nothing to redo'}>
          <Button
            type="text"
            icon={<RedoOutlined />}
            aria-label="Redo"
            disabled={!session.history.canRedo}
            onClick={redo}
          />
        </Tooltip>
        <Tooltip title={isNight ? 'Day' : 'Night'}>
          <Button
            type="text"
            icon={<BulbOutlined />}
            aria-label="Night"
            aria-pressed={isNight}
            onClick={toggle}
          />
        </Tooltip>
        <Tooltip title="Keys">
          <Button
            type="text"
            icon={<QuestionCircleOutlined />}
            aria-label="Keys"
            onClick={() => setShowsKeys(true)}
          />
        </Tooltip>
        <ChooseFile />
      </div>
      <Modal title="Keys" open={showsKeys} onCancel={() => setShowsKeys(false)} footer={null} width={420}>
        <dl className={styles.keys}>
          {SHORTCUTS.map(([keys, does]) => (
            <div key={keys}>
              <dt>
                <kbd>{keys}</kbd>
              </dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
      </Modal>
    </header>
  );
}
