'use client';

import {
  BulbOutlined,
  HistoryOutlined,
  QuestionCircleOutlined,
  RedoOutlined,
  UndoOutlined,
} from '@ant-design/icons';
import { App, Badge, Button, Progress, Tooltip } from 'antd';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { type ReactNode, useMemo, useState } from 'react';
import { renameJob } from '../../store/jobs';
import { ChooseFile } from '../common/DropAnywhere';
import { EditableText } from '../common/EditableText';
import { useKeys } from '../common/keys';
import { Panel } from '../common/Panel';
import { useAppearance } from '../common/Providers';
import { percentDone } from '../common/percent';
import { Transport } from '../playback/Transport';
import { AgreementFigure } from '../proof/AgreementFigure';
import { useProof } from '../proof/useProof';
import { ActionFinder } from './ActionFinder';
import { attentionOf } from './attention';
import { HistoryDrawer } from './HistoryDrawer';
import styles from './JobFrame.module.css';
import { useSession } from './session';
import { STAGES } from './stages';

/** The job, its stages, its progress, and what works everywhere. */
export function TopLine() {
  const { job } = useSession('job');
  const { isNight, toggle } = useAppearance();
  const { notification } = App.useApp();
  const [isFinding, setFinding] = useState(false);
  const find = () => setFinding(true);
  useKeys({ find, sheet: find });

  const rename = (title: string) =>
    renameJob(job.id, title).catch((error: unknown) => {
      notification.error({ title: 'The name was not kept', description: (error as Error).message });
      throw error;
    });

  return (
    <header className={styles.top}>
      <Link href="/" className={styles.brand} aria-label="Dragoman: all jobs">
        Dragoman
      </Link>
      <div className={styles.job} title={job.sourceName}>
        <EditableText value={job.title} label="Title of the job" onSave={rename} />
      </div>
      <Stages jobId={job.id} />
      <HowItStands jobId={job.id} />
      <Panel name="Playback" inLine>
        <Transport />
      </Panel>
      <div className={styles.tools}>
        <Undoing />
        <Tooltip title={isNight ? 'Day' : 'Night'}>
          <Button
            type="text"
            icon={<BulbOutlined />}
            aria-label="Night"
            aria-pressed={isNight}
            onClick={toggle}
          />
        </Tooltip>
        <Tooltip title="Find an action (Ctrl K)">
          <Button type="text" icon={<QuestionCircleOutlined />} aria-label="Find an action" onClick={find} />
        </Tooltip>
        <ChooseFile />
      </div>
      <ActionFinder open={isFinding} onClose={() => setFinding(false)} />
    </header>
  );
}

function Stages({ jobId }: { jobId: string }) {
  const session = useSession('inventory', 'decisions', 'summary', 'stock', 'history', 'failure');
  const { open, why } = useProof();
  // While the checks run for the first time there is nothing to tell yet.
  const proof = open ?? (why === null ? 0 : null);
  const attention = useMemo(() => ({ ...attentionOf(session), proof }), [session, proof]);
  const path = usePathname();
  const router = useRouter();
  useKeys({
    stage: ({ key }) => router.push(`/job/${jobId}/${STAGES[Number(key) - 1]!.id}`, { scroll: false }),
  });
  return (
    <nav className={styles.stages} aria-label="Stages">
      {STAGES.map((stage) => {
        const count = attention[stage.id];
        return (
          <Link
            key={stage.id}
            href={`/job/${jobId}/${stage.id}`}
            scroll={false}
            className={styles.stageLink}
            aria-current={path.endsWith(`/${stage.id}`) ? 'page' : undefined}
          >
            <span className={styles.stageName} data-name={stage.name}>
              {stage.name}
            </span>
            {count !== 0 && (
              <Badge
                count={count ?? '?'}
                overflowCount={99}
                size="small"
                className={styles.count}
                title={count === null ? 'Not known' : `${count} to look at`}
              />
            )}
          </Link>
        );
      })}
    </nav>
  );
}

/** In one place of one width: the writing of the score, or how far it agrees with the source. */
function HowItStands({ jobId }: { jobId: string }) {
  const { progress, stopped, stop, resume } = useSession('progress', 'stopped', 'stop', 'resume');
  return (
    <div className={styles.state} role="status">
      {progress && (
        <>
          <Progress
            type="circle"
            percent={percentDone(progress.done / progress.of)}
            size={18}
            strokeWidth={14}
            aria-label="Writing the score"
            format={() => `Writing: ${progress.part}`}
          />
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        </>
      )}
      {!progress && (
        <Panel name="The agreement" inLine>
          <AgreementFigure jobId={jobId} />
        </Panel>
      )}
      {stopped && (
        <Button size="small" onClick={resume} aria-label="Stopped. Write the score">
          Write
        </Button>
      )}
    </div>
  );
}

/** Undo, redo, and all steps as a list. */
function Undoing() {
  const { history, undo, redo } = useSession('history', 'undo', 'redo');
  const [isOpen, setOpen] = useState(false);
  const { canUndo, canRedo } = history;
  useKeys({ undo, redo, history: () => setOpen((before) => !before) });
  return (
    <>
      <StepButton name="Undo" keys="Ctrl Z" icon={<UndoOutlined />} can={canUndo} onClick={undo} />
      <StepButton name="Redo" keys="Ctrl Shift Z" icon={<RedoOutlined />} can={canRedo} onClick={redo} />
      <Tooltip title="History (h)">
        <Button
          type="text"
          icon={<HistoryOutlined />}
          aria-label="History"
          aria-expanded={isOpen}
          onClick={() => setOpen(!isOpen)}
        />
      </Tooltip>
      <HistoryDrawer open={isOpen} onClose={() => setOpen(false)} />
    </>
  );
}

/** With nothing to do it keeps the focus, and says so. */
function StepButton({
  name,
  keys,
  icon,
  can,
  onClick,
}: {
  name: string;
  keys: string;
  icon: ReactNode;
  can: boolean;
  onClick: () => void;
}) {
  return (
    <Tooltip title={can ? `${name} (${keys})` : `Nothing to ${name.toLowerCase()}`}>
      <Button
        type="text"
        icon={icon}
        aria-label={name}
        aria-disabled={!can}
        className={can ? undefined : styles.idle!}
        onClick={onClick}
      />
    </Tooltip>
  );
}
