'use client';

import { CaretRightFilled, SoundOutlined } from '@ant-design/icons';
import {
  App,
  Button,
  Checkbox,
  Drawer,
  Popover,
  Select,
  Slider,
  Space,
  Table,
  type TableColumnsType,
  Tooltip,
} from 'antd';
import { useEffect, useRef, useState } from 'react';
import { type StrandId, spelledStrand } from '../../core/model/ids';
import type { Heard } from '../../core/sound/timeline';
import { dropBank, findBank, keepBank } from '../../store/sound';
import { startSound } from '../../workers/client';
import { useKeys } from '../common/keys';
import { clockText } from '../common/names';
import { useChosen } from '../common/useChosen';
import { useSession } from '../job/session';
import { shippedBank } from './bank';
import { PLAIN } from './hearing';
import { usePlayback } from './playback';
import styles from './Transport.module.css';

const HEARD: { value: Heard; label: string; title: string }[] = [
  { value: 'source', label: 'Source', title: 'As the file came' },
  { value: 'cleaned', label: 'Cleaned', title: 'As it will be handed over' },
  { value: 'score-played', label: 'Score, played', title: 'The notes of the score, as they were played' },
  { value: 'score', label: 'Score, written', title: 'The notes of the score, as they are written' },
];

/** Play and stop, what is heard and how: in the top line of every stage. */
export function Transport() {
  const playback = usePlayback();
  const [isOpen, setOpen] = useState(false);
  const [asks, setAsks] = useState(false);
  const { isPlaying, isLoading, heard, change, toggle } = playback;
  useKeys({ play: toggle });

  return (
    <section className={styles.transport} aria-label="Playback">
      <Tooltip title={isPlaying ? 'Stop (Space)' : 'Play (Space)'}>
        <Button
          type="text"
          loading={isLoading}
          aria-label={isPlaying ? 'Stop' : 'Play'}
          icon={isPlaying ? <span className={styles.stop} /> : <CaretRightFilled />}
          onClick={toggle}
        />
      </Tooltip>
      <Clock />
      <Select
        size="small"
        variant="borderless"
        aria-label="What is heard"
        value={heard}
        style={{ width: 130 }}
        options={HEARD}
        onChange={(value: Heard) => change({ heard: value })}
      />
      <Popover
        trigger="click"
        placement="bottom"
        open={asks}
        onOpenChange={setAsks}
        content={
          <Manner
            onStrands={() => {
              setAsks(false);
              setOpen(true);
            }}
          />
        }
      >
        <Tooltip title="How it is heard">
          <Button type="text" aria-label="How it is heard" icon={<SoundOutlined />} />
        </Tooltip>
      </Popover>
      <Drawer
        title="How each strand is heard"
        open={isOpen}
        size={460}
        mask={false}
        onClose={() => setOpen(false)}
      >
        <StrandLevels />
        <OwnBank />
      </Drawer>
    </section>
  );
}

/** The place that sounds now. */
function Clock() {
  const { position, isPlaying } = usePlayback();
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const show = () => {
      if (text.current) text.current.textContent = clockText(position());
    };
    show();
    if (!isPlaying) return;
    const timer = setInterval(show, 100);
    return () => clearInterval(timer);
  }, [position, isPlaying]);
  return <span ref={text} className={`${styles.clock} figures`} role="timer" aria-label="Place" />;
}

function Manner({ onStrands }: { onStrands: () => void }) {
  const { scale, click, countIn, follow, loops, range, change } = usePlayback();
  return (
    <div className={styles.manner}>
      <div>
        <span id="tempo-scale">Tempo: {Math.round(scale * 100)} %</span>
        <Slider
          min={25}
          max={200}
          step={5}
          value={Math.round(scale * 100)}
          ariaLabelledByForHandle="tempo-scale"
          onChange={(percent) => change({ scale: percent / 100 })}
        />
      </div>
      <Checkbox checked={click} onChange={(event) => change({ click: event.target.checked })}>
        Click
      </Checkbox>
      <Checkbox checked={countIn} onChange={(event) => change({ countIn: event.target.checked })}>
        Count in one bar
      </Checkbox>
      <Checkbox
        checked={loops}
        disabled={!range}
        onChange={(event) => change({ loops: event.target.checked })}
      >
        Loop the selected bars
        {!range && <span className="soft"> (select them on the note bars)</span>}
      </Checkbox>
      <Checkbox checked={follow} onChange={(event) => change({ follow: event.target.checked })}>
        Follow the playhead
      </Checkbox>
      <Button size="small" onClick={onStrands}>
        Strands and sounds…
      </Button>
    </div>
  );
}

interface Row {
  id: StrandId;
  name: string;
}

function StrandLevels() {
  const { inventory, summary } = useSession('inventory', 'summary');
  const { hearing, hear } = usePlayback();
  const { chosen, rowSelection } = useChosen<StrandId>();
  const rows = inventory.strands.map((strand): Row => {
    const part = summary?.parts.find((each) => each.strands.includes(strand.id));
    const name = part?.name ?? (strand.name || spelledStrand(strand.id));
    return { id: strand.id, name: strand.piece ? `${name}, ${strand.piece}` : name };
  });
  const of = (row: Row) => hearing.get(row.id) ?? PLAIN;
  /** A change of one chosen strand is made to all that are chosen. */
  const about = (row: Row) => (chosen.includes(row.id) ? chosen : [row.id]);
  const columns: TableColumnsType<Row> = [
    { title: 'Strand', dataIndex: 'name', ellipsis: true },
    {
      title: 'Mute',
      width: 52,
      render: (_, row) => (
        <Checkbox
          aria-label={`Mute ${row.name}`}
          checked={of(row).muted}
          onChange={(event) => hear(about(row), { muted: event.target.checked })}
        />
      ),
    },
    {
      title: 'Solo',
      width: 50,
      render: (_, row) => (
        <Checkbox
          aria-label={`Solo ${row.name}`}
          checked={of(row).solo}
          onChange={(event) => hear(about(row), { solo: event.target.checked })}
        />
      ),
    },
    {
      title: 'Level',
      width: 92,
      render: (_, row) => (
        <Slider
          className={styles.slider!}
          min={0}
          max={200}
          value={Math.round(of(row).gain * 100)}
          ariaLabelForHandle={`Level of ${row.name}`}
          onChange={(percent) => hear(about(row), { gain: percent / 100 })}
        />
      ),
    },
    {
      title: 'Pan',
      width: 82,
      render: (_, row) => (
        <Slider
          className={styles.slider!}
          min={-100}
          max={100}
          value={Math.round(of(row).pan * 100)}
          ariaLabelForHandle={`Pan of ${row.name}`}
          onChange={(percent) => hear(about(row), { pan: percent / 100 })}
        />
      ),
    },
  ];
  return (
    <>
      <p className="soft">
        For listening only: none of this goes into a hand-over. Choose several to change them together.
      </p>
      <Table
        size="small"
        rowKey="id"
        virtual
        scroll={{ x: 410, y: 420 }}
        columns={columns}
        dataSource={rows}
        pagination={false}
        rowSelection={rowSelection}
      />
      <Button
        size="small"
        className={styles.plain!}
        onClick={() =>
          hear(
            rows.map((row) => row.id),
            PLAIN,
          )
        }
      >
        All plain again
      </Button>
    </>
  );
}

/** A bank that takes longer to read than this is damaged; milliseconds. */
const PATIENCE = 20_000;

/** The user's own sound bank in the place of the one that ships. */
function OwnBank() {
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
    const { sound, stop } = startSound();
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const checked = await Promise.race([
        sound.check(bytes),
        new Promise<{ refused: string }>((resolve) => {
          giveUp.current = () => resolve({ refused: 'It was stopped.' });
          setTimeout(
            () => resolve({ refused: `It could not be read within ${PATIENCE / 1000} seconds.` }),
            PATIENCE,
          );
        }),
      ]);
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
      notification.error({ title: `${file.name} was not kept`, description: (error as Error).message });
    } finally {
      stop();
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
