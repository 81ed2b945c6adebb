import type { SmfEvent, SmfTrack, TextKind } from '../sources/smf/events';

/** An event on its way into a track: `order` sorts events within a tick, with note-offs before all others. */
export interface Queued {
  order: number;
  event: SmfEvent;
}

/** A text event. Flats and sharps are written in ASCII, since many readers know nothing else (SMF 1.0 asks for it). */
export const textEvent = (kind: TextKind, type: number, value: string, tick = 0): SmfEvent => ({
  kind,
  tick,
  type,
  bytes: new TextEncoder().encode(value.replaceAll('♭', 'b').replaceAll('♯', '#')),
});

/** Sorts events into a track that ends at `end` or with its last event. */
export function trackOf(queue: Queued[], end: number): SmfTrack {
  const isOff = (event: SmfEvent) => (event.kind === 'noteOff' ? 0 : 1);
  queue.sort((a, b) => a.event.tick - b.event.tick || isOff(a.event) - isOff(b.event) || a.order - b.order);
  const events = queue.map((queued) => queued.event);
  settleEmptyNotes(events);
  const last = events.at(-1)?.tick ?? 0;
  return { events: [...events, { kind: 'endOfTrack', tick: Math.max(end, last) }] };
}

/** A note of no length has its off before its on after sorting: puts it right behind. */
function settleEmptyNotes(events: SmfEvent[]): void {
  const open = new Map<number, number>();
  for (let at = 0; at < events.length; at++) {
    const event = events[at]!;
    if (event.kind !== 'noteOn' && event.kind !== 'noteOff') continue;
    const place = event.channel * 128 + event.key;
    const sounding = open.get(place) ?? 0;
    if (event.kind === 'noteOn') open.set(place, sounding + 1);
    else if (sounding > 0) open.set(place, sounding - 1);
    else {
      const on = events.findIndex(
        (other, index) =>
          index > at &&
          other.kind === 'noteOn' &&
          other.channel === event.channel &&
          other.key === event.key &&
          other.tick === event.tick,
      );
      if (on < 0) continue;
      events.splice(at, 1);
      events.splice(on, 0, event);
      at--;
    }
  }
}

/**
 * All tracks in one, for type 0; events of one tick keep the order of their
 * tracks. Names after the first are tied to their channels by a channel prefix.
 */
export function mergeTracks(tracks: readonly SmfTrack[]): SmfTrack {
  const all = tracks.flatMap((track, index) => {
    const events = track.events.filter((event) => event.kind !== 'endOfTrack');
    const voice = events.find((event) => event.kind === 'noteOn');
    if (index === 0 || voice?.kind !== 'noteOn') return events;
    return events.flatMap((event): SmfEvent[] =>
      event.kind === 'trackName'
        ? [{ kind: 'channelPrefix', tick: event.tick, channel: voice.channel }, event]
        : [event],
    );
  });
  const end = Math.max(0, ...tracks.map((track) => track.events.at(-1)?.tick ?? 0));
  const rank = (event: SmfEvent) => (event.kind === 'noteOff' ? 1 : event.kind === 'noteOn' ? 2 : 0);
  all.sort((a, b) => a.tick - b.tick || rank(a) - rank(b));
  settleEmptyNotes(all);
  return { events: [...all, { kind: 'endOfTrack', tick: end }] };
}
