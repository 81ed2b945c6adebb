import type { Chord, PartBar, Rest, VoiceLine } from '../../model/score';
import { type Span, singleValue } from '../../model/time';
import type { ReadBar, ReadItem } from './part-reader';

/** Where a voice of the document stands: its staff, and its number within that. */
interface Home {
  staff: number;
  voice: number;
}

/** Documents number voices through the staves of a part, four to each (common practice). */
const USUAL_VOICES = 4;

/** The staff of each voice, by most of its notes, and its number there; the same through the whole part. */
function homesOf(bars: readonly ReadBar[]): Map<string, Home> {
  const counts = new Map<string, Map<number, number>>();
  for (const bar of bars)
    for (const { voice, staff } of bar.items) {
      const own = counts.get(voice) ?? new Map<number, number>();
      counts.set(voice, own.set(staff, (own.get(staff) ?? 0) + 1));
    }
  const homes = new Map<string, Home>();
  const taken = new Set<string>();
  const inOrder = [...counts].sort(([a], [b]) => Number(a) - Number(b) || (a < b ? -1 : 1));
  for (const [name, staves] of inOrder) {
    const [staff] = [...staves].sort((a, b) => b[1] - a[1])[0]!;
    const usual = Number(name) - (staff - 1) * USUAL_VOICES;
    let voice = Number.isInteger(usual) && usual >= 1 && usual <= USUAL_VOICES ? usual : 1;
    while (taken.has(`${staff}/${voice}`)) voice++;
    taken.add(`${staff}/${voice}`);
    homes.set(name, { staff, voice });
  }
  return homes;
}

/**
 * The bars of a part in voices that fill them: gaps are hidden rests, and what
 * overlaps what came before it in its voice stands in a voice of its own.
 *
 * @param lengths of all bars, in units
 * @param onOverlap told of each item that had to leave its voice
 */
export function voicesOf(
  bars: readonly ReadBar[],
  lengths: readonly Span[],
  onOverlap: (bar: number) => void,
): PartBar[] {
  const homes = homesOf(bars);
  return lengths.map((length, index): PartBar => {
    const bar = bars[index];
    const byVoice = new Map<string, ReadItem[]>();
    for (const item of bar?.items ?? []) {
      const list = byVoice.get(item.voice) ?? [];
      byVoice.set(item.voice, list);
      list.push(item);
    }
    const voices = [...byVoice]
      .map(([name, items]) => ({ home: homes.get(name)!, items }))
      .sort((a, b) => a.home.staff - b.home.staff || a.home.voice - b.home.voice)
      .flatMap(({ home, items }) => linesOf(items, home, length, () => onOverlap(index)));
    const used = new Set<string>();
    for (const line of voices) {
      while (used.has(`${line.staff}/${line.voice}`)) line.voice++;
      used.add(`${line.staff}/${line.voice}`);
    }
    if (voices.length === 0) voices.push({ voice: 1, staff: 1, items: [hidden(0, length)] });
    const marks = bar?.marks.toSorted((a, b) => a.at - b.at) ?? [];
    return {
      voices,
      ...(marks.length > 0 && { marks }),
      ...(bar?.shown && { shown: bar.shown }),
    };
  });
}

function linesOf(items: readonly ReadItem[], home: Home, length: Span, onOverlap: () => void): VoiceLine[] {
  const filled: (Chord | Rest)[] = [];
  const others: ReadItem[] = [];
  let at = 0;
  for (const read of items.toSorted((a, b) => a.onset - b.onset)) {
    const { voice: _, staff, ...item } = read;
    if (item.kind === 'rest' && item.onset >= length) continue;
    if (item.kind === 'rest' && item.onset + item.duration > length) item.duration = length - item.onset;
    if (item.onset < at) {
      others.push(read);
      onOverlap();
      continue;
    }
    if (item.onset > at) filled.push(hidden(at, item.onset));
    if (item.kind === 'chord' && staff !== home.staff)
      item.notes = item.notes.map((note) => ({ ...note, staff: note.staff ?? staff }));
    // The rest of a whole bar is as long as its bar, whatever its document says.
    if (item.kind === 'rest' && item.wholeBar && item.onset === 0 && item.duration !== length)
      item.duration = length;
    filled.push(item);
    at = item.onset + item.duration;
  }
  if (at < length) filled.push(hidden(at, length));
  const line: VoiceLine = { ...home, items: filled };
  return others.length > 0
    ? [line, ...linesOf(others, { ...home, voice: home.voice + 1 }, length, onOverlap)]
    : [line];
}

const hidden = (from: number, to: number): Rest => ({
  kind: 'rest',
  hidden: true,
  onset: from,
  duration: to - from,
  value: singleValue(to - from) ?? { type: 'quarter', dots: 0 },
});
