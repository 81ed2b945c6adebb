'use client';

import { CaretRightFilled, SoundOutlined } from '@ant-design/icons';
import { Button, Checkbox, Drawer, Popover, Select, Slider, Tooltip } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { HEARD } from '../../core/sound/events';
import { useKeys } from '../common/keys';
import { clockText } from '../common/names';
import { useSession } from '../job/session';
import { useRecording } from '../recording/useRecording';
import { useStems } from '../stems/useStems';
import { type HeardNow, isSound, READING_NAMES } from './hearing';
import { OwnBank } from './OwnBank';
import { KINDS_IN_TIME, PlayedOut } from './PlayedOut';
import { AT_ONCE, usePlayback } from './playback';
import { StrandLevels } from './StrandLevels';
import styles from './Transport.module.css';

const TITLES: Record<HeardNow, string> = {
  source: 'As the file came',
  cleaned: 'As it will be handed over',
  'score-played': 'The notes of the score, as they were played',
  'score-performed': 'The score as players would play it: dynamics, articulation, ornaments, swing',
  score: 'Pitches and values of the page, without nuance',
  recording: 'The recording that is laid along the piece',
  stems: 'The stems that are not muted, together',
};
const NAMES_OF_SCORES: Partial<Record<HeardNow, string>> = { cleaned: 'As performed', score: 'As written' };
const TITLES_OF_SCORES: Partial<Record<HeardNow, string>> = {
  cleaned: 'With all that is played out, as it will be handed over',
  source: 'The score as it came, played before anything was cleaned',
  score: 'Pitches and values of the page, without nuance',
};

/** What can be heard of the job, with what that means. */
function useChoices(): { value: HeardNow; label: string; title: string }[] {
  const { stock } = useSession('stock');
  const { recording } = useRecording();
  const stems = useStems();
  const isScore = stock.kind === 'score';
  const readings: HeardNow[] = isScore ? ['cleaned', 'source', 'score'] : [...HEARD];
  const sounds: HeardNow[] = [
    ...(recording ? (['recording'] as const) : []),
    ...(stems.length > 0 ? (['stems'] as const) : []),
  ];
  return [...readings, ...sounds].map((value) => ({
    value,
    label: (isScore && NAMES_OF_SCORES[value]) || READING_NAMES[value],
    title: (isScore && TITLES_OF_SCORES[value]) || TITLES[value],
  }));
}

/** Play and stop, what is heard and how: in the top line of every stage. */
export function Transport() {
  const playback = usePlayback();
  const choices = useChoices();
  const [isOpen, setOpen] = useState(false);
  const [asks, setAsks] = useState(false);
  const { isPlaying, isLoading, sounding, heard, other, change, toggle } = playback;
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
        options={choices}
        onChange={(value: HeardNow) => change({ heard: value })}
      />
      {other && (
        <span className={`${styles.other} soft`} role="status">
          {sounding ? <b>{sounding}</b> : `and ${READING_NAMES[other]}`}
        </span>
      )}
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
  const { scale, click, countIn, follow, loops, range, heard, other, span, change } = usePlayback();
  const choices = useChoices();
  const hasSound = other !== null && isSound(heard) !== isSound(other);
  return (
    <div className={styles.manner}>
      <label className={styles.choice}>
        In turns with
        <Select
          size="small"
          aria-label="What is heard in turns with it"
          value={other ?? 'none'}
          style={{ width: 150 }}
          options={[
            { value: 'none' as const, label: 'nothing' },
            ...choices.filter(({ value }) => value !== heard),
          ]}
          onChange={(value: HeardNow | 'none') => change({ other: value === 'none' ? null : value })}
        />
      </label>
      <label className={styles.choice}>
        Bars at a time
        <Select
          size="small"
          aria-label="Bars at a time"
          value={span}
          disabled={other === null || (range !== null && !hasSound)}
          style={{ width: 84 }}
          options={[
            ...(hasSound ? [{ value: AT_ONCE, label: 'at once' }] : []),
            ...[1, 2, 4, 8].map((value) => ({ value, label: String(value) })),
          ]}
          onChange={(value: number) => change({ span: value })}
        />
      </label>
      {[heard, other].includes('score-performed') && (
        <fieldset className={styles.playedOut}>
          <legend>Played out</legend>
          <PlayedOut kinds={KINDS_IN_TIME} />
        </fieldset>
      )}
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
