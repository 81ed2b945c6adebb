import type { SmfEvent, SmfTrack } from '@/core/sources/smf/events';
import { writeSmf } from '@/core/sources/smf/write';

const STEPS = [0, 2, 4, 5, 7, 9, 11];

const text = (kind: 'trackName', type: number, value: string): SmfEvent => ({
  kind,
  tick: 0,
  type,
  bytes: new TextEncoder().encode(value),
});

/** A file of one flute that plays eight bars of eighths of C major, another tune for each number. */
export function tune(number: number): Uint8Array {
  const notes = Array.from({ length: 64 }, (_, at): SmfEvent[] => {
    const step = (at * (number + 2) + number) % 14;
    const key = 60 + 12 * Math.floor(step / 7) + STEPS[step % 7]!;
    return [
      { kind: 'noteOn', tick: at * 240, channel: 0, key, velocity: 80 },
      { kind: 'noteOff', tick: at * 240 + 240, channel: 0, key, velocity: 0, asNoteOn: true },
    ];
  });
  const tracks: SmfTrack[] = [
    { events: [text('trackName', 3, `Tune ${number}`)] },
    { events: [text('trackName', 3, 'Flute'), ...notes.flat()] },
  ];
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
}
