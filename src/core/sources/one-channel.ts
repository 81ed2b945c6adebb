import type { PlayedNote } from '../model/performance';

/** How a note is let go where nothing says it: the middle (MIDI 1.0). */
export const USUAL_RELEASE = 64;

/**
 * Notes as one channel can sound them: of two on the same key the first to begin is the first to
 * end, whatever was meant, since a release names a key and no note. Changed in place.
 *
 * @param notes in order of onset, each longer than nothing
 */
export function inTurn(notes: PlayedNote[]): PlayedNote[] {
  const byKey = new Map<number, PlayedNote[]>();
  for (const note of notes) {
    const before = byKey.get(note.key);
    if (before) before.push(note);
    else byKey.set(note.key, [note]);
  }
  for (const own of byKey.values()) {
    const releases = own.map(({ off }) => off).sort((a, b) => a - b);
    own.forEach((note, index) => {
      note.off = releases[index]!;
      const before = own[index - 1];
      if (before && before.off > note.on) note.stacked = true;
    });
  }
  return notes;
}
