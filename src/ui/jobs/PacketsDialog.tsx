'use client';

import { App, Modal, Progress } from 'antd';
import { useRef, useState } from 'react';
import { plainName } from '../../core/basics/file-names';
import { counted } from '../../core/basics/words';
import { packZip } from '../../core/basics/zip';
import type { PacketChoice } from '../../core/deliver/packet-choice';
import { findRecording } from '../../store/recordings';
import type { JobRow } from '../../store/rows';
import { findStems } from '../../store/stems';
import { percentDone } from '../common/percent';
import { saveFile } from '../common/saveFile';
import { makePacket } from '../deliver/make-packet';
import { PacketForm } from '../deliver/PacketForm';
import { type OpenJob, openJob } from '../job/control';
import { useFormat } from '../notes/useFormat';
import { useTellMissing } from '../notes/useTellMissing';
import { laidStems } from '../stems/laid-stems';

interface Props {
  jobs: readonly JobRow[];
  onDone: () => void;
}

/** Makes the packets of several jobs, one after the other, and puts them into one zip. */
export function PacketsDialog({ jobs, onDone }: Props) {
  const { notification } = App.useApp();
  const [choice, setChoice] = useState<PacketChoice | null>(null);
  const [chosen] = useFormat();
  const onMissing = useTellMissing();
  const [now, setNow] = useState<{ done: number; step: string } | null>(null);
  const work = useRef<AbortController | null>(null);

  const make = async () => {
    if (!choice) return;
    const controller = new AbortController();
    work.current = controller;
    const files: Record<string, Uint8Array> = {};
    const failed: string[] = [];
    for (const [done, job] of jobs.entries()) {
      const tell = (step: string) => setNow({ done, step: `${job.title}: ${step}` });
      tell('opening');
      try {
        const bytes = await packetOfJob(job, choice, controller.signal, tell);
        if (controller.signal.aborted) return;
        if (bytes) files[`${nameFor(job, files)}.zip`] = bytes;
      } catch (error) {
        // One that cannot be made does not keep the others back.
        failed.push(`${job.title}: ${(error as Error).message}`);
      }
    }
    const count = Object.keys(files).length;
    if (count > 0)
      saveFile('packets.zip', new Blob([packZip(files, () => 0) as BlobPart], { type: 'application/zip' }));
    if (failed.length > 0)
      notification.error({
        title: `${counted(failed.length, 'packet')} of ${jobs.length} could not be made`,
        description: failed.join(' '),
        duration: 0,
      });
    onDone();
  };

  const packetOfJob = async (
    { id, title }: JobRow,
    what: PacketChoice,
    signal: AbortSignal,
    tell: (step: string) => void,
  ) => {
    const { store, stop } = openJob(id);
    try {
      await opened(store, signal);
      const { core, inventory, latestBrief, whenWritten } = store.getState();
      tell('writing the score');
      const brief = await latestBrief();
      const summary = await whenWritten();
      const { decisions } = store.getState();
      const recording = await findRecording(id);
      const stems = laidStems(await findStems(id), decisions.stems, summary.parts, inventory.strands);
      const of = { core, brief, summary, recording, stems, concert: false, chosen, onMissing };
      return await makePacket(of, what, title, signal, tell);
    } finally {
      stop();
    }
  };

  return (
    <Modal
      open
      width={620}
      title={jobs.length === 1 ? `Packet of ${jobs[0]!.title}` : `Packets of ${jobs.length} jobs`}
      okText="Make them"
      confirmLoading={now !== null}
      okButtonProps={{ disabled: !choice }}
      cancelText={now === null ? 'Cancel' : 'Stop'}
      onOk={() => void make()}
      onCancel={() => {
        work.current?.abort();
        onDone();
      }}
      maskClosable={false}
    >
      <p className="soft">Each under the decisions that it has now; all in one zip, a zip each.</p>
      <PacketForm onChange={setChoice} />
      {now && (
        <div role="status">
          {now.step}
          <Progress percent={percentDone(now.done / jobs.length)} size="small" />
        </div>
      )}
    </Modal>
  );
}

/** Two jobs may have one title. */
function nameFor({ title }: JobRow, taken: Record<string, unknown>): string {
  const plain = plainName(title) || 'Packet';
  for (let number = 1; ; number++) {
    const name = number === 1 ? plain : `${plain} (${number})`;
    if (!(`${name}.zip` in taken)) return name;
  }
}

type JobStore = OpenJob['store'];

/** Waits until a job is open. @throws Error that says why it cannot be */
function opened(store: JobStore, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const look = () => {
      const { state, why } = store.getState();
      if (state === 'opening' && !signal.aborted) return;
      unsubscribe();
      if (state === 'failed') reject(new Error(why));
      else resolve();
    };
    const unsubscribe = store.subscribe(look);
    signal.addEventListener('abort', look);
    look();
  });
}
