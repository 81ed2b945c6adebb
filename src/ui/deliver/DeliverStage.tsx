'use client';

import { Segmented } from 'antd';
import { useState } from 'react';
import { Panel } from '../common/Panel';
import { AudioDelivery } from './AudioDelivery';
import { BarTableDelivery } from './BarTableDelivery';
import { BriefDelivery } from './BriefDelivery';
import styles from './DeliverStage.module.css';
import { MidiDelivery } from './MidiDelivery';
import { PacketDelivery } from './PacketDelivery';
import { ScoreDelivery } from './ScoreDelivery';

const KINDS = [
  { value: 'score', label: 'Score' },
  { value: 'midi', label: 'MIDI file' },
  { value: 'bars', label: 'Bar table' },
  { value: 'audio', label: 'Audio' },
  { value: 'brief', label: 'Brief' },
  { value: 'packet', label: 'Packet' },
] as const;
type Kind = (typeof KINDS)[number]['value'];

/** What leaves the house: score, MIDI file, bar table, audio, the brief itself, and all of it in one packet. */
export function DeliverStage() {
  const [kind, setKind] = useState<Kind>('score');
  return (
    <div className={styles.stage}>
      <Segmented<Kind> aria-label="What is delivered" value={kind} options={[...KINDS]} onChange={setKind} />
      {kind === 'score' && (
        <Panel name="The score">
          <ScoreDelivery />
        </Panel>
      )}
      {kind === 'midi' && (
        <Panel name="The MIDI file">
          <MidiDelivery />
        </Panel>
      )}
      {kind === 'bars' && (
        <Panel name="The bar table">
          <BarTableDelivery />
        </Panel>
      )}
      {kind === 'audio' && (
        <Panel name="The audio">
          <AudioDelivery />
        </Panel>
      )}
      {kind === 'packet' && (
        <Panel name="The packet">
          <PacketDelivery />
        </Panel>
      )}
      {kind === 'brief' && (
        <div className={styles.sheets}>
          <Panel name="The brief">
            <BriefDelivery />
          </Panel>
        </div>
      )}
    </div>
  );
}
