'use client';

import { App, Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { packBackup, unpackBackup } from '../../store/backup';
import { keepForGood, roomLeft } from '../../store/room';
import { saveFile } from '../common/saveFile';

const megabytes = (bytes: number): string =>
  `${Math.max(1, Math.round(bytes / 1e6)).toLocaleString('en')} MB`;

/** With less than this share of the room left it is time to save. */
const SCARCE = 0.2;

/** All jobs as one file, out and in again, and how safely the browser keeps them. */
export function Backup({ jobs }: { jobs: number }) {
  const { notification, message } = App.useApp();
  const input = useRef<HTMLInputElement>(null);
  const [room, setRoom] = useState<{ used: number; of: number } | null>(null);
  const [isSafe, setSafe] = useState<boolean | null>(null);

  useEffect(() => {
    void roomLeft().then(setRoom);
    void keepForGood().then(setSafe);
  }, [jobs]);

  const failed = (title: string) => (error: unknown) =>
    notification.error({ title, description: (error as Error).message, duration: 0 });

  const tell = (title: string, sentences: readonly string[]) =>
    notification.warning({
      title,
      description: (
        <ul>
          {sentences.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      ),
      duration: 0,
    });

  const save = async () => {
    const { bytes, jobs: packed, leftOut } = await packBackup();
    const day = new Date().toISOString().slice(0, 10);
    saveFile(`dragoman jobs ${day}.zip`, new Blob([bytes as BlobPart], { type: 'application/zip' }));
    message.success(`${counted(packed, 'job')} saved, and read back as they are.`);
    if (leftOut.length > 0) tell('Not all is in the backup', leftOut);
  };

  const load = async (file: File) => {
    const { added, known, damaged } = await unpackBackup(new Uint8Array(await file.arrayBuffer()));
    const came = `${counted(added, 'job')} came in${known > 0 ? `; ${known} were here already and stayed as they are` : ''}.`;
    if (damaged.length > 0) tell(came, damaged);
    else message.success(came);
  };

  const isScarce = room !== null && room.of > 0 && 1 - room.used / room.of < SCARCE;
  return (
    <section aria-label="Keeping" style={{ marginTop: 18 }}>
      <Button disabled={jobs === 0} onClick={() => void save().catch(failed('The backup was not made'))}>
        Save all jobs as one file
      </Button>{' '}
      <Button onClick={() => input.current?.click()}>Import jobs…</Button>
      <input
        ref={input}
        type="file"
        accept=".zip"
        hidden
        data-testid="backup-input"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) load(file).catch(failed(`${file.name} could not be imported`));
        }}
      />
      <p className={isScarce ? 'rubric' : 'soft'}>
        {room && `${megabytes(room.used)} of ${megabytes(room.of)} used in this browser. `}
        {isScarce && 'Little room is left: save your jobs and delete those that are done. '}
        {isSafe === false && 'This browser may delete stored jobs when space runs short: keep a backup file.'}
        {isSafe === true && 'This browser keeps stored jobs until they are deleted.'}
      </p>
    </section>
  );
}
