'use client';

import { DownloadOutlined } from '@ant-design/icons';
import { App, Button, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import type { PacketChoice } from '../../core/deliver/packet-choice';
import { saveFile } from '../common/saveFile';
import { usePitchView } from '../engraving/pitchView';
import { useSession } from '../job/session';
import { useFormat } from '../notes/useFormat';
import { useTellMissing } from '../notes/useTellMissing';
import { useProof } from '../proof/useProof';
import { useRecording } from '../recording/useRecording';
import { useStems } from '../stems/useStems';
import styles from './DeliverStage.module.css';
import { makePacket } from './make-packet';
import { PacketForm } from './PacketForm';

/** Everything that leaves the house in one zip. */
export function PacketDelivery() {
  const { job, summary, behind, stopped, core, latestBrief, whenWritten } = useSession(
    'job',
    'summary',
    'behind',
    'stopped',
    'core',
    'latestBrief',
    'whenWritten',
  );
  const { open, why: notProved } = useProof();
  const { concert } = usePitchView();
  const [chosen] = useFormat();
  const { recording } = useRecording();
  const stems = useStems();
  const { notification } = App.useApp();
  const [choice, setChoice] = useState<PacketChoice | null>(null);
  const [name, setName] = useState(job.title);
  const [step, setStep] = useState<string | null>(null);
  const work = useRef<AbortController | null>(null);
  useEffect(() => () => work.current?.abort(), []);
  const why =
    // One that is being written again is waited for.
    (summary !== null && !stopped ? null : behind) ??
    (summary?.parts.length === 0
      ? 'No strand is in the score.'
      : !name.trim()
        ? 'The packet needs a name.'
        : !choice
          ? 'Choose what goes into it.'
          : null);
  const onMissing = useTellMissing();
  const download = async () => {
    if (!choice) return;
    const controller = new AbortController();
    work.current = controller;
    setStep('');
    try {
      const brief = await latestBrief();
      const of = { core, brief, summary: await whenWritten(), recording, stems, concert, chosen, onMissing };
      const bytes = await makePacket(of, choice, name.trim(), controller.signal, setStep);
      if (bytes) saveFile(`${name.trim()}.zip`, new Blob([bytes as BlobPart], { type: 'application/zip' }));
    } catch (error) {
      notification.error({ title: 'The packet was not made', description: (error as Error).message });
    } finally {
      setStep(null);
    }
  };
  return (
    <div className={styles.sheets}>
      <section className={styles.sheet} aria-label="Packet">
        <h1>Packet</h1>
        <p className="soft">
          One zip whose names sort, made of one state, with a manifest of what is in it, what was checked and
          what is open.
        </p>
        <label className={styles.field}>
          <span>Name</span>
          <Input
            value={name}
            maxLength={120}
            suffix=".zip"
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <PacketForm onChange={setChoice} />
        <div className={styles.go}>
          <Button
            type="primary"
            icon={<DownloadOutlined />}
            loading={step !== null}
            disabled={why !== null}
            onClick={() => void download()}
          >
            Make the packet
          </Button>
          {step !== null && (
            <>
              <span role="status">{step}</span>
              <Button size="small" onClick={() => work.current?.abort()}>
                Stop
              </Button>
            </>
          )}
          {why && <span className="soft">{why}</span>}
          {!why && step === null && notProved !== null && (
            <span className="rubric">The proof did not run: {notProved}</span>
          )}
          {!why && step === null && open !== null && open > 0 && (
            <span className="rubric">{open} open in Proof: the manifest will say so.</span>
          )}
        </div>
      </section>
    </div>
  );
}
