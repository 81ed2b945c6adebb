'use client';

import { DownloadOutlined } from '@ant-design/icons';
import { App, Button, Checkbox, Input, Radio } from 'antd';
import { useEffect, useState } from 'react';
import { type PacketChoice, WHOLE_PACKET } from '../../core/deliver/packet-choice';
import { readSetting, writeSetting } from '../../store/jobs';
import { saveFile } from '../common/saveFile';
import { useSession } from '../job/session';
import { useProof } from '../proof/useProof';
import styles from './DeliverStage.module.css';

const PIECES: { value: Exclude<keyof PacketChoice, 'format'>; label: string }[] = [
  { value: 'score', label: 'Score as MusicXML' },
  { value: 'parts', label: 'Each part as MusicXML' },
  { value: 'midiPlayed', label: 'MIDI file, notes as played' },
  { value: 'midiWritten', label: 'MIDI file, notes as written' },
  { value: 'bars', label: 'Bar table' },
  { value: 'proof', label: 'Proof sheet' },
  { value: 'brief', label: 'Brief: all decisions' },
];

/** Kept between jobs, so that the next packet is like the last. */
const KEPT_AS = 'packet';

/** A choice as it was kept; what is damaged in it is as first offered. */
function keptChoice(text: string | undefined): PacketChoice {
  let kept: Record<string, unknown>;
  try {
    kept = Object(JSON.parse(text ?? '{}'));
  } catch {
    return WHOLE_PACKET;
  }
  const pieces = PIECES.filter(({ value }) => typeof kept[value] === 'boolean');
  return {
    ...WHOLE_PACKET,
    ...Object.fromEntries(pieces.map(({ value }) => [value, kept[value]])),
    ...(kept.format === 'mxl' && { format: 'mxl' as const }),
  };
}

/** Everything that leaves the house in one zip. */
export function PacketDelivery() {
  const { job, summary, behind, core, latestBrief } = useSession(
    'job',
    'summary',
    'behind',
    'core',
    'latestBrief',
  );
  const { open } = useProof();
  const { notification } = App.useApp();
  const [choice, setChoice] = useState(WHOLE_PACKET);
  const [name, setName] = useState(job.title);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    void readSetting(KEPT_AS).then((text) => setChoice(keptChoice(text)));
  }, []);
  const set = (some: Partial<PacketChoice>) => {
    const next = { ...choice, ...some };
    setChoice(next);
    void writeSetting(KEPT_AS, JSON.stringify(next));
  };
  const chosen = PIECES.filter(({ value }) => choice[value]).map(({ value }) => value);
  const why =
    behind ??
    (summary?.parts.length === 0
      ? 'No strand is in the score.'
      : !name.trim()
        ? 'The packet needs a name.'
        : chosen.length === 0
          ? 'Choose what goes into it.'
          : null);
  const download = async () => {
    setBusy(true);
    try {
      const bytes = await core.packet({ ...choice, name: name.trim() }, await latestBrief());
      saveFile(`${name.trim()}.zip`, new Blob([bytes as BlobPart], { type: 'application/zip' }));
    } catch (error) {
      notification.error({ title: 'The packet was not made', description: (error as Error).message });
    } finally {
      setBusy(false);
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
        <Checkbox.Group
          className={styles.pieces!}
          value={chosen}
          options={PIECES}
          onChange={(values) =>
            set(Object.fromEntries(PIECES.map(({ value }) => [value, values.includes(value)])))
          }
        />
        <Radio.Group
          value={choice.format}
          aria-label="Form of MusicXML"
          options={[
            { value: 'musicxml', label: 'Plain (.musicxml)' },
            { value: 'mxl', label: 'Compressed (.mxl)' },
          ]}
          onChange={({ target }) => set({ format: target.value as PacketChoice['format'] })}
        />
        <div className={styles.go}>
          <Button
            type="primary"
            icon={<DownloadOutlined />}
            loading={busy}
            disabled={why !== null}
            onClick={() => void download()}
          >
            Make the packet
          </Button>
          {why && <span className="soft">{why}</span>}
          {!why && open > 0 && (
            <span className="rubric">{open} open in Proof: the manifest will say so.</span>
          )}
        </div>
      </section>
    </div>
  );
}
