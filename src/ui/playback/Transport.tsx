'use client';

import { CaretRightFilled, SoundOutlined } from '@ant-design/icons';
import { Button, Checkbox, Drawer, Popover, Select, Slider, Tooltip } from 'antd';
import { useEffect, useRef, useState } from 'react';
import type { Heard } from '../../core/sound/timeline';
import { useKeys } from '../common/keys';
import { clockText } from '../common/names';
import { useSession } from '../job/session';
import { OwnBank } from './OwnBank';
import { usePlayback } from './playback';
import { StrandLevels } from './StrandLevels';
import styles from './Transport.module.css';

type Choice = { value: Heard; label: string; title: string };

const HEARD: Choice[] = [
  { value: 'source', label: 'Source', title: 'As the file came' },
  { value: 'cleaned', label: 'Cleaned', title: 'As it will be handed over' },
  { value: 'score-played', label: 'Score, played', title: 'The notes of the score, as they were played' },
  { value: 'score', label: 'Score, written', title: 'The notes of the score, as they are written' },
];
const HEARD_OF_SCORES: Choice[] = [
  {
    value: 'cleaned',
    label: 'As performed',
    title: 'With all that is played out, as it will be handed over',
  },
  { value: 'source', label: 'Source', title: 'The score as it came, played before anything was cleaned' },
  { value: 'score', label: 'As written', title: 'Pitches and values of the page, without nuance' },
];

/** Play and stop, what is heard and how: in the top line of every stage. */
export function Transport() {
  const playback = usePlayback();
  const { stock } = useSession('stock');
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
        options={stock.kind === 'musicxml' ? HEARD_OF_SCORES : HEARD}
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
