import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Bar, Item, Note, Part, PartBar, Score } from '../model/score';

const isSameNote = (a: Note, b: Note): boolean =>
  a.key === b.key &&
  a.pitch.step === b.pitch.step &&
  a.pitch.alter === b.pitch.alter &&
  a.pitch.octave === b.pitch.octave &&
  a.head === b.head &&
  a.ghost === b.ghost;

const areAlike = <T>(a: readonly T[] = [], b: readonly T[] = [], isSame: (a: T, b: T) => boolean): boolean =>
  a.length === b.length && a.every((each, at) => isSame(each, b[at]!));

const isSameItem = (a: Item, b: Item): boolean => {
  if (a.onset !== b.onset || a.duration !== b.duration) return false;
  if (a.kind === 'rest' || b.kind === 'rest') return a.kind === b.kind;
  return (
    a.tuplet?.actual === b.tuplet?.actual &&
    a.tuplet?.normal === b.tuplet?.normal &&
    areAlike(a.notes, b.notes, isSameNote) &&
    areAlike(a.graces, b.graces, isSameNote) &&
    JSON.stringify(a.marks ?? []) === JSON.stringify(b.marks ?? [])
  );
};

/** Whether the notes of two bars are read alike; where they came from aside. */
const isSameBar = (a: PartBar, b: PartBar): boolean =>
  areAlike(
    a.voices,
    b.voices,
    (one, other) =>
      one.voice === other.voice && one.staff === other.staff && areAlike(one.items, other.items, isSameItem),
  );

const sounds = ({ voices }: PartBar): boolean =>
  voices.some(({ items }) => items.some(({ kind }) => kind === 'chord'));

const isTied = ({ voices }: PartBar): boolean =>
  voices.some(({ items }) =>
    items.some(
      (item) => item.kind === 'chord' && item.notes.some(({ tieStart, tieStop }) => tieStart || tieStop),
    ),
  );

/**
 * Which bars of a part are like the one before: the same notes in the same
 * values with the same articulation. A bar with ties, texts or syllables of its
 * own is written out, and so is one in another meter (common practice).
 */
export const likeBefore = (part: Part, bars: readonly Bar[]): readonly boolean[] =>
  remembered(part, LIKE_BEFORE, { part, bars });

const LIKE_BEFORE = node('like the bar before', ({ part, bars }: { part: Part; bars: readonly Bar[] }) =>
  compared(part, bars),
);

function compared(part: Part, bars: readonly Bar[]): boolean[] {
  return part.bars.map((bar, index) => {
    const [own, before] = [bars[index]!, bars[index - 1]];
    return (
      before !== undefined &&
      own.length === before.length &&
      own.meter.numerator === before.meter.numerator &&
      own.meter.denominator === before.meter.denominator &&
      sounds(bar) &&
      isSameBar(bar, part.bars[index - 1]!) &&
      !isTied(bar) &&
      (bar.marks ?? []).length === 0 &&
      !bar.voices.some(({ items }) => items.some((item) => item.kind === 'chord' && item.lyrics))
    );
  });
}

/**
 * A part with its bars written short where that was asked for.
 *
 * @param useOf what was asked for a bar
 */
export function withShorthand(
  part: Part,
  bars: readonly Bar[],
  useOf: (bar: number) => 'written-out' | 'bar-repeats' | 'slashes',
): Part {
  const uses = part.bars.map((_, bar) => useOf(bar));
  if (uses.every((use) => use === 'written-out')) return part;
  const like = likeBefore(part, bars);
  return {
    ...part,
    bars: part.bars.map((bar, index): PartBar => {
      if (uses[index] === 'slashes' && sounds(bar)) return { ...bar, shown: 'slashes' };
      return uses[index] === 'bar-repeats' && like[index] ? { ...bar, shown: 'repeat' } : bar;
    }),
  };
}

/** Runs of bars (indices, `to` exclusive) in which no part of a score has anything to play or to read: one rest over all. */
export function multiBarRests({
  bars,
  parts,
  keys,
  tempos,
  rehearsals,
  swings = [],
}: Score): { from: number; to: number }[] {
  const rests = bars.map((_, bar) =>
    parts.every((part) => !sounds(part.bars[bar]!) && (part.bars[bar]!.marks ?? []).length === 0),
  );
  /** Bars before which something stands that a player must see. */
  const breaks = new Set<number>([
    ...keys.map(({ bar }) => bar),
    ...rehearsals.map(({ bar }) => bar),
    ...swings.flatMap(({ from, to }) => [from, to]),
    ...parts.flatMap(({ changes = [] }) =>
      changes.flatMap(({ bar, at }) => (at > 0 ? [bar, bar + 1] : [bar])),
    ),
    ...tempos.flatMap(({ bar, at, printed }) => (printed === null ? [] : at > 0 ? [bar, bar + 1] : [bar])),
    ...bars.flatMap(({ meter, length, left, right, jumps }, bar) => {
      const before = bars[bar - 1];
      const isOther =
        !before ||
        before.meter.numerator !== meter.numerator ||
        before.meter.denominator !== meter.denominator ||
        before.length !== length;
      return [
        ...(isOther || left ? [bar] : []),
        ...(right ? [bar + 1] : []),
        ...(jumps ? [bar, bar + 1] : []),
      ];
    }),
  ]);
  const runs: { from: number; to: number }[] = [];
  for (let from = 0; from < bars.length; ) {
    let to = from + 1;
    while (rests[from] && to < bars.length && rests[to] && !breaks.has(to)) to++;
    if (rests[from] && to - from > 1) runs.push({ from, to });
    from = to;
  }
  return runs;
}
