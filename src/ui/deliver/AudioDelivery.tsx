'use client';

import { Button, Checkbox, Radio, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { type Heard, isOfScore } from '../../core/sound/events';
import type { SoundForm } from '../../core/sound/sound-file';
import type { StemsBy } from '../../core/workbench/stems';
import { WorkProgress } from '../common/WorkProgress';
import { useSession } from '../job/session';
import styles from './DeliverStage.module.css';
import { useRendering } from './useRendering';

const READINGS: { value: Heard; label: string }[] = [
  { value: 'source', label: 'The source as it came' },
  { value: 'cleaned', label: 'Cleaned, as handed over' },
  { value: 'score-played', label: 'The notes of the score, as played' },
  { value: 'score-performed', label: 'The score, as players would play it' },
  { value: 'score', label: 'The notes of the score, as written' },
];

const FILES: { value: StemsBy; label: string }[] = [
  { value: 'all', label: 'One file' },
  { value: 'part', label: 'A file for each part' },
  { value: 'family', label: 'A file for each family' },
];

const STEMS_SAY =
  'All begin together and are equally long. Reverberation, where there is any, has a file of its own; all of them added are the whole.';

/** Renders audio offline: the reference that goes with a hand-over, or stems to work on with. */
export function AudioDelivery() {
  const { decisions, behind } = useSession('decisions', 'behind');
  const { leadInBars, click } = decisions.handOver;
  const [heard, setHeard] = useState<Heard>('cleaned');
  const [by, setBy] = useState<StemsBy>('all');
  const [asHeard, setAsHeard] = useState(true);
  const [withLead, setWithLead] = useState(true);
  const [form, setForm] = useState<SoundForm>({ format: 'wav', rate: 48_000, bits: 16 });
  const { share, render, stop } = useRendering();
  const why = isOfScore(heard) ? behind : null;
  const hasLead = leadInBars > 0 || click;
  const lead = withLead && hasLead ? { leadInBars, click } : { leadInBars: 0, click: false };
  const before = [
    leadInBars > 0 ? `${counted(leadInBars, 'bar')} of lead-in` : '',
    click ? 'a click' : '',
  ].filter(Boolean);

  return (
    <div className={styles.sheets}>
      <section className={styles.sheet} aria-label="Audio">
        <h1>Audio</h1>
        <Radio.Group
          aria-label="What is rendered"
          value={heard}
          options={READINGS}
          onChange={(event) => setHeard(event.target.value as Heard)}
        />
        <Radio.Group
          aria-label="Files"
          value={by}
          options={FILES}
          onChange={(event) => setBy(event.target.value as StemsBy)}
        />
        {by !== 'all' && <p className="soft">{STEMS_SAY}</p>}
        <div className={styles.together}>
          <Select
            aria-label="Format"
            value={form.format}
            options={[
              { value: 'wav', label: 'WAV' },
              { value: 'flac', label: 'FLAC' },
            ]}
            onChange={(format) => setForm((now) => ({ ...now, format }))}
          />
          <Select
            aria-label="Sample rate"
            value={form.rate}
            options={[
              { value: 48_000, label: '48 kHz' },
              { value: 44_100, label: '44.1 kHz' },
            ]}
            onChange={(rate) => setForm((now) => ({ ...now, rate }))}
          />
          <Select
            aria-label="Bits"
            value={form.bits}
            options={[
              { value: 16, label: '16 bit' },
              { value: 24, label: '24 bit' },
            ]}
            onChange={(bits) => setForm((now) => ({ ...now, bits }))}
          />
        </div>
        <Checkbox checked={asHeard} onChange={(event) => setAsHeard(event.target.checked)}>
          With mutes, levels and pans as I hear them
        </Checkbox>
        <Checkbox
          checked={withLead && hasLead}
          disabled={!hasLead}
          onChange={(event) => setWithLead(event.target.checked)}
        >
          {hasLead
            ? `With ${before.join(' and ')}, as in the MIDI file`
            : 'With the lead-in and the click of the MIDI file (it has neither)'}
        </Checkbox>
        <div className={styles.go}>
          <Button
            type="primary"
            disabled={share !== null || why !== null}
            onClick={() => void render({ heard, by, asHeard, choice: { ...form, ...lead } })}
          >
            Render
          </Button>
          {why && <span className="soft">{why}</span>}
          {share !== null && <WorkProgress share={share} label="Sound rendered" onStop={stop} />}
        </div>
      </section>
    </div>
  );
}
