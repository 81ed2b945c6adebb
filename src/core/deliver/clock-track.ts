import { append } from '../basics/append';
import { barsOfPiece, type Clock, type Meter } from '../model/clock';
import { isCompound } from '../model/meter';
import type { Performance } from '../model/performance';
import { PERCUSSION_CHANNEL } from '../model/performance';
import type { SmfEvent, SmfTrack } from '../sources/smf/events';
import { type Queued, textEvent, trackOf } from './tracks';

/** A denominator is written as a power of two up to 64; an upbeat may need a finer one than its meter. */
const FINEST = 64;

/**
 * The clock of a performance as a track: title, meters, keys, tempos, markers.
 * @param leadIn ticks by which everything but what holds from the start moves
 */
export function clockTrack(
  performance: Performance,
  title: string,
  leadIn: number,
  extra: readonly Queued[] = [],
): SmfTrack {
  const { tempos, keys, markers, end } = performance;
  const moved = (tick: number) => (tick === 0 ? 0 : tick + leadIn);
  const events: SmfEvent[] = [];
  if (title) events.push(textEvent('trackName', 3, title));
  append(events, meterEvents(performance, leadIn));
  for (const { tick, fifths, minor } of keys)
    events.push({ kind: 'keySignature', tick: moved(tick), fifths, minor });
  for (const { tick, microsPerQuarter } of tempos)
    events.push({ kind: 'tempo', tick: moved(tick), microsPerQuarter });
  for (const { tick, text } of markers) events.push(textEvent('marker', 6, text, tick + leadIn));
  const queue = events.map((event, order) => ({ order, event }));
  return trackOf([...queue, ...extra], end + leadIn);
}

/** Meters of the source where they stand; where bars begin otherwise, as the clock has them. */
function meterEvents({ meters, clock }: Performance, leadIn: number): SmfEvent[] {
  const upbeatIsWritten = meters.some((meter) => meter.tick === clock.upbeat);
  const own =
    clock.upbeat === 0 || upbeatIsWritten
      ? meters
      : [
          { tick: 0, ...upbeatMeter(clock) },
          { tick: clock.upbeat, ...clock.meters[0]!.meter },
          ...meters.filter((meter) => meter.tick > clock.upbeat),
        ];
  const shifted = own.map((meter) => ({ ...meter, tick: meter.tick + leadIn }));
  const opening = leadIn > 0 && own.length > 0 ? [{ tick: 0, ...clock.meters[0]!.meter }] : [];
  return [...opening, ...shifted].map(({ tick, numerator, denominator }) => ({
    kind: 'timeSignature',
    tick,
    numerator,
    denominator,
    // MIDI clocks (24 a quarter note) a click: a dotted beat in compound time.
    clocks: (unitsOfBeat({ numerator, denominator }) * 96) / Math.max(denominator, 1),
    thirtySeconds: 8,
  }));
}

/** The meter of a bar as long as the upbeat. */
function upbeatMeter(clock: Clock): { numerator: number; denominator: number } {
  let { denominator } = clock.meters[0]!.meter;
  const beats = () => (clock.upbeat * denominator) / (4 * clock.ticksPerQuarter);
  while (!Number.isInteger(beats()) && denominator < FINEST) denominator *= 2;
  return { numerator: Math.max(1, Math.round(beats())), denominator };
}

/** The click: General MIDI percussion keys (high and low wood block) with their velocities. */
export const CLICK = { downbeat: { key: 76, velocity: 110 }, beat: { key: 77, velocity: 84 } } as const;

/** A click counts dotted beats in compound time; 3/8 is counted out in eighths. */
const unitsOfBeat = (meter: Meter): number => (isCompound(meter) && meter.numerator > 3 ? 3 : 1);

/** The beats of a bar as offsets in ticks: dotted ones in compound time. */
export function beatsOf(
  bar: { length: number; meter: Clock['meters'][number]['meter'] },
  clock: Clock,
): number[] {
  const unit = (clock.ticksPerQuarter * 4) / bar.meter.denominator;
  const step = unit * unitsOfBeat(bar.meter);
  const beats: number[] = [];
  for (let at = 0; at < bar.length - 1e-9; at += step) beats.push(at);
  return beats;
}

/** A track that clicks every beat, and in the lead-in too. */
export function clickTrack(performance: Performance, leadInBars: number, leadIn: number): SmfTrack {
  const { clock, end } = performance;
  const queue: Queued[] = [{ order: -1, event: textEvent('trackName', 3, 'Click') }];
  const strike = (tick: number, isDownbeat: boolean) => {
    const { key, velocity } = isDownbeat ? CLICK.downbeat : CLICK.beat;
    const channel = PERCUSSION_CHANNEL;
    const at = Math.round(tick);
    const length = Math.max(1, Math.round(clock.ticksPerQuarter / 8));
    queue.push({ order: 1, event: { kind: 'noteOn', tick: at, channel, key, velocity } });
    queue.push({
      order: 0,
      event: { kind: 'noteOff', tick: at + length, channel, key, velocity: 64, asNoteOn: false },
    });
  };
  const opening = { length: openingBar(clock), meter: clock.meters[0]!.meter };
  for (let bar = 0; bar < leadInBars; bar++)
    for (const beat of beatsOf(opening, clock)) strike(bar * opening.length + beat, beat === 0);
  for (const bar of barsOfPiece(clock, end))
    for (const beat of beatsOf(bar, clock)) strike(leadIn + bar.start + beat, beat === 0 && !bar.isUpbeat);
  return trackOf(queue, end + leadIn);
}

/** Ticks of a full bar of the first meter. */
export const openingBar = (clock: Clock): number => {
  const { numerator, denominator } = clock.meters[0]!.meter;
  return (clock.ticksPerQuarter * 4 * numerator) / denominator;
};
