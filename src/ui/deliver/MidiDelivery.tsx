'use client';

import { DownloadOutlined } from '@ant-design/icons';
import { App, Button, Checkbox, Input, InputNumber, Radio, Select, Spin } from 'antd';
import { useState } from 'react';
import type { HandOverChoice } from '../../core/decisions/kinds/hand-over';
import { isZip } from '../../core/deliver/is-zip';
import type { StrandId } from '../../core/model/ids';
import { FirstBarInput } from '../common/FirstBarInput';
import { saveFile } from '../common/saveFile';
import { useOfPerformance, useSession } from '../job/session';
import { PlayLike } from '../playback/PlayLike';
import styles from './DeliverStage.module.css';
import { MidiPreview } from './MidiPreview';
import { PlayingForm } from './PlayingForm';
import { TimesFields } from './TimesFields';

const FORMS: Record<HandOverChoice['form'], { label: string; says: string }> = {
  plain: {
    label: 'Plain',
    says: 'For a new mock-up: notes, velocities, clock, names. Nothing that fights a mixer.',
  },
  full: {
    label: 'Full',
    says: 'Everything. Untouched sources go out event for event as they came.',
  },
  clock: { label: 'Clock only', says: 'Tempos, meters, keys and markers for a session; no notes.' },
  loops: { label: 'Loops', says: 'A small file for each part and section, in a zip.' },
};

/** Standard MIDI File hand-overs, each with a preview of what it holds. */
export function MidiDelivery() {
  const { job, sources, core, decisions, inventory, stock, summary, amend, latestBrief } = useSession(
    'job',
    'sources',
    'core',
    'decisions',
    'inventory',
    'stock',
    'summary',
    'amend',
    'latestBrief',
  );
  const { notification } = App.useApp();
  const choice = decisions.handOver;
  const { form } = choice;
  const [name, setName] = useState(() => job.sourceName.replace(/\.[^.]+$/, ''));
  const [busy, setBusy] = useState(false);
  const isSeveral = isZip(choice);
  const extension = isSeveral ? 'zip' : 'mid';
  const change = (make: (now: HandOverChoice) => HandOverChoice) =>
    amend(({ handOver }) => [{ kind: 'hand-over', ...make(handOver) }]);
  const set = (some: Partial<HandOverChoice>) => change((now) => ({ ...now, ...some }));
  const setForm = (next: HandOverChoice['form']) =>
    change((now) => ({
      ...now,
      // A full file keeps what it has; the others start clean.
      form: next,
      programs: next === 'full' ? 'source' : 'none',
      channels: next === 'full' ? 'source' : 'each',
      click: next === 'clock' && now.click,
      type: next === 'full' && inventory.format === 0 ? 0 : 1,
    }));

  const { data: preview = null } = useOfPerformance(['midi preview'], (core, revision) =>
    core.previewMidi(revision),
  );

  const download = async () => {
    setBusy(true);
    try {
      const bytes = await core.deliverMidi(await latestBrief());
      const type = isSeveral ? 'application/zip' : 'audio/midi';
      saveFile(
        `${name.trim()}${form === 'clock' ? ' clock' : ''}.${extension}`,
        new Blob([bytes as BlobPart], { type }),
      );
    } catch (error) {
      notification.error({ title: 'The file was not written', description: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };

  const hasOthers = new Set(sources.map(({ source }) => source)).size > 1;
  const hasNotes = form !== 'clock';
  const parts = summary?.parts ?? [];
  const own = [
    ...(parts.some(({ strands }) => strands.length > 1)
      ? [{ value: 'techniques', label: 'for techniques of joined strands' }]
      : []),
    ...(parts.some(({ staves }) => staves > 1) ? [{ value: 'hands', label: 'for each hand' }] : []),
  ];
  return (
    <div className={styles.sheets}>
      <div className={styles.column}>
        <section className={styles.sheet} aria-label="Hand-over">
          <h1>Standard MIDI File for the sequencer</h1>
          <Radio.Group
            value={form}
            optionType="button"
            aria-label="Form"
            options={Object.entries(FORMS).map(([value, { label }]) => ({ value, label }))}
            onChange={(event) => setForm(event.target.value as HandOverChoice['form'])}
          />
          <p className="soft">{FORMS[form].says}</p>
          <div className={styles.rows}>
            <span>File name</span>
            <Input
              aria-label="File name"
              value={name}
              maxLength={120}
              suffix={`.${extension}`}
              onChange={(event) => setName(event.target.value)}
            />
            {form !== 'loops' && (
              <>
                <span>Type</span>
                <Radio.Group
                  aria-label="Type"
                  value={choice.type}
                  options={[
                    { value: 1, label: '1, a track each' },
                    { value: 0, label: '0, one track' },
                  ]}
                  onChange={(event) => set({ type: event.target.value as 0 | 1 })}
                />
              </>
            )}
            {form === 'loops' && (
              <>
                <span>Cut at</span>
                <div className={styles.row}>
                  <Select
                    aria-label="Cut at"
                    style={{ width: 150 }}
                    value={choice.loopBars === 0 ? 'markers' : 'bars'}
                    options={[
                      { value: 'markers', label: 'each marker' },
                      { value: 'bars', label: 'every few bars' },
                    ]}
                    onChange={(value) => set({ loopBars: value === 'markers' ? 0 : 4 })}
                  />
                  {choice.loopBars > 0 && (
                    <InputNumber
                      aria-label="Bars a loop"
                      min={1}
                      max={999}
                      precision={0}
                      value={choice.loopBars}
                      onChange={(bars) => bars && set({ loopBars: bars })}
                    />
                  )}
                </div>
              </>
            )}
            <span>Division</span>
            <Select
              aria-label="Ticks a quarter note"
              style={{ width: 220 }}
              value={choice.division ?? 0}
              options={[
                { value: 0, label: `as in the source` },
                ...[96, 120, 192, 240, 384, 480, 960, 1920].map((value) => ({
                  value,
                  label: `${value} ticks a quarter note`,
                })),
              ]}
              onChange={(division) =>
                change(({ division: _, ...rest }) => ({ ...rest, ...(division > 0 && { division }) }))
              }
            />
            {hasOthers && (
              <>
                <span>Played like</span>
                <PlayLike />
              </>
            )}
            {hasNotes && (
              <>
                {stock.kind !== 'score' && <TimesFields choice={choice} change={change} />}
                {stock.kind !== 'score' && own.length > 0 && (
                  <>
                    <span>Own tracks</span>
                    <Checkbox.Group
                      aria-label="Own tracks"
                      options={own}
                      value={choice.apart ?? []}
                      onChange={(apart) => set({ apart: apart as NonNullable<HandOverChoice['apart']> })}
                    />
                  </>
                )}
                {choice.type === 1 && form !== 'loops' && (
                  <>
                    <span>Files</span>
                    <Checkbox
                      checked={choice.files === 'each'}
                      onChange={({ target }) =>
                        change(({ files: _, ...rest }) => ({
                          ...rest,
                          ...(target.checked && { files: 'each' }),
                        }))
                      }
                    >
                      each track in a file of its own
                    </Checkbox>
                  </>
                )}
                <span>Controllers</span>
                <Select
                  aria-label="Resolution of controllers"
                  style={{ width: 220 }}
                  value={choice.thin ?? 0}
                  options={[
                    { value: 0, label: 'every event' },
                    ...[5, 10, 20, 50, 100].map((value) => ({ value, label: `one in ${value} ms at most` })),
                  ]}
                  onChange={(thin) =>
                    change(({ thin: _, ...rest }) => ({ ...rest, ...(thin > 0 && { thin }) }))
                  }
                />
                <span>Programs</span>
                <Select
                  aria-label="Programs"
                  style={{ width: 220 }}
                  value={choice.programs}
                  options={[
                    { value: 'none', label: 'none' },
                    { value: 'general-midi', label: 'General MIDI by instrument' },
                    { value: 'source', label: 'as in the source' },
                  ]}
                  onChange={(programs: HandOverChoice['programs']) => set({ programs })}
                />
                <span>Channels</span>
                <Select
                  aria-label="Channels"
                  style={{ width: 220 }}
                  value={choice.channels}
                  options={[
                    { value: 'each', label: 'one each, percussion on 10' },
                    { value: 'one', label: 'all on 1, percussion on 10' },
                    { value: 'source', label: 'as in the source' },
                  ]}
                  onChange={(channels: HandOverChoice['channels']) => set({ channels })}
                />
                <span>Parts</span>
                <Select
                  mode="multiple"
                  aria-label="Parts"
                  placeholder="all parts"
                  allowClear
                  maxTagCount={3}
                  optionFilterProp="label"
                  value={choice.strands ? [...choice.strands] : []}
                  options={(summary?.parts ?? []).map((part) => ({
                    value: part.leader,
                    label: part.name,
                  }))}
                  onChange={(strands: StrandId[]) =>
                    change(({ strands: _, ...rest }) => ({ ...rest, ...(strands.length > 0 && { strands }) }))
                  }
                />
              </>
            )}
            {form !== 'loops' && (
              <>
                <span>Lead-in</span>
                <div className={styles.row}>
                  <InputNumber
                    aria-label="Bars of lead-in"
                    min={0}
                    max={32}
                    precision={0}
                    style={{ width: 70 }}
                    value={choice.leadInBars}
                    onChange={(leadInBars) => leadInBars !== null && set({ leadInBars })}
                  />
                  <span>bars</span>
                  <Checkbox checked={choice.click} onChange={(event) => set({ click: event.target.checked })}>
                    Click track
                  </Checkbox>
                </div>
                <span>First bar is</span>
                <div className={styles.row}>
                  <FirstBarInput />
                  <span className="soft">A MIDI file has no bar numbers: send the bar table along.</span>
                </div>
              </>
            )}
          </div>
          <div className={styles.go}>
            <Button
              type="primary"
              icon={<DownloadOutlined />}
              loading={busy}
              disabled={!name.trim()}
              title={name.trim() ? undefined : 'The file needs a name.'}
              onClick={() => void download()}
            >
              Download
            </Button>
          </div>
        </section>
        {stock.kind === 'score' && hasNotes && <PlayingForm />}
      </div>
      <section className={styles.sheet} aria-label="Preview">
        <h2>What it will hold</h2>
        {preview ? <MidiPreview preview={preview} /> : <Spin />}
      </section>
    </div>
  );
}
