import { instrumentOf } from '../instruments/catalogue';
import { PERCUSSION_CHANNEL } from '../model/performance';
import { isUnpitched, type Performed } from '../perform';
import type { Smf, SmfEvent, SmfTrack } from '../sources/smf/events';

const encoder = new TextEncoder();
const text = (
  kind: 'trackName' | 'marker' | 'lyric',
  type: number,
  tick: number,
  value: string,
): SmfEvent => ({
  kind,
  tick,
  type,
  bytes: encoder.encode(value),
});

/** Channels for parts in order: percussion on 10, all others in turn on the other fifteen. */
function channelsOf(parts: Performed['parts']): number[] {
  let next = 0;
  return parts.map(({ part }) => {
    if (isUnpitched(part)) return PERCUSSION_CHANNEL;
    const channel = next % 15;
    next++;
    return channel < PERCUSSION_CHANNEL ? channel : channel + 1;
  });
}

/** A played score as a Standard MIDI File of type 1: the clock in the first track, then one track a part, named. */
export function scoreFile(performed: Performed, title: string): Smf {
  const { ticksPerQuarter, tempos, meters, keys, markers, parts, end } = performed;
  const conductor: SmfEvent[] = [
    ...(title ? [text('trackName', 3, 0, title)] : []),
    ...meters.map(
      ({ tick, numerator, denominator }): SmfEvent => ({
        kind: 'timeSignature',
        tick,
        numerator,
        denominator,
        clocks: 24,
        thirtySeconds: 8,
      }),
    ),
    ...keys.map(({ tick, fifths, minor }): SmfEvent => ({ kind: 'keySignature', tick, fifths, minor })),
    ...tempos.map(({ tick, microsPerQuarter }): SmfEvent => ({ kind: 'tempo', tick, microsPerQuarter })),
    ...markers.map((marker) => text('marker', 6, marker.tick, marker.text)),
  ];
  const channels = channelsOf(parts);
  const tracks = parts.map(({ part, notes, lyrics }, index): SmfTrack => {
    const channel = channels[index]!;
    const { program, unpitched } = instrumentOf(part.instrument);
    return inOrder(
      [
        text('trackName', 3, 0, part.name),
        ...(unpitched ? [] : [{ kind: 'program', tick: 0, channel, program } as const]),
        ...lyrics.map((lyric) => text('lyric', 5, lyric.tick, lyric.text)),
        ...notes.flatMap(({ on, off, key, velocity }): SmfEvent[] => [
          { kind: 'noteOn', tick: on, channel, key: keyOf(key), velocity },
          { kind: 'noteOff', tick: off, channel, key: keyOf(key), velocity: 64, asNoteOn: false },
        ]),
      ],
      end,
    );
  });
  return {
    format: 1,
    division: { kind: 'quarter', ticks: ticksPerQuarter },
    tracks: [inOrder(conductor, end), ...tracks],
    otherChunks: [],
    mends: [],
  };
}

const keyOf = (key: number): number => Math.max(0, Math.min(127, key));

/** What ends comes before what begins at the same tick. */
const rank = ({ kind }: SmfEvent): number => (kind === 'noteOff' ? 0 : kind === 'noteOn' ? 2 : 1);

function inOrder(events: SmfEvent[], end: number): SmfTrack {
  const last = events.reduce((latest, { tick }) => Math.max(latest, tick), end);
  return {
    events: [
      ...events.sort((a, b) => a.tick - b.tick || rank(a) - rank(b)),
      { kind: 'endOfTrack', tick: last },
    ],
  };
}
