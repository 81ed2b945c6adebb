import type { SmfTrack } from '../sources/smf/events';

/**
 * Tracks in another number of ticks a quarter note. A note keeps at least one
 * tick. Exact where the new division holds every tick of the old.
 * @returns the tracks, and how many events had to be rounded
 */
export function retime(
  tracks: readonly SmfTrack[],
  from: number,
  to: number,
): { tracks: SmfTrack[]; rounded: number } {
  if (from === to) return { tracks: [...tracks], rounded: 0 };
  let rounded = 0;
  const moved = tracks.map((track) => {
    /** Where the open notes of a channel and key begin, old and new. */
    const open = new Map<number, { old: number; tick: number }[]>();
    const events = track.events.map((event) => {
      const exact = (event.tick * to) / from;
      let tick = Math.round(exact);
      if (Math.abs(exact - tick) > 1e-9 && event.kind !== 'endOfTrack') rounded++;
      if (event.kind === 'noteOn' || event.kind === 'noteOff') {
        const place = event.channel * 128 + event.key;
        const starts = open.get(place) ?? [];
        open.set(place, starts);
        if (event.kind === 'noteOn') starts.push({ old: event.tick, tick });
        else {
          const start = starts.shift();
          if (start && event.tick > start.old) tick = Math.max(tick, start.tick + 1);
        }
      }
      return { ...event, tick };
    });
    return { events: events.sort((a, b) => a.tick - b.tick) };
  });
  return { tracks: moved, rounded };
}
