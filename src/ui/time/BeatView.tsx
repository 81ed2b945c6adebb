'use client';

import { Button, Dropdown, InputNumber, Segmented, Select, Slider, Space } from 'antd';
import { type ReactNode, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { BeatUnit } from '../../core/decisions/kinds/beats';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import type { EditBeatsRequest } from '../../workers/messages';
import { useKeys } from '../common/keys';
import { clockText } from '../common/names';
import { useOfPerformance, useSession } from '../job/session';
import { usePlayback } from '../playback/playback';
import { BeatField } from './BeatField';
import styles from './TimeStage.module.css';
import { oddsWords } from './words';

const SPANS = [4, 8, 16, 32] as const;
/** Pulses across the one there is: how many places a beat has, and how many of them the new beats are apart. */
const PULSES: readonly [label: string, places: number, every: number][] = [
  ['Two beats for three', 2, 3],
  ['Three beats for two', 3, 2],
  ['Four beats for three', 4, 3],
  ['Three beats for four', 3, 4],
];

const UNITS: Record<BeatUnit, string> = { 0.5: 'Eighth', 1: 'Quarter', 1.5: 'Dotted quarter', 2: 'Half' };

/** After this long an edit is made even if the one before it never showed, in milliseconds. */
const PATIENCE = 3000;

/** Whether a sheet has what was decided; one that was asked for earlier may come later. */
function shows({ beats, decided }: BeatSheet, directives: readonly PlainDirective[]): boolean {
  const wanted = directives.find((each) => each.kind === 'beats');
  if (!wanted || wanted.ticks.length === 0) return !decided;
  return (
    decided &&
    beats.unit === (wanted.unit ?? 1) &&
    `${beats.ticks}` === `${wanted.ticks}` &&
    `${beats.bars}` === `${wanted.bars}`
  );
}

/** The beats under the music: found, tapped along or set by hand, while every note stays where it sounds. */
export function BeatView({ switcher }: { switcher: ReactNode }) {
  const { core, stock, decisions, take } = useSession('core', 'stock', 'decisions', 'take');
  const places = decisions.places.size;
  const playback = usePlayback();
  const { data: sheet = null, isOld } = useOfPerformance(['beats'], (worker, revision) =>
    worker.beatSheet(revision),
  );
  const [from, setFrom] = useState(0);
  const [span, setSpan] = useState<number>(8);
  const [chosen, setChosen] = useState<number | null>(null);
  const [perBar, setPerBar] = useState<number | null>(null);
  const [taps, setTaps] = useState<number[] | null>(null);
  const [said, setSaid] = useState('');
  /** Edits wait for each other: each starts from the beats that the one before it made. */
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const arrived = useRef<(found: BeatSheet | null) => void>(() => {});

  useEffect(() => {
    if (!isOld) arrived.current(sheet);
  }, [sheet, isOld]);
  /** An edit starts from the beats as they are when its turn comes. */
  const revision = useRef(stock.revision);
  revision.current = stock.revision;

  const end = sheet?.end ?? 0;
  const count = perBar ?? sheet?.beats.perBar ?? 4;
  const go = useCallback(
    (second: number) => setFrom(Math.min(Math.max(0, second), Math.max(0, end - span / 2))),
    [end, span],
  );

  const edit = useCallback(
    (request: EditBeatsRequest): Promise<boolean> => {
      const turn = queue.current.then(async () => {
        const decided = await core.editBeats(revision.current, request);
        setSaid(decided.length === 0 ? 'That changes nothing here.' : '');
        if (decided.length === 0) return false;
        await new Promise<void>((resolve) => {
          arrived.current = (found) => found && shows(found, decided) && resolve();
          setTimeout(resolve, PATIENCE);
          take(...decided);
        });
        return true;
      });
      queue.current = turn.catch(() => {});
      return turn;
    },
    [core, take],
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

  if (!sheet) return <p className={styles.waiting}>Reading the beats</p>;
  const { beats, seconds, decided } = sheet;
  const at = chosen === null ? undefined : seconds[chosen];
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
          {decided ? 'These beats were set here' : 'These are the file’s own beats'}:{' '}
          {counted(seconds.length, 'beat')}, {counted(beats.bars.length, 'bar')}.
        </p>
        <p className="soft">
          Whatever you do with them, every note stays where it sounds; bars and tempo follow.
        </p>
        {places > 0 && (
          <p className="soft">
            {counted(places, 'note')} {places === 1 ? 'stands' : 'stand'} where you put{' '}
            {places === 1 ? 'it' : 'them'}, counted in quarters from the start: beats that come or go before
            move what that means.
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
        <Button disabled={!decided} onClick={() => void edit({ edit: 'file' })}>
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
      <aside className={styles.inspector} aria-label="Inspector">
        {chosen === null || at === undefined ? (
          <>
            <h2>Beats</h2>
            <p className="soft">
              Drag a beat line to where the beat is heard. Click one to choose it: arrow keys move it by 10
              ms, with Shift to the beat beside it; Enter begins a bar there or joins two, Delete takes it
              away. A double click between two beats adds one.
            </p>
          </>
        ) : (
          <>
            <h2>{beatName(sheet, chosen)}</h2>
            <dl className="figures" aria-live="polite">
              <dt>At</dt>
              <dd>{preciseText(at)}</dd>
              <dt>Tempo</dt>
              <dd>{tempoText(sheet, chosen)}</dd>
            </dl>
            <Space wrap size={6}>
              <Button size="small" onClick={() => void edit({ edit: 'bar', index: chosen })}>
                {beats.bars.includes(chosen) ? 'No bar line here' : 'Bar line here'}
              </Button>
              <Button size="small" onClick={() => void edit({ edit: 'count', index: chosen, perBar: count })}>
                Bars of {count} from here
              </Button>
              <Button
                size="small"
                disabled={seconds[chosen + 1] === undefined}
                onClick={() => void edit({ edit: 'add', seconds: (at + seconds[chosen + 1]!) / 2 })}
              >
                Add one after it
              </Button>
              <Button size="small" onClick={() => void edit({ edit: 'remove', index: chosen })}>
                Take it away
              </Button>
            </Space>
          </>
        )}
      </aside>
    </div>
  );
}

/** The meters that the accents suggest, to take one of them with its upbeat, or to go back to the file's. */
function MeterChoices({ meters }: Pick<BeatSheet, 'meters'>) {
  const { decisions, take } = useSession('decisions', 'take');
  const best = meters[0]?.worth ?? 0;
  const taken = decisions.meter;
  return (
    <>
      {meters.length > 0 && <h3>Meter, by the accents</h3>}
      {meters.map(({ meter: { numerator, denominator }, upbeatEighths, worth }, index) => (
        <Button
          key={`${numerator}/${denominator}`}
          size="small"
          className={styles.meter}
          disabled={taken?.numerator === numerator && taken.denominator === denominator}
          onClick={() => take({ kind: 'meter', numerator, denominator, upbeatQuarters: upbeatEighths / 2 })}
        >
          {numerator}/{denominator}
          {upbeatEighths > 0 && `, upbeat of ${counted(upbeatEighths, 'eighth')}`}
          <span className="soft">{index === 0 ? firstWords(best) : oddsWords(-worth)}</span>
        </Button>
      ))}
      {taken && (
        <Button
          size="small"
          onClick={() => take({ kind: 'meter', numerator: null, denominator: 4, upbeatQuarters: 0 })}
        >
          The file’s meter
        </Button>
      )}
    </>
  );
}

/** Below this two meters are as good as each other. */
const CLEAR = 1.5;
const firstWords = (worth: number): string => (worth < CLEAR ? 'fits, but not clearly' : 'fits best');

/** Bar and beat, counted as people do. */
function beatName({ beats, firstBar }: BeatSheet, index: number): string {
  const bar = beats.bars.findLastIndex((each) => each <= index);
  if (bar < 0) return `Upbeat, ${counted((beats.bars[0] ?? 0) - index, 'beat')} before bar ${firstBar}`;
  return `Bar ${firstBar + bar}, beat ${index - beats.bars[bar]! + 1}`;
}

const preciseText = (second: number): string =>
  `${Math.floor(second / 60)}:${(second % 60).toFixed(3).padStart(6, '0')}`;

function tempoText({ seconds }: BeatSheet, index: number): string {
  const next = seconds[index + 1];
  const length = next === undefined ? seconds[index]! - (seconds[index - 1] ?? 0) : next - seconds[index]!;
  return `${(60 / length).toFixed(1)} beats a minute`;
}
