'use client';

import { App, Button } from 'antd';
import { useRef } from 'react';
import { counted } from '../../core/basics/words';
import { saveFile } from '../common/saveFile';
import { useSession } from '../job/session';
import styles from './DeliverStage.module.css';

/** The decisions as a file, for the command line or for another job. */
export function BriefDelivery() {
  const { job, history, replaceBrief, core } = useSession('job', 'history', 'replaceBrief', 'core');
  const { notification } = App.useApp();
  const input = useRef<HTMLInputElement>(null);
  const { directives } = history.brief;

  const load = async (file: File) => {
    const read = await core.readBrief(await file.text());
    if ('refused' in read)
      notification.error({ title: `${file.name} was not taken in`, description: read.refused });
    else replaceBrief(read);
  };

  return (
    <section className={styles.sheet} aria-label="Brief">
      <h2>The brief: {counted(directives.length, 'decision')}</h2>
      <p className="soft">
        All decisions of this job as one JSON file: for the command line, or for another version of the piece.
      </p>
      <div className={styles.go}>
        <Button
          disabled={directives.length === 0}
          title={directives.length === 0 ? 'Nothing has been decided yet' : undefined}
          onClick={() =>
            saveFile(
              `${job.title}.brief.json`,
              new Blob([JSON.stringify(history.brief, null, 2)], { type: 'application/json' }),
            )
          }
        >
          Save the brief
        </Button>
        <Button onClick={() => input.current?.click()}>Load a brief…</Button>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          hidden
          data-testid="brief-input"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void load(file);
          }}
        />
      </div>
    </section>
  );
}
