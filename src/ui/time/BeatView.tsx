'use client';

import { Button, Dropdown, InputNumber, Segmented, Select, Slider } from 'antd';
import { type ReactNode, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { BeatUnit } from '../../core/decisions/kinds/beats';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import { InspectorEdge } from '../common/InspectorEdge';
import { useKeys } from '../common/keys';
import { clockText } from '../common/names';
import { Panel } from '../common/Panel';
import { useOfPerformance, useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import { BeatField } from './BeatField';
import { BeatInspector } from './BeatInspector';
import { MeterChoices } from './MeterChoices';
import styles from './TimeStage.module.css';
import { useBeatEdits } from './useBeatEdits';

const SPANS = [4, 8, 16, 32] as const;
/** Pulses across the one there is: how many places a beat has, and how many of them the new beats are apart. */
const PULSES: readonly [label: string, places: number, every: number][] = [
  ['Two beats for three', 2, 3],
  ['Three beats for two', 3, 2],
  ['Four beats for three', 4, 3],
  ['Three beats for four', 3, 4],
];

const UNITS: Record<BeatUnit, string> = { 0.5: 'Eighth', 1: 'Quarter', 1.5: 'Dotted quarter', 2: 'Half' };

const ORIGINS: Record<BeatSheet['from'], string> = {
  file: 'These are the file’s own beats',
  heard: 'The file counts other beats than this music has; these are heard',
  decided: 'These beats were set here',
};

/** The beats under the music: found, tapped along or set by hand, while every note stays where it sounds. */
export function BeatView({ switcher }: { switcher: ReactNode }) {
  const { decisions } = useSession('decisions');
  const places = decisions.places.size;
  const playback = usePlayback();
  const {
    data: sheet = null,
    isOld,
    why,
  } = useOfPerformance(['beats'], (worker, revision) => worker.beatSheet(revision));
  const [from, setFrom] = useState(0);
  const [span, setSpan] = useState<number>(8);
  const [chosen, setChosen] = useState<number | null>(null);
  const [perBar, setPerBar] = useState<number | null>(null);
  const [taps, setTaps] = useState<number[] | null>(null);
  const { edit, said, setSaid } = useBeatEdits(sheet, isOld);
  const end = sheet?.end ?? 0;
  const count = perBar ?? sheet?.beats.perBar ?? 4;
  const go = useCallback(
    (second: number) => setFrom(Math.min(Math.max(0, second), Math.max(0, end - span / 2))),
    [end, span],
  );

  const tapAlong = () => {
    setTaps([]);
    setSaid('');
    playback.setRange([Math.max(0, from - (sheet?.ahead ?? 0)), end]);
    if (!playback.isPlaying) playback.toggle();
  };

  const endTaps = useCallback(() => {
    if (playback.isPlaying) playback.toggle();
    playback.setRange(null);
    setTaps(null);
    if (taps && taps.length > 1) void edit({ edit: 'tap', taps, perBar: count });
    else setSaid('Fewer than two beats were tapped: nothing is changed.');
  }, [playback, taps, edit, count]);

  const ahead = sheet?.ahead ?? 0;
  useKeys({
    after: () => go(from + span * 0.9),
    before: () => go(from - span * 0.9),
    tap: () => {
      if (!taps) return false;
      setTaps([...taps, playback.position() + ahead]);
    },
    clear: () => {
      if (!taps) return false;
      endTaps();
    },
  });

  // While it plays, what sounds stays in view.
  useEffect(() => {
    if (!playback.isPlaying) return;
    const timer = setInterval(() => {
      const now = playback.position() + ahead;
      setFrom((before) =>
        now > before + span * 0.92 || now < before ? Math.max(0, now - span * 0.1) : before,
      );
    }, 120);
    return () => clearInterval(timer);
  }, [playback, span, ahead]);

  const stage = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    if (chosen === null) return;
    stage.current?.querySelector<HTMLElement>(`[data-beat="${chosen}"]`)?.focus();
  }, [chosen]);

  if (!sheet) return why !== null ? null : <p className={styles.waiting}>Reading the beats</p>;
  const { beats, seconds } = sheet;
  const choose = (index: number) => {
    const next = Math.min(Math.max(0, index), seconds.length - 1);
    setChosen(next);
    const time = seconds[next]!;
    if (time < from || time > from + span) go(time - span / 3);
  };

  return (
    <div className={styles.stage} ref={stage}>
      <aside className={styles.parts} aria-label="Beats">
        {switcher}
        <p>
          {ORIGINS[sheet.from]}: {counted(seconds.length, 'beat')}, {counted(beats.bars.length, 'bar')}.
        </p>
        <p className="soft">
          Whatever you do with them, every note stays where it sounds; bars and tempo follow.
        </p>
        {places > 0 && (
          <p className="soft">
            {counted(places, 'note')} that you placed {places === 1 ? 'goes' : 'go'} along with{' '}
            {places === 1 ? 'its' : 'their'} beats.
          </p>
        )}
        <Button onClick={() => void edit({ edit: 'find' })}>Find beats</Button>
        {taps === null ? (
          <Button onClick={tapAlong}>Tap along from here</Button>
        ) : (
          <Button type="primary" onClick={endTaps}>
            Done: {counted(taps.length, 'tap')}
          </Button>
        )}
        <Button onClick={() => void edit({ edit: 'double' })}>Twice as many</Button>
        <Button onClick={() => void edit({ edit: 'halve' })}>Half as many</Button>
        <Dropdown
          trigger={['click']}
          menu={{
            items: PULSES.map(([label], key) => ({ key, label })),
            onClick: ({ key }) => {
              const [, places, every] = PULSES[Number(key)]!;
              void edit({ edit: 'pulse', every, places });
            },
          }}
        >
          <Button>Other pulse</Button>
        </Dropdown>
        <Button disabled={sheet.from === 'file'} onClick={() => void edit({ edit: 'file' })}>
          The file’s beats
        </Button>
        <MeterChoices meters={sheet.meters} />
        <p aria-live="polite">
          {taps === null
            ? said
            : 'Press T on every beat, Escape at the end. The first begins a bar. Taps are drawn to the notes around them.'}
        </p>
      </aside>
      <section className={styles.middle}>
        <div className={styles.toolbar} role="toolbar" aria-label="What is in view">
          <Segmented
            size="small"
            value={span}
            aria-label="Seconds in view"
            options={SPANS.map((value) => ({ value, label: `${value} s` }))}
            onChange={setSpan}
          />
          <span className="figures">
            {clockText(from)}–{clockText(Math.min(end, from + span))} of {clockText(end)}
          </span>
          <label>
            A beat is
            <Select
              size="small"
              style={{ width: 140 }}
              value={beats.unit}
              options={Object.entries(UNITS).map(([value, label]) => ({
                value: Number(value) as BeatUnit,
                label,
              }))}
              onChange={(unit: BeatUnit) => void edit({ edit: 'unit', unit })}
            />
          </label>
          <label>
            Beats a bar
            <InputNumber
              size="small"
              min={1}
              max={12}
              style={{ width: 64 }}
              value={count}
              onChange={(value) => setPerBar(value)}
            />
          </label>
        </div>
        <Panel name="The beats">
          <BeatField
            sheet={sheet}
            from={from}
            span={span}
            chosen={chosen}
            taps={taps ?? []}
            playhead={() => (playback.isPlaying ? playback.position() + ahead : null)}
            isPlaying={playback.isPlaying}
            onChoose={choose}
            onMove={(index, second) => edit({ edit: 'move', index, seconds: second })}
            onBar={(index) => void edit({ edit: 'bar', index })}
            onRemove={(index) => void edit({ edit: 'remove', index })}
            onAdd={(second) => void edit({ edit: 'add', seconds: Math.max(0, second) })}
            onGo={go}
          />
        </Panel>
        <div className={styles.toolbar}>
          <Slider
            style={{ flex: 1 }}
            min={0}
            max={Math.max(1, Math.floor(end))}
            value={from}
            step={0.5}
            tooltip={{ formatter: (value) => clockText(value ?? 0) }}
            ariaLabelForHandle="Where in the piece"
            onChange={go}
          />
        </div>
      </section>
      <InspectorEdge />
      <aside className={styles.inspector} aria-label="Inspector">
        <Panel name="The beat">
          <BeatInspector sheet={sheet} chosen={chosen} count={count} edit={edit} />
        </Panel>
      </aside>
    </div>
  );
}
