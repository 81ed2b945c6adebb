'use client';

import { App, Modal, Radio, Select, Space } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { SourceId } from '../../core/model/ids';
import { isRecording } from '../recording/is-recording';
import { useAttach } from '../recording/useAttach';
import { useTakeStems } from '../stems/useTakeStems';
import { useSession } from './session';
import { versionOf } from './version-name';

/** So many files are named. */
const NAMED = 6;

type Use = 'job' | 'source' | 'version' | 'reference' | 'stems';

interface Props {
  files: readonly File[];
  onDone: () => void;
  /** Makes each file a job of its own. */
  onNewJobs: (files: readonly File[]) => void;
}

const newJobWords = (areRecordings: boolean, areMany: boolean): string => {
  if (!areRecordings) return areMany ? 'New jobs' : 'A new job';
  return areMany
    ? 'New jobs, of the notes that are heard in each'
    : 'A new job, of the notes that are heard in it';
};

/** Asks once what files dropped on an open job are: new jobs, other sources of it, or a new version of one. */
export function AddFiles({ files, onDone, onNewJobs }: Props) {
  const { sources, job, addSource, stock } = useSession('sources', 'job', 'addSource', 'stock');
  const { notification, message } = App.useApp();
  const areRecordings = files.every(isRecording);
  const { attach } = useAttach();
  const { takeStems, progress, stop } = useTakeStems();
  const own = [...new Map(sources.map((each) => [each.source, each])).values()];
  // A file that is called as a source of this job is most likely its next version.
  const likely = files.length === 1 && !areRecordings ? versionOf(files[0]!.name, sources) : null;
  const [use, setUse] = useState<Use>(
    !areRecordings
      ? likely
        ? 'version'
        : 'job'
      : files.length > 1
        ? 'stems'
        : stock.heard
          ? 'job'
          : 'reference',
  );
  const [busy, setBusy] = useState(false);
  const [of, setOf] = useState<SourceId>(likely?.source ?? own[0]?.source ?? '1');
  const [one, ...more] = files;
  const asked = more.length === 0 ? `What is ${one?.name}?` : `What are these ${files.length} files?`;

  const go = async () => {
    if (use === 'job') {
      onDone();
      return onNewJobs(files);
    }
    setBusy(true);
    if (use === 'reference') {
      await attach(files[0]!);
      return onDone();
    }
    if (use === 'stems') {
      await takeStems(files);
      return onDone();
    }
    for (const file of files)
      try {
        const bytes = new Uint8Array(await file.arrayBuffer());
        const gone = await addSource({ name: file.name, bytes }, use === 'version' ? of : null);
        message.success(
          use === 'version'
            ? `${file.name} is the newest version of source ${of}.`
            : `${file.name} is a source of this job.`,
        );
        if (gone > 0)
          notification.info({
            title: `${counted(gone, 'decision')} went with ${gone === 1 ? 'its bar' : 'their bars'}`,
            description: `These notes and signs stood in bars that ${file.name} no longer has. Undo brings them back.`,
            duration: 0,
          });
      } catch (error) {
        notification.error({
          title: `${file.name} was not taken in`,
          description: (error as Error).message,
          duration: 0,
        });
      }
    setBusy(false);
    onDone();
  };

  return (
    <Modal
      open
      title={asked}
      okText={
        progress
          ? `Taking in ${progress.done + 1} of ${progress.of}`
          : more.length === 0
            ? 'Take it in'
            : 'Take them in'
      }
      confirmLoading={busy}
      onOk={() => void go()}
      onCancel={() => {
        stop();
        onDone();
      }}
    >
      {more.length > 0 && (
        <p className="soft">
          {files
            .slice(0, NAMED)
            .map(({ name }) => name)
            .join(', ')}
          {files.length > NAMED && ` and ${files.length - NAMED} more`}
        </p>
      )}
      <Radio.Group value={use} onChange={(event) => setUse(event.target.value as Use)} aria-label={asked}>
        <Space direction="vertical">
          <Radio value="reference" disabled={!areRecordings || files.length > 1 || stock.heard !== null}>
            The listening reference of “{job.title}”
          </Radio>
          <Radio value="stems" disabled={!areRecordings}>
            {files.length === 1 ? 'A stem' : 'Stems'} of “{job.title}”: the sound of single parts
          </Radio>
          <Radio value="job">{newJobWords(areRecordings, more.length > 0)}</Radio>
          <Radio value="source" disabled={areRecordings}>
            Another source of “{job.title}”, for its clock or its music
          </Radio>
          <Radio value="version" disabled={areRecordings || files.length > 1}>
            A new version of{' '}
            <Select
              size="small"
              aria-label="Source of which it is a new version"
              value={of}
              disabled={use !== 'version'}
              options={own.map(({ source, name }) => ({ value: source, label: `${source}: ${name}` }))}
              onChange={setOf}
            />
          </Radio>
        </Space>
      </Radio.Group>
    </Modal>
  );
}
