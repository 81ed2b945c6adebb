import type { Anchor } from '../model/marks';
import type { Part, Score } from '../model/score';
import type { Moment } from '../model/time';

/** Where the notes of a part stand: moments from the start of the piece, as written. */
export function placesOf(score: Score, part: Part): { momentOf: (anchor: Anchor) => Moment | undefined } {
  const places = new Map<string, Moment>();
  part.bars.forEach((bar, index) => {
    for (const line of bar.voices)
      for (const item of line.items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes, ...(item.gracesAfter ?? [])])
            places.set(note.id, score.bars[index]!.start + item.onset);
  });
  return {
    momentOf: (anchor) => {
      if ('note' in anchor) return places.get(anchor.note);
      const bar = score.bars[anchor.bar];
      return bar && bar.start + anchor.at;
    },
  };
}
