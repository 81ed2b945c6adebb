'use client';

import { Alert, App, Button, Space, Spin } from 'antd';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { mendFromBackup } from '../../store/backup';
import { DropAnywhere } from '../common/DropAnywhere';
import { Fallback } from '../common/Fallback';
import { useKeysLater } from '../common/keys';
import { ListeningDialog } from '../common/ListeningDialog';
import { useImport } from '../common/useImport';
import { PlaybackProvider } from '../playback/playback';
import { useKeepPrecedents } from '../roster/usePrecedents';
import { AddFiles } from './AddFiles';
import styles from './JobFrame.module.css';
import { NotKnown } from './NotKnown';
import { JobProvider, useSession } from './session';
import { TopLine } from './TopLine';
import { useKeepState } from './useKeepState';

/** The frame around all stages of one job: the top line, and the open job below it. */
export function JobFrame({ jobId, children }: { jobId: string; children: ReactNode }) {
  return (
    <JobProvider jobId={decodeURIComponent(jobId)}>
      <OpenJob jobId={decodeURIComponent(jobId)}>{children}</OpenJob>
    </JobProvider>
  );
}

function OpenJob({ jobId, children }: { jobId: string; children: ReactNode }) {
  const { state, why } = useSession('state', 'why');
  const path = usePathname();
  const { importFiles, listening } = useImport();
  const [dropped, setDropped] = useState<readonly File[]>([]);
  useTroubles();
  useKeysLater(state === 'opening');
  const main = useRef<HTMLElement>(null);
  // A job that has opened, or a stage that was gone to, has the focus unless something else took it.
  useEffect(() => {
    if (state === 'open' && document.activeElement === document.body) main.current?.focus();
  }, [state, path]);
  if (state === 'failed')
    return (
      <DropAnywhere>
        <main className="plain-page">
          <Failed jobId={jobId} why={why} />
        </main>
      </DropAnywhere>
    );
  if (state === 'opening')
    return (
      <main className={styles.opening} role="status">
        <Spin /> Opening the job
      </main>
    );
  return (
    <DropAnywhere onFiles={setDropped}>
      <PlaybackProvider>
        <Kept />
        <TopLine />
        <NotKnown />
        <main className={styles.stage} ref={main} tabIndex={-1}>
          <ErrorBoundary FallbackComponent={Fallback} resetKeys={[path]}>
            {children}
          </ErrorBoundary>
        </main>
      </PlaybackProvider>
      {listening && <ListeningDialog {...listening} />}
      {dropped.length > 0 && (
        <AddFiles
          files={dropped}
          onDone={() => setDropped([])}
          onNewJobs={(files) => void importFiles(files)}
        />
      )}
    </DropAnywhere>
  );
}

/** Why a job is not open, and the ways on. */
function Failed({ jobId, why }: { jobId: string; why: string }) {
  const { damaged, openAll } = useSession('damaged', 'openAll');
  const { notification } = App.useApp();
  const input = useRef<HTMLInputElement>(null);
  const mend = async (file: File) => {
    try {
      const mended = await mendFromBackup(jobId, new Uint8Array(await file.arrayBuffer()));
      if (mended > 0) return openAll('mended');
      notification.warning({
        title: `${file.name} does not have it`,
        description: 'None of the files in this backup is what came.',
      });
    } catch (error) {
      notification.error({ title: `${file.name} was not read`, description: (error as Error).message });
    }
  };
  return (
    <Alert
      type="error"
      title={why}
      description={
        <>
          {damaged.length > 0 && (
            <Space>
              <Button type="primary" onClick={() => input.current?.click()}>
                Restore from a backup…
              </Button>
              <Button onClick={() => openAll('as they are')}>Open it anyway</Button>
            </Space>
          )}
          <p>
            <Link href="/">To the jobs</Link>
          </p>
          <input
            ref={input}
            type="file"
            accept=".zip"
            hidden
            data-testid="mend-input"
            onChange={({ target }) => {
              const [file] = target.files ?? [];
              target.value = '';
              if (file) void mend(file);
            }}
          />
        </>
      }
    />
  );
}

/** What is decided about strands here is kept for jobs to come, and how the job stands for their list, whichever stage is open. */
function Kept() {
  useKeepPrecedents();
  useKeepState();
  return null;
}

const UNREAD = 'decisions that cannot be read';

/** Says what went wrong, once each, and which kept decisions can no longer be read. */
function useTroubles(): void {
  const { trouble, history, forgetUnread } = useSession('trouble', 'history', 'forgetUnread');
  const { notification } = App.useApp();
  useEffect(() => {
    if (trouble) notification.error({ title: trouble.title, description: trouble.why });
  }, [trouble, notification]);
  const refused = history.refused.join('\n');
  useEffect(() => {
    if (!refused) return;
    const lines = refused.split('\n');
    notification.warning({
      key: UNREAD,
      title:
        lines.length === 1
          ? 'A decision of this job cannot be read'
          : `${lines.length} decisions of this job cannot be read`,
      description: `${lines.slice(0, 3).join(' ')} ${lines.length === 1 ? 'It is' : 'They are'} left out here, and kept: a newer version of Dragoman may read ${lines.length === 1 ? 'it' : 'them'}.`,
      duration: 0,
      actions: (
        <Button
          size="small"
          onClick={() => {
            forgetUnread();
            notification.destroy(UNREAD);
          }}
        >
          {lines.length === 1 ? 'Forget it' : 'Forget them'}
        </Button>
      ),
    });
  }, [refused, notification, forgetUnread]);
}
