'use client';

import { Spin } from 'antd';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { barAt, secondsAt, tickAt } from '../../core/model/clock';
import type { NoteBarsData } from '../../core/workbench/note-bars';
import { Panel } from '../common/Panel';
import { useAppearance } from '../common/Providers';
import { useSize } from '../common/useSize';
import { useOfPerformance, useSession } from '../job/session';
import type { NoteEdit } from '../notes/useNoteEdits';
import { usePlayback } from '../playback/playback';
import { usePicture } from '../recording/usePicture';
import { useRecording } from '../recording/useRecording';
import { drawWave } from '../recording/wave';
import { barsEditOf } from './BarsEditing';
import { BarsInspector } from './BarsInspector';
import { BarsRuler } from './BarsRuler';
import { BarsToolbar } from './BarsToolbar';
import {
  drawCurve,
  drawLane,
  drawOver,
  drawRuler,
  LANE_HEIGHT,
  laneChoices,
  RULER_HEIGHT,
  WAVE_HEIGHT,
} from './draw';
import { coloursOf, inkOf, inksOf } from './inks';
import styles from './NoteBars.module.css';
import { carriedOver, noteAt, stripAt, union } from './picking';
import { RecordingStrip } from './RecordingStrip';
import { drawNotes } from './raster';
import { StripName } from './StripName';
import { useCurve } from './useCurve';
import { usePointing } from './usePointing';
import {
  highestOf,
  keyOfY,
  layOutStrips,
  type NoteSelection,
  ROWS,
  tickOfX,
  type View,
  within,
  xOf,
  zoomed,
} from './view';

const NOTHING: NoteSelection = new Map();
const ZOOM_STEP = 1.25;
/** Names are rendered anew each time this many pixels were scrolled. */
const PAGE = 240;

/** The performance drawn as bars over time, strand by strand, with lanes and exact figures. */
export function NoteBars() {
  const [varied, setVaried] = useState(true);
  const { data, why } = useOfPerformance(['note bars', varied], (core, revision) =>
    core.noteBars(revision, varied),
  );

  if (!data)
    return why !== null ? null : (
      <p className="soft">
        <Spin /> Drawing the notes
      </p>
    );
  if (data.strands.length === 0) return <p className="soft">The source has no notes to draw.</p>;
  return <Drawing data={data} varied={varied} onVaried={setVaried} />;
}

function Drawing({
  data,
  varied,
  onVaried,
}: {
  data: NoteBarsData;
  varied: boolean;
  onVaried: (varied: boolean) => void;
}) {
  const playback = usePlayback();
  const { isNight } = useAppearance();
  const { take, stock, core, whenWritten } = useSession('take', 'stock', 'core', 'whenWritten');
  const { recording, offset } = useRecording();
  const [hasSound, setSound] = useState(stock.heard !== null);
  const picture = usePicture(recording, hasSound);
  const levels = recording?.heard?.levels;
  /** As the recording is being dragged. */
  const tried = useRef(offset);
  const [rows, setRows] = useState(1);
  const [active, setActive] = useState<number | null>(null);
  const [notes, setNotes] = useState<NoteSelection>(NOTHING);
  // An edit may put notes in another order: those that were chosen stay chosen.
  const [drawn, setDrawn] = useState(data);
  if (drawn !== data) {
    setDrawn(data);
    setNotes(carriedOver(notes, drawn, data));
  }
  // Bars chosen before this view was left are still what playback goes by.
  const [bars, setBars] = useState<readonly [number, number] | null>(() =>
    playback.range
      ? [Math.round(tickAt(data.clock, playback.range[0])), Math.round(tickAt(data.clock, playback.range[1]))]
      : null,
  );
  const [lane, setLane] = useState('velocity');
  const [top, setTop] = useState(0);
  const row = ROWS[rows]!;
  const { strips, height: pageHeight } = useMemo(() => layOutStrips(data.strands, row), [data, row]);
  const view = useRef<View>({ start: 0, ticksPerPixel: 0, top: 0, row });
  const band = useRef<[number, number, number, number] | null>(null);
  const field = useRef<HTMLDivElement>(null);
  const size = useSize(field);
  const page = useRef<HTMLDivElement>(null);
  const [ruler, wave, bodies, over, laneCanvas] = [
    useRef<HTMLCanvasElement>(null),
    useRef<HTMLCanvasElement>(null),
    useRef<HTMLCanvasElement>(null),
    useRef<HTMLCanvasElement>(null),
    useRef<HTMLCanvasElement>(null),
  ];
  const image = useRef<ImageData | null>(null);
  const due = useRef(0);
  const activeStrand = active === null ? undefined : data.strands[active];
  const choices = laneChoices(activeStrand);
  const shownLane = choices.some((choice) => choice.value === lane) ? lane : 'velocity';

  // Colours are read from the page, which changes them with the appearance.
  const colours = useMemo(() => ({ ...coloursOf(isNight), inks: inksOf(isNight) }), [isNight]);

  const repaint = useRef(() => {});
  const curve = useCurve(data, activeStrand, shownLane, view, () => repaint.current());
  const latestCurve = useRef(curve);
  latestCurve.current = curve;

  const paint = useCallback(
    (what: 'all' | 'over' | 'lane' = 'all') => {
      const { width, height } = size;
      if (width === 0 || height === 0 || !bodies.current || !over.current || !ruler.current) return;
      const scale = window.devicePixelRatio || 1;
      const now = view.current;
      if (now.ticksPerPixel === 0) now.ticksPerPixel = (data.end * 1.02) / width;
      const context = (canvas: HTMLCanvasElement) => {
        const made = canvas.getContext('2d')!;
        made.setTransform(scale, 0, 0, scale, 0, 0);
        return made;
      };
      if (what === 'all') {
        const [w, h] = [bodies.current.width, bodies.current.height];
        if (w === 0 || h === 0) return;
        const plain = bodies.current.getContext('2d')!;
        if (!image.current || image.current.width !== w || image.current.height !== h)
          image.current = plain.createImageData(w, h);
        const pixels = new Uint32Array(image.current.data.buffer);
        const behind = picture && {
          picture,
          secondsAt: (x: number) => secondsAt(data.clock, tickOfX(now, x)) + tried.current,
        };
        drawNotes(pixels, w, h, scale, now, strips, colours.inks, behind);
        plain.putImageData(image.current, 0, 0);
        drawRuler(context(ruler.current), width, now, data, bars, colours);
        if (levels && wave.current)
          drawWave(
            context(wave.current),
            width,
            WAVE_HEIGHT,
            levels,
            (x) => secondsAt(data.clock, tickOfX(now, x)) + tried.current,
            { outline: colours.soft, energy: colours.ink, line: colours.line },
          );
      }
      if (what !== 'over' && laneCanvas.current) {
        const drawing = context(laneCanvas.current);
        drawLane(drawing, width, now, data, activeStrand, shownLane, inkOf(isNight, active ?? 0), colours);
        const { isDrawable, points, chosen } = latestCurve.current;
        if (isDrawable) drawCurve(drawing, width, now, points(), chosen, highestOf(shownLane), colours);
      }
      if (what === 'lane') return;
      const playhead = tickAt(data.clock, playback.position());
      drawOver(
        context(over.current),
        width,
        height,
        now,
        data,
        strips,
        {
          bars,
          notes,
          active,
          playhead: playhead > 0 || playback.isPlaying ? playhead : null,
          band: band.current,
        },
        colours,
      );
    },
    [
      size,
      strips,
      colours,
      data,
      bars,
      notes,
      active,
      activeStrand,
      shownLane,
      isNight,
      playback,
      levels,
      picture,
      bodies,
      over,
      ruler,
      wave,
      laneCanvas,
    ],
  );

  const latestPaint = useRef(paint);
  latestPaint.current = paint;
  repaint.current = () => requestAnimationFrame(() => latestPaint.current('lane'));
  const schedule = useCallback((what: 'all' | 'over' = 'all') => {
    if (what === 'all') cancelAnimationFrame(due.current);
    else if (due.current !== 0) return;
    due.current = requestAnimationFrame(() => {
      due.current = 0;
      latestPaint.current(what);
    });
  }, []);

  /** Moves the view; names move along when it scrolls. */
  const look = useCallback(
    (next: View) => {
      const limit = Math.max(0, pageHeight - size.height);
      const kept = { ...within(next, data.end, size.width), top: Math.min(Math.max(0, next.top), limit) };
      view.current = kept;
      if (page.current) page.current.style.transform = `translateY(${-kept.top}px)`;
      setTop(Math.floor(kept.top / PAGE) * PAGE);
      schedule();
    },
    [pageHeight, size, data.end, schedule],
  );

  useLayoutEffect(() => {
    const scale = window.devicePixelRatio || 1;
    const fit = (canvas: HTMLCanvasElement | null, height: number) => {
      if (!canvas || size.width === 0) return;
      const [w, h] = [Math.round(size.width * scale), Math.round(height * scale)];
      if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
      Object.assign(canvas.style, { width: `${size.width}px`, height: `${height}px` });
    };
    fit(ruler.current, RULER_HEIGHT);
    fit(wave.current, WAVE_HEIGHT);
    fit(bodies.current, size.height);
    fit(over.current, size.height);
    fit(laneCanvas.current, LANE_HEIGHT);
    view.current = { ...view.current, row };
    look(view.current);
  }, [size, row, paint, look, wave]);

  useEffect(() => {
    tried.current = offset;
    schedule();
  }, [offset, schedule]);

  useEffect(() => {
    if (!playback.isPlaying) return schedule('over');
    let frame = 0;
    const follow = () => {
      const x = xOf(view.current, tickAt(data.clock, playback.position()));
      // The page turns as the playhead leaves it.
      if (playback.follow && (x > size.width * 0.96 || x < 0))
        look({
          ...view.current,
          start: view.current.start + (x - size.width * 0.06) * view.current.ticksPerPixel,
        });
      else latestPaint.current('over');
      frame = requestAnimationFrame(follow);
    };
    frame = requestAnimationFrame(follow);
    return () => cancelAnimationFrame(frame);
  }, [playback, data, size, look, schedule]);

  useEffect(() => {
    const target = field.current;
    if (!target) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const x = event.offsetX;
      const now = view.current;
      if (event.ctrlKey || event.metaKey)
        look(zoomed(now, x, event.deltaY > 0 ? ZOOM_STEP : 1 / ZOOM_STEP, data.end, size.width));
      else if (event.shiftKey) look({ ...now, start: now.start + event.deltaY * now.ticksPerPixel });
      else look({ ...now, start: now.start + event.deltaX * now.ticksPerPixel, top: now.top + event.deltaY });
    };
    target.addEventListener('wheel', onWheel, { passive: false });
    return () => target.removeEventListener('wheel', onWheel);
  }, [data.end, size.width, look]);

  const pointing = usePointing({
    view,
    band,
    look,
    zoomedAt: (x, factor) => zoomed(view.current, x, factor, data.end, size.width),
    onBand: () => schedule('over'),
    onPick: ({ active: picked, notes: found, adds }) => {
      if (picked !== undefined) setActive(picked);
      setNotes(adds ? union(notes, found) : found);
      schedule('over');
    },
    strips,
  });

  const chooseBars = (from: number, to: number) => {
    const [first, last] = [barAt(data.clock, Math.min(from, to)), barAt(data.clock, Math.max(from, to))];
    const range: [number, number] = [first.start, last.start + last.length];
    setBars(range);
    playback.setRange([secondsAt(data.clock, range[0]), secondsAt(data.clock, range[1])]);
  };
  const clearBars = () => {
    setBars(null);
    playback.setRange(null);
  };

  /** Goes to a note of the active strand and brings it into sight. */
  const step = (by: 1 | -1) => {
    const index = active ?? 0;
    const strand = data.strands[index]!;
    const [only] = notes.get(index) ?? [];
    const edge = strand.on.findIndex((on) => on >= view.current.start);
    const next =
      only === undefined ? Math.max(0, edge) : Math.min(strand.on.length - 1, Math.max(0, only + by));
    setActive(index);
    setNotes(new Map([[index, new Set([next])]]));
    const x = xOf(view.current, strand.on[next]!);
    if (x < 0 || x > size.width - 20)
      look({ ...view.current, start: strand.on[next]! - size.width * 0.3 * view.current.ticksPerPixel });
  };

  const editor = useRef<((edit: NoteEdit) => void) | null>(null);

  /** Adds a note where none was heard; it is chosen then, to be moved by keys. */
  const addNote = (index: number, on: number, key: number, length: number) => {
    const strand = data.strands[index];
    if (!strand || strand.unpitched) return;
    const request = { notes: [], edit: 'add', strand: strand.id, on, off: on + length, key };
    void whenWritten()
      .then(async ({ revision }) => take(...(await core.editNotes(revision, request))))
      // The page says by itself that the score could not be written.
      .catch(() => {});
    setActive(index);
    setNotes(NOTHING);
  };
  /** A beat at a tick, in ticks. */
  const beatAt = (tick: number): number => {
    const { meter } = barAt(data.clock, Math.max(0, tick));
    return (data.clock.ticksPerQuarter * 4) / meter.denominator;
  };
  const addAt = ({ nativeEvent: { offsetX, offsetY } }: React.MouseEvent) => {
    const strip = stripAt(strips, view.current, offsetY);
    if (!strip || noteAt(strips, view.current, offsetX, offsetY)) return;
    const key = keyOfY(strip, offsetY + view.current.top, view.current.row);
    if (key < strip.strand.lowest || key > strip.strand.highest) return;
    const on = tickOfX(view.current, offsetX);
    addNote(strip.index, on, key, beatAt(on));
  };
  /** After the chosen note one more of its key and length. */
  const addBehind = () => {
    const index = active ?? -1;
    const [only] = notes.get(index) ?? [];
    const strand = data.strands[index];
    if (!strand || only === undefined) return;
    addNote(index, strand.off[only]!, strand.key[only]!, strand.off[only]! - strand.on[only]!);
  };

  const onKeyDown = (event: React.KeyboardEvent) => {
    const edit = notes.size > 0 ? barsEditOf(event) : undefined;
    if (edit && editor.current) {
      event.preventDefault();
      event.stopPropagation();
      editor.current(edit);
      if (edit === 'leave-out') setNotes(NOTHING);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const now = view.current;
    const across = size.width * (event.shiftKey ? 0.8 : 0.15) * now.ticksPerPixel;
    const moves: Record<string, () => void> = {
      ArrowLeft: () => look({ ...now, start: now.start - across }),
      ArrowRight: () => look({ ...now, start: now.start + across }),
      ArrowUp: () => look({ ...now, top: now.top - 60 }),
      ArrowDown: () => look({ ...now, top: now.top + 60 }),
      PageUp: () => look({ ...now, top: now.top - size.height * 0.9 }),
      PageDown: () => look({ ...now, top: now.top + size.height * 0.9 }),
      Home: () => look({ ...now, start: 0 }),
      End: () => look({ ...now, start: data.end }),
      '+': () => look(zoomed(now, size.width / 2, 1 / ZOOM_STEP, data.end, size.width)),
      '-': () => look(zoomed(now, size.width / 2, ZOOM_STEP, data.end, size.width)),
      '.': () => step(1),
      ',': () => step(-1),
      Insert: addBehind,
      Escape: () => {
        setNotes(NOTHING);
        clearBars();
      },
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    move();
  };

  const inSight = strips.filter(
    (strip) => strip.top + strip.height > top - PAGE && strip.top < top + size.height + 2 * PAGE,
  );

  return (
    <section className={styles.stage} aria-label="Note bars" data-recording={levels !== undefined}>
      <BarsToolbar
        data={data}
        rows={rows}
        onRows={setRows}
        lane={shownLane}
        lanes={choices}
        onLane={setLane}
        varied={varied}
        onVaried={onVaried}
        sound={levels ? hasSound : null}
        onSound={setSound}
        onZoom={(factor) => look(zoomed(view.current, size.width / 2, factor, data.end, size.width))}
        onWhole={() => look({ ...view.current, start: 0, ticksPerPixel: (data.end * 1.02) / size.width })}
      />
      <div
        className={styles.names}
        onScroll={({ currentTarget }) => {
          // What is focused out of sight is brought in by moving the whole view.
          const { scrollTop } = currentTarget;
          if (scrollTop === 0) return;
          currentTarget.scrollTop = 0;
          look({ ...view.current, top: view.current.top + scrollTop });
        }}
      >
        <div className={`${styles.corner} soft`}>Strands</div>
        {levels && <div className={`${styles.waveName} soft`}>Recording</div>}
        <div ref={page} className={styles.page}>
          {inSight.map((strip) => (
            <StripName
              key={strip.strand.id}
              strip={strip}
              isActive={strip.index === active}
              onPick={() => {
                setActive(strip.index);
                schedule();
              }}
            />
          ))}
        </div>
        <div className={`${styles.laneName} soft`} style={{ height: LANE_HEIGHT + 1 }}>
          {choices.find((choice) => choice.value === shownLane)?.label}
        </div>
      </div>
      <div className={styles.field}>
        <BarsRuler
          ref={ruler}
          clock={data.clock}
          bars={bars}
          tickAt={(x) => tickOfX(view.current, x)}
          onBars={chooseBars}
          onKeyDown={onKeyDown}
        />
        {levels && (
          <RecordingStrip
            ref={wave}
            isFixed={stock.heard !== null}
            offset={offset}
            secondsAt={(x) => secondsAt(data.clock, tickOfX(view.current, x))}
            onTry={(next) => {
              tried.current = next;
              schedule();
            }}
            onLay={(next) => take({ kind: 'reference', offset: Math.round(next * 1000) / 1000 })}
          />
        )}
        {/* biome-ignore lint/a11y/useSemanticElements: notes are drawn; keys move the view and step from note to note */}
        <div
          ref={field}
          role="group"
          aria-roledescription="drawing"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the drawing takes keys
          tabIndex={0}
          aria-label="Notes over time. Arrows move, plus and minus zoom, full stop and comma step from note to note. With Alt, up and down move the chosen notes by a semitone; with Control, left and right move them in time, with Shift too they change their length; Delete leaves them out, Insert adds one behind."
          className={styles.strips}
          {...pointing}
          onDoubleClick={addAt}
          onKeyDown={onKeyDown}
        >
          <canvas ref={bodies} data-testid="note-bars" />
          <canvas ref={over} />
        </div>
        {/* biome-ignore lint/a11y/useSemanticElements: a curve is drawn; keys put, move and take out its points */}
        <div
          role="group"
          aria-roledescription="curve"
          tabIndex={curve.isDrawable ? 0 : -1}
          aria-label={
            curve.isDrawable
              ? 'Lane. Press to put a point, drag to draw. Enter puts a point at the playhead, arrows choose and move it, Delete takes it out.'
              : 'Lane'
          }
          className={styles.lane}
          data-drawable={curve.isDrawable}
          {...curve.handlers}
        >
          <canvas ref={laneCanvas} />
        </div>
      </div>
      <Panel name="The inspector">
        <BarsInspector
          data={data}
          notes={notes}
          bars={bars}
          active={active}
          lane={shownLane}
          curve={curve}
          editor={editor}
          onClear={() => {
            setNotes(NOTHING);
            clearBars();
          }}
        />
      </Panel>
    </section>
  );
}
