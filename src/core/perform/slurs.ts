import type { Part, Score } from '../model/score';
import type { Moment } from '../model/time';

/** Whether the notes of a line (bar and moment) lie under a slur, and are not its last. */
export function slurredOf(score: Score, part: Part): (staff: number, voice: number, at: Moment) => boolean {
  const slurs = (part.spanners ?? []).filter(({ kind }) => kind === 'slur');
  if (slurs.length === 0) return () => false;
  const places = new Map<string, { line: string; at: Moment }>();
  part.bars.forEach((bar, index) => {
    for (const { staff, voice, items } of bar.voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const note of [...(item.graces ?? []), ...item.notes])
            places.set(note.id, { line: `${staff}/${voice}`, at: score.bars[index]!.start + item.onset });
  });
  const spans = new Map<string, { from: Moment; to: Moment }[]>();
  for (const { from, to } of slurs) {
    const [start, end] = [from, to].map((anchor) => ('note' in anchor ? places.get(anchor.note) : undefined));
    if (!start || !end || end.at <= start.at) continue;
    spans.set(start.line, [...(spans.get(start.line) ?? []), { from: start.at, to: end.at }]);
  }
  return (staff, voice, at) =>
    spans.get(`${staff}/${voice}`)?.some((span) => at >= span.from && at < span.to) ?? false;
}
