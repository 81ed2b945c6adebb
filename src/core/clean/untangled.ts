import type { PlayedNote } from '../model/performance';

/** Notes in order, none into the next stroke of its own key where it did not sound into that before. */
export function untangled(notes: PlayedNote[]): PlayedNote[] {
  const last = new Map<number, PlayedNote>();
  for (const note of notes.sort((a, b) => a.on - b.on || a.key - b.key)) {
    const before = last.get(note.key);
    if (before && !note.stacked && before.off > note.on) before.off = Math.max(before.on, note.on);
    last.set(note.key, note);
  }
  return notes;
}
