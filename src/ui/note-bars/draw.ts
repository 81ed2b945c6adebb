import type { CurvePoint } from '../../core/edit/curves';
import { barAt, barOf, tempoAt } from '../../core/model/clock';
import { laneName } from '../../core/model/lanes';
import type { LaneData, NoteBarsData, StrandBars } from '../../core/workbench/note-bars';
import { notesBetween, type Rgb } from './raster';
import { barLines, lowerBound, type Strip, type View, xOf, yOfKey } from './view';

/** Colours of the drawing, from the page's own variables. */
export interface Colours {
  paper: string;
  ink: string;
  soft: string;
  line: string;
  accent: string;
  wash: string;
}

const cssRgb = (rgb: Rgb): string => `rgb(${rgb.join(' ')})`;

export const RULER_HEIGHT = 40;
export const WAVE_HEIGHT = 46;
export const LANE_HEIGHT = 92;

/** Bar numbers, meters, tempos and markers above the strips. */
export function drawRuler(
  context: CanvasRenderingContext2D,
  width: number,
  view: View,
  { clock, markers }: NoteBarsData,
  selected: readonly [number, number] | null,
  colours: Colours,
): void {
  context.clearRect(0, 0, width, RULER_HEIGHT);
  if (selected) {
    context.fillStyle = colours.wash;
    const from = xOf(view, selected[0]);
    context.fillRect(from, 0, xOf(view, selected[1]) - from, RULER_HEIGHT);
  }
  context.textBaseline = 'alphabetic';
  context.strokeStyle = colours.line;
  context.fillStyle = colours.ink;
  context.font = "11px 'Inter Variable', sans-serif";
  for (const { tick, number } of barLines(clock, view, width, 44)) {
    const x = Math.round(xOf(view, tick)) + 0.5;
    context.beginPath();
    context.moveTo(x, 24);
    context.lineTo(x, RULER_HEIGHT);
    context.stroke();
    context.fillText(String(number), x + 4, 35);
  }
  context.font = "italic 11px 'Inter Variable', sans-serif";
  const said: { x: number; text: string }[] = [];
  let free = Number.NEGATIVE_INFINITY;
  const changes = [
    ...markers.map(({ tick, text }) => ({ tick, text: `¶ ${text}` })),
    ...clock.meters
      .map(({ tick, meter }) => ({ tick, text: `${meter.numerator}/${meter.denominator}` }))
      .filter(({ text }, at, all) => text !== all[at - 1]?.text),
    ...clock.tempos.map(({ tick, microsPerQuarter }) => ({
      tick,
      text: `♩${Math.round(6e7 / microsPerQuarter)}`,
    })),
  ].sort((a, b) => a.tick - b.tick);
  for (const { tick, text } of changes) {
    const x = xOf(view, tick);
    if (x < -80 || x > width) continue;
    said.push({ x: Math.max(x, free), text });
    free = Math.max(x, free) + context.measureText(text).width + 8;
  }
  context.fillStyle = colours.soft;
  for (const { x, text } of said) if (x < width) context.fillText(text, x + 2, 15);
}

/** Bar lines, selection and playhead over the strips. */
export function drawOver(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  view: View,
  data: NoteBarsData,
  strips: readonly Strip[],
  state: {
    bars: readonly [number, number] | null;
    notes: ReadonlyMap<number, ReadonlySet<number>>;
    active: number | null;
    playhead: number | null;
    band: readonly [number, number, number, number] | null;
  },
  colours: Colours,
): void {
  context.clearRect(0, 0, width, height);
  const { clock } = data;
  if (state.bars) {
    context.fillStyle = colours.accent;
    context.globalAlpha = 0.1;
    const from = xOf(view, state.bars[0]);
    context.fillRect(from, 0, xOf(view, state.bars[1]) - from, height);
    context.globalAlpha = 1;
  }
  context.strokeStyle = colours.line;
  const first = barAt(clock, Math.max(0, view.start));
  const pixels = first.length / view.ticksPerPixel;
  if (pixels > 70) {
    context.globalAlpha = 0.45;
    context.beginPath();
    for (let index = first.index; ; index++) {
      const bar = barOf(clock, index);
      if (xOf(view, bar.start) > width) break;
      const beat = (clock.ticksPerQuarter * 4) / bar.meter.denominator;
      for (let at = beat; at < bar.length; at += beat) {
        const x = Math.round(xOf(view, bar.start + at)) + 0.5;
        context.moveTo(x, 0);
        context.lineTo(x, height);
      }
    }
    context.setLineDash([1, 3]);
    context.stroke();
    context.setLineDash([]);
    context.globalAlpha = 1;
  }
  context.beginPath();
  for (const { tick } of barLines(clock, view, width, 16)) {
    const x = Math.round(xOf(view, tick)) + 0.5;
    context.moveTo(x, 0);
    context.lineTo(x, height);
  }
  context.stroke();
  context.strokeStyle = colours.accent;
  for (const [index, notes] of state.notes) {
    const strip = strips[index];
    if (!strip) continue;
    const { on, off, key } = strip.strand;
    context.lineWidth = 2;
    for (const note of notes) {
      const x = xOf(view, on[note]!);
      const end = xOf(view, off[note]!);
      if (end < 0 || x > width) continue;
      const y = yOfKey(strip, key[note]!, view.row) - view.top;
      context.strokeRect(x - 1.5, y - 1.5, Math.max(2, end - x) + 3, Math.max(2, view.row - 1) + 3);
    }
    context.lineWidth = 1;
  }
  const active = state.active === null ? undefined : strips[state.active];
  if (active) {
    context.fillStyle = colours.accent;
    context.fillRect(0, active.top - view.top, 3, active.height);
  }
  if (state.band) {
    const [x0, y0, x1, y1] = state.band;
    context.strokeStyle = colours.accent;
    context.setLineDash([4, 3]);
    context.strokeRect(Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0), Math.abs(y1 - y0));
    context.setLineDash([]);
  }
  if (state.playhead !== null) {
    const x = xOf(view, state.playhead);
    context.fillStyle = colours.accent;
    if (x >= 0 && x <= width) context.fillRect(x - 0.75, 0, 1.5, height);
  }
}

const VELOCITIES = 'velocity';
const TEMPO = 'tempo';

/** Lanes that are there to be drawn in, whether the strand has them or not. */
const OFFERED = ['cc1', 'cc11'];

/** What a lane can show: velocities and tempo always, what the strand has, and what is mostly drawn. */
export const laneChoices = (strand: StrandBars | undefined): { value: string; label: string }[] => {
  const own = strand?.lanes ?? [];
  return [
    { value: VELOCITIES, label: 'Velocity' },
    { value: TEMPO, label: 'Tempo' },
    ...own.map(({ lane, name, ticks }) => ({
      value: lane,
      label: `${name} ×${ticks.length.toLocaleString('en')}`,
    })),
    ...(strand ? OFFERED : [])
      .filter((lane) => !own.some((each) => each.lane === lane))
      .map((lane) => ({ value: lane, label: `${laneName(lane)}, nothing yet` })),
  ];
};

const FLOOR = LANE_HEIGHT - 8;
const ROOM = LANE_HEIGHT - 18;

/** The height of a value in the lane, and the value at a height. Pixels from its top. */
export const laneYOf = (value: number, highest: number): number => FLOOR - (ROOM * value) / highest;
export const laneValueAt = (y: number, highest: number): number =>
  Math.max(0, Math.min(highest, Math.round(((FLOOR - y) / ROOM) * highest)));

/** A drawn curve over its lane: lines and points, the chosen one filled. */
export function drawCurve(
  context: CanvasRenderingContext2D,
  width: number,
  view: View,
  points: readonly CurvePoint[],
  chosen: number | null,
  highest: number,
  colours: Colours,
): void {
  context.strokeStyle = colours.accent;
  context.lineWidth = 1.5;
  context.beginPath();
  for (const [index, { tick, value }] of points.entries()) {
    const [x, y] = [xOf(view, tick), laneYOf(value, highest)];
    if (index === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  }
  context.stroke();
  for (const { tick, value } of points) {
    const x = xOf(view, tick);
    if (x < -5 || x > width + 5) continue;
    context.fillStyle = tick === chosen ? colours.accent : colours.paper;
    context.beginPath();
    context.rect(x - 3, laneYOf(value, highest) - 3, 6, 6);
    context.fill();
    context.stroke();
  }
  context.lineWidth = 1;
}

/** One lane below the strips: velocities as stems, controllers and tempo as steps. */
export function drawLane(
  context: CanvasRenderingContext2D,
  width: number,
  view: View,
  data: NoteBarsData,
  strand: StrandBars | undefined,
  lane: string,
  ink: Rgb,
  colours: Colours,
): void {
  context.clearRect(0, 0, width, LANE_HEIGHT);
  const [floor, room] = [FLOOR, ROOM];
  context.strokeStyle = colours.line;
  context.beginPath();
  context.moveTo(0, floor + 0.5);
  context.lineTo(width, floor + 0.5);
  context.stroke();
  if (lane === TEMPO) {
    const tempos = data.clock.tempos.map(({ microsPerQuarter }) => 6e7 / microsPerQuarter);
    const highest = Math.max(...tempos) * 1.1;
    const lowest = Math.min(...tempos) * 0.8;
    steps(
      context,
      width,
      view,
      data.clock.tempos.map((tempo) => tempo.tick),
      (at) => floor - room * ((tempos[at]! - lowest) / (highest - lowest || 1)),
      colours.ink,
    );
    context.fillStyle = colours.soft;
    context.font = "11px 'Inter Variable', sans-serif";
    context.fillText(`${Math.round(6e7 / tempoAt(data.clock, Math.max(0, view.start)))} a minute`, 6, 12);
    return;
  }
  if (!strand) return;
  if (lane === VELOCITIES) {
    context.fillStyle = cssRgb(ink);
    const [first, last] = notesBetween(strand, view.start, view.start + width * view.ticksPerPixel);
    // Far out only the loudest of each pixel shows.
    const loudest = new Uint8Array(Math.ceil(width) + 1);
    for (let at = first; at < last; at++) {
      const x = Math.floor(xOf(view, strand.on[at]!));
      if (x >= 0 && x < loudest.length) loudest[x] = Math.max(loudest[x]!, strand.velocity[at]!);
    }
    loudest.forEach((velocity, x) => {
      if (velocity > 0) context.fillRect(x, floor - (room * velocity) / 127, 2, (room * velocity) / 127);
    });
    return;
  }
  const found = strand.lanes.find((each) => each.lane === lane);
  if (found) drawValues(context, width, view, found, floor, room, cssRgb(ink));
}

function drawValues(
  context: CanvasRenderingContext2D,
  width: number,
  view: View,
  { ticks, values, highest }: LaneData,
  floor: number,
  room: number,
  colour: string,
): void {
  steps(context, width, view, ticks, (at) => floor - (room * values[at]!) / highest, colour);
  const first = Math.max(0, lowerBound(ticks, view.start) - 1);
  const last = lowerBound(ticks, view.start + width * view.ticksPerPixel);
  if (last - first > width / 3) return;
  context.fillStyle = colour;
  for (let at = first; at < last; at++)
    context.fillRect(xOf(view, ticks[at]!) - 1.5, floor - (room * values[at]!) / highest - 1.5, 3, 3);
}

/** A value holds until the next; several in one pixel are drawn as their reach. */
function steps(
  context: CanvasRenderingContext2D,
  width: number,
  view: View,
  ticks: ArrayLike<number>,
  yAt: (index: number) => number,
  colour: string,
): void {
  const first = Math.max(0, lowerBound(ticks, view.start) - 1);
  const last = lowerBound(ticks, view.start + width * view.ticksPerPixel);
  context.strokeStyle = colour;
  context.lineWidth = 1.5;
  context.beginPath();
  for (let at = first; at < Math.max(last, Math.min(first + 1, ticks.length)); at++) {
    const x = Math.max(0, xOf(view, ticks[at]!));
    const y = yAt(at);
    if (at === first) context.moveTo(x, y);
    else context.lineTo(x, yAt(at - 1));
    context.lineTo(x, y);
    if (at === last - 1) context.lineTo(width, y);
  }
  context.stroke();
  context.lineWidth = 1;
}
