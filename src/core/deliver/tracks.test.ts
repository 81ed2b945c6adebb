import { describe, expect, it } from 'vitest';
import { madeTrack } from '../../../tests/helpers/made-file';
import { makeClock } from '../model/clock';
import type { SmfEvent } from '../sources/smf/events';
import { beatsOf } from './clock-track';
import { mergeTracks, type Queued, textEvent, trackOf } from './tracks';

const on = (tick: number, key: number): SmfEvent => ({ kind: 'noteOn', tick, channel: 0, key, velocity: 80 });
const off = (tick: number, key: number): SmfEvent => ({
  kind: 'noteOff',
  tick,
  channel: 0,
  key,
  velocity: 0,
  asNoteOn: true,
});
const queue = (...events: SmfEvent[]): Queued[] => events.map((event, order) => ({ order, event }));
const kinds = (events: readonly SmfEvent[]) =>
  events.map((event) =>
    'key' in event ? `${event.kind} ${event.tick} ${event.key}` : `${event.kind} ${event.tick}`,
  );

describe('a track made of events', () => {
  it('goes forward in time, note-offs first, else in the order of the source', () => {
    const program: SmfEvent = { kind: 'program', tick: 480, channel: 0, program: 1 };
    expect(
      kinds(trackOf(queue(on(480, 62), program, on(0, 60), off(480, 60), off(960, 62)), 2000).events),
    ).toEqual([
      'noteOn 0 60',
      'noteOff 480 60',
      'noteOn 480 62',
      'program 480',
      'noteOff 960 62',
      'endOfTrack 2000',
    ]);
  });

  it('ends a note of no length after it begins', () => {
    expect(
      kinds(
        trackOf(queue(on(0, 60), off(480, 60), on(480, 60), off(480, 60), on(480, 64), off(600, 64)), 0)
          .events,
      ),
    ).toEqual([
      'noteOn 0 60',
      'noteOff 480 60',
      'noteOn 480 60',
      'noteOff 480 60',
      'noteOn 480 64',
      'noteOff 600 64',
      'endOfTrack 600',
    ]);
  });

  it('writes names in ASCII where it can, for readers that know nothing else', () => {
    const event = textEvent('trackName', 3, 'B♭ Clarinet in F♯');
    expect('bytes' in event && new TextDecoder().decode(event.bytes)).toBe('Bb Clarinet in F#');
  });
});

describe('all tracks in one', () => {
  it('keeps every event, and ties later names to their channels', () => {
    const merged = mergeTracks([
      madeTrack('Conductor', 0, []),
      madeTrack('Flute', 2, [[0, 480, 72]]),
      madeTrack('Drums', 9, [[0, 60, 36]]),
    ]);
    const names = merged.events.flatMap((event): (string | number)[] =>
      event.kind === 'trackName'
        ? [new TextDecoder().decode(event.bytes)]
        : event.kind === 'channelPrefix'
          ? [event.channel]
          : [],
    );
    expect(names).toEqual(['Conductor', 2, 'Flute', 9, 'Drums']);
    expect(merged.events.filter((event) => event.kind === 'endOfTrack')).toEqual([
      { kind: 'endOfTrack', tick: 480 },
    ]);
    expect(merged.events.filter((event) => event.kind === 'noteOn')).toHaveLength(2);
  });
});

describe('beats', () => {
  const clock = makeClock({ ticksPerQuarter: 480 });
  /** Common practice: compound meters beat in dotted values, simple ones in the denominator. */
  it.each([
    [4, 4, [0, 480, 960, 1440]],
    [3, 8, [0, 240, 480]],
    [6, 8, [0, 720]],
    [12, 8, [0, 720, 1440, 2160]],
    [5, 8, [0, 240, 480, 720, 960]],
    [2, 2, [0, 960]],
    [6, 4, [0, 1440]],
  ])('of %i/%i', (numerator, denominator, beats) => {
    const length = (480 * 4 * numerator) / denominator;
    expect(beatsOf({ length, meter: { numerator, denominator } }, clock)).toEqual(beats);
  });
});
