'use client';

import { App, Button, Checkbox, Progress, Radio } from 'antd';
import { useRef, useState } from 'react';
import { type Heard, isOfScore } from '../../core/sound/events';
import { proxy, withSound } from '../../workers/client';
import { percentDone } from '../common/percent';
import { saveFile } from '../common/saveFile';
import { unlessStopped } from '../common/unlessStopped';
import { useSession } from '../job/session';
import { bankBytes } from '../playback/bank';
import { levelsOf } from '../playback/hearing';
import { usePlayback } from '../playback/playback';
import styles from './DeliverStage.module.css';

/** Renders audio offline: the reference that goes with a hand-over. */
export function AudioDelivery() {
  const { core, job, inventory, decisions, behind, stock, summary } = useSession(
    'core',
    'job',
    'inventory',
    'decisions',
    'behind',
    'stock',
    'summary',
  );
  const { hearing } = usePlayback();
  const { notification } = App.useApp();
  const [heard, setHeard] = useState<Heard>('cleaned');
  const [asHeard, setAsHeard] = useState(true);
  const [share, setShare] = useState<number | null>(null);
  const running = useRef<AbortController | null>(null);

  const why = isOfScore(heard) ? behind : null;

  const render = async () => {
    setShare(0);
    const controller = new AbortController();
    running.current = controller;
    try {
      const revision = isOfScore(heard) ? summary?.revision : stock.revision;
      if (revision === undefined) throw new Error('The score is still being written.');
      const timeline = await core.timeline(revision, { heard });
      const leftOut =
        heard === 'source' ? [] : inventory.strands.filter(({ id }) => decisions.strands.get(id)?.out);
      const levels = levelsOf(
        timeline.voicings.map(({ strand }) => strand),
        asHeard ? hearing : new Map(),
        new Set(leftOut.map(({ id }) => id)),
      );
      const bank = await bankBytes();
      const rendering = withSound(
        (sound) => sound.render(bank, timeline, levels, proxy(setShare)),
        controller.signal,
      );
      const wav = await unlessStopped(controller.signal, rendering);
      if (!wav) return;
      saveFile(
        `${job.sourceName.replace(/\.[^.]+$/, '')} ${heard}.wav`,
        new Blob([wav as BlobPart], { type: 'audio/wav' }),
      );
    } catch (error) {
      notification.error({ title: 'The audio was not rendered', description: (error as Error).message });
    } finally {
      running.current = null;
      setShare(null);
    }
  };

  return (
    <div className={styles.sheets}>
      <section className={styles.sheet} aria-label="Reference audio">
        <h1>Reference audio</h1>
        <p className="soft">
          {inventory.strands.length} strands through the sound bank that plays here, as a stereo WAV file of
          48 kHz.
        </p>
        <Radio.Group
          aria-label="What is rendered"
          value={heard}
          options={[
            { value: 'source', label: 'The source as it came' },
            { value: 'cleaned', label: 'Cleaned, as handed over' },
            { value: 'score-played', label: 'The notes of the score, as played' },
            { value: 'score-performed', label: 'The score, as players would play it' },
            { value: 'score', label: 'The notes of the score, as written' },
          ]}
          onChange={(event) => setHeard(event.target.value as Heard)}
        />
        <Checkbox checked={asHeard} onChange={(event) => setAsHeard(event.target.checked)}>
          With mutes, levels and pans as I hear them
        </Checkbox>
        <div className={styles.go}>
          <Button type="primary" disabled={share !== null || why !== null} onClick={() => void render()}>
            Render
          </Button>
          {why && <span className="soft">{why}</span>}
          {share !== null && (
            <>
              <Progress percent={percentDone(share)} size="small" style={{ width: 180 }} />
              <Button size="small" onClick={() => running.current?.abort()}>
                Stop
              </Button>
            </>
          )}
        </div>
      </section>
    </div>
  );
}
