import { App, Button, Space } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { dropBank, findBank, keepBank } from '../../store/sound';
import { withSound } from '../../workers/client';
import { shippedBank } from './bank';
import { usePlayback } from './playback';
import styles from './Transport.module.css';

/** A bank that takes longer to read than this is damaged; milliseconds. */
const PATIENCE = 20_000;

/** The user's own sound bank in the place of the one that ships. */
export function OwnBank() {
  const { changeBank } = usePlayback();
  const { notification, message } = App.useApp();
  const [name, setName] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const giveUp = useRef<() => void>(() => {});

  useEffect(() => {
    void findBank().then((bank) => setName(bank?.name ?? null));
  }, []);

  const load = async (file: File) => {
    setBusy(true);
    const stopped = new AbortController();
    giveUp.current = () => stopped.abort(new Error('It was stopped.'));
    const late = setTimeout(
      () => stopped.abort(new Error(`It could not be read within ${PATIENCE / 1000} seconds.`)),
      PATIENCE,
    );
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const checked = await withSound<{ name: string } | { refused: string }>(
        (sound) => sound.check(bytes),
        stopped.signal,
      );
      if ('refused' in checked) {
        notification.error({
          title: `${file.name} was not taken in`,
          description: `${checked.refused} The bank before it plays on.`,
        });
        return;
      }
      await keepBank(file.name, bytes);
      await changeBank(bytes.slice().buffer as ArrayBuffer);
      setName(file.name);
      message.success(`${file.name} plays now.`);
    } catch (error) {
      notification.error({
        title: `${file.name} was not taken in`,
        description: `${(error as Error).message} The bank before it plays on.`,
      });
    } finally {
      clearTimeout(late);
      setBusy(false);
    }
  };

  return (
    <section className={styles.bank} aria-label="Sound bank">
      <h2>Sound bank</h2>
      <p className="soft">
        {name
          ? `${name}, your own.`
          : 'The stand-in that ships: plain sounds for all General MIDI programs, to judge pitch, rhythm and balance by.'}
      </p>
      <Space>
        <Button size="small" loading={busy} onClick={() => input.current?.click()}>
          Use a bank of your own…
        </Button>
        {busy && (
          <Button size="small" onClick={() => giveUp.current()}>
            Stop
          </Button>
        )}
        {name && (
          <Button
            size="small"
            onClick={() =>
              void dropBank()
                .then(shippedBank)
                .then(changeBank)
                .then(() => setName(null))
            }
          >
            Back to the stand-in
          </Button>
        )}
      </Space>
      <input
        ref={input}
        type="file"
        accept=".sf2,.sf3,.dls"
        hidden
        data-testid="bank-input"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) void load(file);
        }}
      />
    </section>
  );
}
