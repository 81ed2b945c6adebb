import { lastAtOrBefore } from '../basics/search';
import { type BeatSound, findChords } from '../infer/marks/chords';
import type { Beat } from '../model/beats';
import { chordText } from '../model/chord-text';
import type { Frame } from '../model/frame';
import type { EventId } from '../model/ids';
import type { MarkOffer } from '../model/offers';
import type { LocalKey, SketchNote } from '../model/sketch';
import { QUARTER } from '../model/time';

/** What sounds in each beat over all pitched parts, as it is written. */
function soundsOf(
  parts: readonly ReadonlyMap<EventId, SketchNote>[],
  { bars }: Frame,
  beats: readonly Beat[],
  keys: readonly LocalKey[],
): BeatSound[] {
  const sounds = beats.map(({ start, length, bar }, index) => {
    const { start: zero, length: whole, missing } = bars[bar]!;
    const at = start - zero + missing;
    return {
      start,
      end: start + length,
      weights: new Array<number>(12).fill(0),
      lows: new Array<number>(12).fill(0),
      inside: at === 0 ? (0 as const) : 2 * at === whole + missing ? (1 as const) : (2 as const),
      key: keys[index]!,
      /** Notes by their keys, for the lowest. */
      notes: [] as { from: number; to: number; key: number }[],
    };
  });
  for (const notes of parts)
    for (const note of new Set(notes.values())) {
      if (note.grace) continue;
      let at = Math.max(
        0,
        lastAtOrBefore(beats, note.start, ({ start }) => start),
      );
      for (; at < sounds.length && sounds[at]!.start < note.end; at++) {
        const sound = sounds[at]!;
        const from = Math.max(note.start, sound.start);
        const to = Math.min(note.end, sound.end);
        if (to <= from) continue;
        sound.weights[note.key % 12]! += (to - from) / QUARTER;
        sound.notes.push({ from, to, key: note.key });
      }
    }
  for (const { notes, lows } of sounds) {
    const edges = [...new Set(notes.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b);
    edges.slice(0, -1).forEach((from, index) => {
      const lowest = notes.reduce(
        (least, note) => (note.from <= from && note.to > from ? Math.min(least, note.key) : least),
        Number.POSITIVE_INFINITY,
      );
      if (Number.isFinite(lowest)) lows[lowest % 12]! += (edges[index + 1]! - from) / QUARTER;
    });
  }
  return sounds;
}

/** The chords of a piece, for the part that shows them. */
export const chordOffers = (
  parts: readonly ReadonlyMap<EventId, SketchNote>[],
  frame: Frame,
  beats: readonly Beat[],
  keys: readonly LocalKey[],
): MarkOffer[] =>
  findChords(soundsOf(parts, frame, beats, keys)).map(({ at, to, symbol, margin }) => ({
    kind: 'chords',
    from: at,
    to,
    mark: chordText(symbol),
    symbol,
    heard: [],
    margin,
    shown: false,
  }));
