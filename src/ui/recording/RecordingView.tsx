'use client';

import { CaretRightFilled, UploadOutlined } from '@ant-design/icons';
import { App, Button, InputNumber, Popconfirm, Space, Upload } from 'antd';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { barAt, tickAt } from '../../core/model/clock';
import type { SoundFacts } from '../../core/recording/levels';
import type { LaidAlong } from '../../core/recording/offset';
import { dropRecording, keepRecording } from '../../store/recordings';
import { clockText } from '../common/names';
import { useAppearance } from '../common/Providers';
import { useSize } from '../common/useSize';
import { WorkProgress } from '../common/WorkProgress';
import { useOfPerformance, useSession } from '../job/session';
import { coloursOf } from '../note-bars/inks';
import { usePlayback } from '../playback/playback';
import { isShort } from './decode';
import { HeardPanel } from './HeardPanel';
import { layRecording, lookThrough } from './listen';
import styles from './RecordingView.module.css';
import { useAttach } from './useAttach';
import { useRecording } from './useRecording';
import { drawWave } from './wave';

const HEIGHT = 96;
/** Stretches that are off by no more keep to the tempo map; common practice, as two attacks so near are heard as one. */
const KEEPS = 0.04;

/** The listening reference: what it is, where it lies along the piece, and how far it keeps to it. */
export function RecordingView() {
  const { stock } = useSession('stock');
  const { recording } = useRecording();
  const { attach, isBusy } = useAttach();
  return (
    <section className={styles.view} aria-label="Recording">
      {stock.heard && <HeardPanel heard={stock.heard} />}
      {!stock.heard && (
        <p className="soft">
          A recording to listen to beside the notes: it is kept as it came, drawn above the note bars, and
          played alone or in turns with any reading. WAV, MP3, OGG, FLAC and what else the browser plays.
        </p>
      )}
      {!stock.heard && (
        <Upload
          accept="audio/*,.wav,.mp3,.ogg,.oga,.flac,.m4a,.aac,.opus"
          showUploadList={false}
          beforeUpload={(file) => {
            void attach(file);
            return false;
          }}
        >
          <Button icon={<UploadOutlined />} loading={isBusy}>
            {recording ? 'Another recording…' : 'Attach a recording…'}
          </Button>
        </Upload>
      )}
      {recording && <Attached key={recording.addedAt} />}
    </section>
  );
}

const decibels = (peak: number): string =>
  peak <= 0 ? 'silence' : `${(20 * Math.log10(peak)).toFixed(1)} dB at most`;

function factsText({ peak, clipped, silentBefore, lost }: SoundFacts): string {
  return [
    decibels(peak),
    ...(clipped > 0 ? [`clipped (${(clipped * 100).toFixed(clipped < 0.0001 ? 4 : 2)} % of it)`] : []),
    ...(lost ? [`${counted(lost, 'sample')} damaged, silent here`] : []),
    ...(silentBefore > 0.5 ? [`${silentBefore.toFixed(1)} s of silence first`] : []),
  ].join(', ');
}

function Attached() {
  const { core, job, stock, take, inventory } = useSession('core', 'job', 'stock', 'take', 'inventory');
  const { recording, offset, isLaid } = useRecording();
  const { notification } = App.useApp();
  const [share, setShare] = useState<number | null>(null);
  const [found, setFound] = useState<LaidAlong | null>(null);
  const work = useRef<AbortController | null>(null);
  useEffect(() => () => work.current?.abort(), []);
  const wanted = recording && !recording.heard && isShort(recording.seconds) ? recording : null;
  useEffect(() => {
    if (!wanted) return;
    // One that came with a backup is looked through when it is first looked at.
    lookThrough(wanted.file).then(
      (outline) => keepRecording({ ...wanted, heard: outline }),
      (error: Error) =>
        notification.error({ title: 'The recording was not looked through', description: error.message }),
    );
  }, [wanted, notification]);
  if (!recording) return null;
  const { name, file, seconds, heard } = recording;
  const lay = (next: number) => take({ kind: 'reference', offset: Math.round(next * 1000) / 1000 });

  const find = async () => {
    const controller = new AbortController();
    work.current = controller;
    setShare(0);
    try {
      const timeline = await core.timeline(stock.revision, { heard: 'cleaned' });
      const along = await layRecording(file, timeline, setShare, controller.signal);
      if (controller.signal.aborted) return;
      // It is not said to lie there before it does.
      if (along?.sure && !(await lay(along.offset))) return;
      setFound(along);
      if (!along)
        notification.warning({
          title: 'The recording was not laid',
          description: 'Nothing begins in it, or in the piece, that could be laid over the other.',
        });
    } catch (error) {
      notification.error({ title: 'The recording was not laid', description: (error as Error).message });
    } finally {
      setShare(null);
    }
  };

  return (
    <>
      <h2>{name}</h2>
      <p className="figures">
        {clockText(seconds)}, {(file.size / 1e6).toFixed(1)} MB
        {heard
          ? ` · ${factsText(heard.facts)}`
          : wanted
            ? ' · being looked through'
            : ' · too long to be looked through: it plays, and is laid by hand'}
        {!stock.heard && ` · the piece takes ${clockText(inventory.clock.seconds)}`}
      </p>
      {heard && <Outline offset={offset} />}
      <Space wrap>
        {!stock.heard && (
          <>
            <label>
              The piece begins at{' '}
              <InputNumber
                aria-label="Seconds of the recording at which the piece begins"
                size="small"
                value={offset}
                min={-36_000}
                max={36_000}
                step={0.01}
                precision={3}
                suffix="s"
                style={{ width: 120 }}
                onChange={(value) => value !== null && lay(value)}
              />
            </label>
            <Button
              size="small"
              disabled={!heard || share !== null}
              title={heard ? 'By what begins to sound in both' : 'It is too long to be looked through'}
              onClick={() => void find()}
            >
              Find it
            </Button>
          </>
        )}
        {share !== null && (
          <WorkProgress share={share} label="Recording listened to" onStop={() => work.current?.abort()} />
        )}
        <Listen />
        {!stock.heard && (
          <Popconfirm
            title="Take the recording out of the job?"
            description="The file itself stays where you have it."
            okText="Take it out"
            onConfirm={() => dropRecording(job.id)}
          >
            <Button size="small">Take out…</Button>
          </Popconfirm>
        )}
      </Space>
      {!isLaid && !found && (
        <p className="soft">It is not laid yet: the piece begins where the recording does.</p>
      )}
      {found && <Told found={found} onLay={lay} />}
    </>
  );
}

/** Plays it, alone or in turns. */
function Listen() {
  const { change, heard, other, isPlaying, toggle } = usePlayback();
  const isAlone = heard === 'recording' && other === null;
  return (
    <>
      <Button
        size="small"
        icon={<CaretRightFilled />}
        disabled={isPlaying}
        onClick={isAlone ? toggle : () => change({ heard: 'recording', other: null })}
      >
        {isAlone ? 'Play' : 'Hear it alone'}
      </Button>
      <Button
        size="small"
        disabled={isPlaying || other === 'recording'}
        onClick={() => change({ heard: heard === 'recording' ? 'cleaned' : heard, other: 'recording' })}
      >
        Hear it in turns
      </Button>
    </>
  );
}

/** What came out of looking for its place. */
function Told({ found, onLay }: { found: LaidAlong; onLay: (offset: number) => void }) {
  const { data } = useOfPerformance(
    ['clock'],
    async (core, revision) => (await core.noteBars(revision, false)).clock,
  );
  const { offset, sure, likeness, stretches } = found;
  if (!sure)
    return (
      <p>
        <span className="rubric">No place is clearly better than others.</span> The best is{' '}
        {offset.toFixed(3)} s: is it another piece, or played at another tempo?{' '}
        <Button size="small" onClick={() => onLay(offset)}>
          Lay it there
        </Button>
      </p>
    );
  const off = stretches.filter(({ late }) => Math.abs(late) > KEEPS);
  return (
    <div>
      <p>
        Found at {offset.toFixed(3)} s ({Math.round(likeness * 100)} % alike).{' '}
        {stretches.length === 0
          ? 'How far it keeps to the tempo map cannot be told.'
          : off.length === 0
            ? 'It keeps to the tempo map all along.'
            : ''}
      </p>
      {off.length > 0 && data && (
        <>
          <p className="rubric">It does not keep to the tempo map:</p>
          <ul className={styles.stretches}>
            {off.map(({ from, to, late }) => (
              <li key={from}>
                bars {barAt(data, tickAt(data, from)).number}–{barAt(data, tickAt(data, to)).number}:{' '}
                {Math.round(Math.abs(late) * 1000)} ms {late > 0 ? 'later' : 'earlier'}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** The whole of it, and which part of it the piece is. */
function Outline({ offset }: { offset: number }) {
  const { inventory } = useSession('inventory');
  const { recording } = useRecording();
  const { isNight } = useAppearance();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const levels = recording?.heard?.levels;
  const end = inventory.clock.seconds;
  const first = Math.min(0, offset);
  const span = Math.max(recording?.seconds ?? 0, offset + end) - first;
  useLayoutEffect(() => {
    if (!canvas.current || !levels || width === 0) return;
    const scale = window.devicePixelRatio || 1;
    Object.assign(canvas.current, { width: width * scale, height: HEIGHT * scale });
    const context = canvas.current.getContext('2d');
    if (!context) return;
    context.setTransform(scale, 0, 0, scale, 0, 0);
    const colours = coloursOf(isNight);
    const xOf = (seconds: number) => ((seconds - first) / span) * width;
    drawWave(context, width, HEIGHT, levels, (x) => first + (x / width) * span, {
      outline: colours.soft,
      energy: colours.ink,
      line: colours.line,
    });
    context.fillStyle = colours.accent;
    context.globalAlpha = 0.14;
    context.fillRect(xOf(offset), 0, xOf(offset + end) - xOf(offset), HEIGHT);
    context.globalAlpha = 1;
    for (const at of [offset, offset + end]) context.fillRect(Math.round(xOf(at)) - 1, 0, 2, HEIGHT);
  }, [levels, width, isNight, offset, end, first, span]);
  return (
    <div ref={box} className={styles.outline}>
      <canvas
        ref={canvas}
        style={{ width, height: HEIGHT }}
        role="img"
        aria-label={`Outline of the recording; the piece lies from ${clockText(Math.max(0, offset))} to ${clockText(Math.max(0, offset + end))}`}
      />
    </div>
  );
}
