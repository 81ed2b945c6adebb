import type { Desk } from '@/core/clean/desk';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import type { Smf, SmfEvent, SmfTrack } from '@/core/sources/smf/events';
import { layOutFile } from './desk';

/** A note: onset and release in ticks, key, velocity. */
export type Stroke = [on: number, off: number, key: number, velocity?: number];

export const trackName = (name: string): SmfEvent => ({
  kind: 'trackName',
  tick: 0,
  type: 3,
  bytes: new TextEncoder().encode(name),
});

export const meterAt = (tick: number, numerator: number, denominator: number): SmfEvent => ({
  kind: 'timeSignature',
  tick,
  numerator,
  denominator,
  clocks: 24,
  thirtySeconds: 8,
});

/** A named track on one channel (0–15). */
export function madeTrack(
  name: string,
  channel: number,
  strokes: readonly Stroke[],
  more: SmfEvent[] = [],
): SmfTrack {
  const events = [
    ...more,
    ...strokes.flatMap(([on, off, key, velocity = 80]): SmfEvent[] => [
      { kind: 'noteOn', tick: on, channel, key, velocity },
      { kind: 'noteOff', tick: off, channel, key, velocity: 64, asNoteOn: false },
    ]),
  ];
  const rank = (event: SmfEvent) => (event.kind === 'noteOn' ? 2 : event.kind === 'noteOff' ? 1 : 0);
  events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
  return { events: [trackName(name), ...events, { kind: 'endOfTrack', tick: events.at(-1)?.tick ?? 0 }] };
}

/** A format 1 file of 480 ticks a quarter note. */
export const madeFile = (...tracks: SmfTrack[]): Smf => ({
  format: 1,
  division: { kind: 'quarter', ticks: 480 },
  tracks,
  otherChunks: [],
  mends: [],
});

export const briefOf = (...directives: PlainDirective[]): Brief => ({ ...EMPTY_BRIEF, directives });

/** A file under decisions. */
export const deskOf = (smf: Smf, ...directives: PlainDirective[]): Desk =>
  layOutFile(smf, briefOf(...directives));
