import { playerTexts } from '../infer/marks/players';
import type { EventId } from '../model/ids';
import type { Anchor, Mark, Spanner } from '../model/marks';
import {
  type Bar,
  barIndexOf,
  type Chord,
  type Item,
  type Note,
  type Part,
  type PartBar,
  type Score,
  type VoiceLine,
  writtenKeys,
} from '../model/score';
import { showAccidentals } from '../notate/accidentals';
import { restingBar } from '../notate/rests';
import { playerCount } from '../perform/players';

/** How the players of a staff are written in a bar (common practice of scores). */
type Manner =
  /** Nobody plays. */
  | 'rest'
  /** One plays. */
  | 'alone'
  /** All play the same notes. */
  | 'together'
  /** The same values on other notes: chords on shared stems. */
  | 'chords'
  /** A voice for each. */
  | 'voices';

/** Chords on shared stems for fewer bars than this between voices are voices too. */
const SHORTEST_PASSAGE = 2;

/** Why parts cannot share a staff; null where they can. */
export function whyApart([first, ...others]: readonly Part[]): string | null {
  if (!first) return 'nothing is joined';
  const all = [first, ...others];
  if (all.some(({ clefs }) => clefs.length > 1)) return 'one of them has two staves';
  const isPercussion = ({ clefs }: Part) => clefs[0] === 'percussion';
  if (others.some(({ changes = [] }) => changes.some(({ kind }) => kind === 'transposition')))
    return 'one of them changes its transposition on the way';
  if (others.some((part) => isPercussion(part) !== isPercussion(first)))
    return 'only one of them is written with pitches';
  return null;
}

/**
 * Several parts of one staff each on one staff: chords on shared stems where
 * their rhythm is the same and their lines do not cross, "a2" where they play
 * the same, a voice for each elsewhere; who is alone is told. Ties are never
 * cut by a change from one to another. All must be written for one
 * transposition.
 *
 * @param parts from the top; the first has the names, clefs and changes
 */
export function joinedPart(score: Score, parts: readonly Part[], players: readonly number[]): Part {
  const [first] = parts as readonly [Part, ...Part[]];
  const manners = mannersOf(parts, score.bars);
  const keys = writtenKeys(score, first);
  /** What became of notes that share a head with one of another part. */
  const names = new Map<string, string>();
  const bars = score.bars.map((bar, index) => {
    const own = parts.map((part) => part.bars[index]!);
    const made = joinedBar(own, bar, manners[index]!, names);
    showAccidentals(made, keys.findLast((key) => key.bar <= index)?.fifths ?? 0);
    return made;
  });
  putPlayerTexts(score, parts, players, bars);
  const spanners = joinedSpanners(parts, names);
  return { ...first, bars, ...(spanners.length > 0 && { spanners }) };
}

const chordsOf = ({ items }: VoiceLine): Chord[] =>
  items.filter((item): item is Chord => item.kind === 'chord');

const sounds = ({ voices }: PartBar): boolean => voices.some((line) => chordsOf(line).length > 0);

function mannersOf(parts: readonly Part[], bars: readonly Bar[]): Manner[] {
  const manners = bars.map((_, index) => mannerOf(parts.map((part) => part.bars[index]!)));
  // A tie stays within its voice: what it leads into is written as what it comes from.
  const isTied = bars.map((_, index) =>
    parts.some(({ bars: own }) => own[index]!.voices.some((line) => hasTieIn(line))),
  );
  const spread = (from: number, to: number, step: 1 | -1) => {
    for (let at = from; at !== to; at += step) {
      const isLinked = isTied[step === 1 ? at : at + 1];
      const before = manners[at - step];
      if (isLinked && before === 'voices' && (manners[at] === 'chords' || manners[at] === 'together'))
        manners[at] = 'voices';
    }
  };
  const settle = () => {
    spread(1, bars.length, 1);
    spread(bars.length - 2, -1, -1);
  };
  settle();
  for (let from = 0; from < manners.length; ) {
    let to = from;
    while (to < manners.length && manners[to] === manners[from]) to++;
    const isBetween = manners[from - 1] === 'voices' && manners[to] === 'voices';
    if (manners[from] === 'chords' && to - from < SHORTEST_PASSAGE && isBetween)
      manners.fill('voices', from, to);
    from = to;
  }
  settle();
  return manners;
}

const hasTieIn = (line: VoiceLine): boolean =>
  chordsOf(line).some(({ onset, notes }) => onset === 0 && notes.some(({ tieStop }) => tieStop));

function mannerOf(bars: readonly PartBar[]): Manner {
  const playing = bars.filter(sounds);
  if (playing.length === 0) return 'rest';
  if (playing.length === 1) return 'alone';
  const lines = playing.map(({ voices }) => voices.filter((line) => chordsOf(line).length > 0));
  if (playing.length < bars.length || lines.some((own) => own.length > 1)) return 'voices';
  const [top, ...lower] = lines.map(([line]) => line!);
  if (!top || !lower.every((line) => isAlike(top, line))) return 'voices';
  if (lower.every((line) => hasSameNotes(top, line))) return 'together';
  const stack = [top, ...lower];
  return stack.every((line, at) => at === 0 || liesBelow(stack[at - 1]!, line)) ? 'chords' : 'voices';
}

/** The same values, and the same signs on them. */
function isAlike(a: VoiceLine, b: VoiceLine): boolean {
  return a.items.length === b.items.length && a.items.every((item, at) => isAlikeItem(item, b.items[at]!));
}

function isAlikeItem(a: Item, b: Item): boolean {
  if (a.kind !== b.kind || a.onset !== b.onset || a.duration !== b.duration) return false;
  if (a.value.type !== b.value.type || a.value.dots !== b.value.dots) return false;
  if (JSON.stringify(a.tuplet) !== JSON.stringify(b.tuplet)) return false;
  if (a.kind === 'rest' || b.kind === 'rest') return true;
  const isPlain = (chord: Chord) => !chord.graces && !chord.gracesAfter && !chord.cue;
  return (
    isPlain(a) &&
    isPlain(b) &&
    JSON.stringify(a.marks ?? []) === JSON.stringify(b.marks ?? []) &&
    JSON.stringify(a.lyrics ?? []) === JSON.stringify(b.lyrics ?? [])
  );
}

const pitchText = ({ pitch, tieStart }: Note): string =>
  `${pitch.step}${pitch.alter}/${pitch.octave}${tieStart ? '~' : ''}`;

const hasSameNotes = (a: VoiceLine, b: VoiceLine): boolean =>
  chordsOf(a).every((chord, at) => {
    const other = chordsOf(b)[at]!;
    return chord.notes.map(pitchText).join() === other.notes.map(pitchText).join();
  });

const liesBelow = (above: VoiceLine, below: VoiceLine): boolean =>
  chordsOf(above).every((chord, at) => {
    const lowest = Math.min(...chord.notes.map(({ key }) => key));
    return chordsOf(below)[at]!.notes.every(({ key }) => key < lowest);
  });

function joinedBar(bars: readonly PartBar[], bar: Bar, manner: Manner, names: Map<string, string>): PartBar {
  const playing = bars.filter(sounds);
  const marks = joinedMarks(manner === 'alone' ? playing : bars);
  const voices = voicesOf(playing, bar, manner, names);
  return { voices, ...(marks.length > 0 && { marks }) };
}

function voicesOf(
  playing: readonly PartBar[],
  bar: Bar,
  manner: Manner,
  names: Map<string, string>,
): VoiceLine[] {
  const lines = playing.flatMap(({ voices }) => voices.filter((line) => chordsOf(line).length > 0));
  if (manner === 'rest') return restingBar(bar, 1).voices;
  if (manner === 'alone' || manner === 'voices')
    return lines.map((line, index) => ({ ...copied(line), voice: index + 1 }));
  const [top, ...lower] = lines as [VoiceLine, ...VoiceLine[]];
  const items = top.items.map((item, at): Item => {
    if (item.kind === 'rest') return item;
    const others = lower.map((line) => line.items[at] as Chord);
    if (manner === 'chords')
      return {
        ...item,
        notes: [item, ...others]
          .flatMap(({ notes }) => notes)
          .map((note) => ({ ...note }))
          .sort((a, b) => a.key - b.key),
      };
    return {
      ...item,
      notes: item.notes.map((note, index) => {
        const same = others.map(({ notes }) => notes[index]!);
        for (const { id } of same) names.set(id, note.id);
        return { ...note, sources: [note, ...same].flatMap(({ sources }) => sources) };
      }),
    };
  });
  return [{ ...top, voice: 1, items }];
}

/** Notes of their own: accidentals are set on them. */
const copied = (line: VoiceLine): VoiceLine => ({
  ...line,
  items: line.items.map((item) =>
    item.kind === 'rest'
      ? item
      : {
          ...item,
          notes: item.notes.map((note) => ({ ...note })),
          ...(item.graces && { graces: item.graces.map((note) => ({ ...note })) }),
        },
  ),
});

/** What stands over all of them once. */
function joinedMarks(bars: readonly PartBar[]): Mark[] {
  const seen = new Set<string>();
  return bars
    .flatMap(({ marks = [] }) => marks)
    .filter((mark) => {
      const text = JSON.stringify(mark);
      const isNew = !seen.has(text);
      seen.add(text);
      return isNew;
    })
    .sort((a, b) => a.at - b.at);
}

function joinedSpanners(parts: readonly Part[], names: ReadonlyMap<string, string>): Spanner[] {
  const along = (end: Anchor): Anchor => ('note' in end ? { note: names.get(end.note) ?? end.note } : end);
  const seen = new Set<string>();
  return parts.flatMap(({ spanners = [] }, part) =>
    spanners.flatMap((spanner): Spanner[] => {
      const { id, ...moved } = { ...spanner, from: along(spanner.from), to: along(spanner.to) };
      const text = JSON.stringify(moved);
      if (seen.has(text)) return [];
      seen.add(text);
      return [{ ...moved, id: part === 0 ? id : `${id}.${part + 1}` } as Spanner];
    }),
  );
}

/** "1.", "2.", "a2", where each part is one player's. */
function putPlayerTexts(
  score: Score,
  parts: readonly Part[],
  players: readonly number[],
  bars: readonly PartBar[],
): void {
  if (parts.some((part) => playerCount(part) > 1)) return;
  const playerOf = new Map<EventId, number>();
  parts.forEach((part, at) => {
    for (const bar of part.bars)
      for (const line of bar.voices)
        for (const { notes } of chordsOf(line))
          for (const { sources } of notes)
            for (const event of sources) playerOf.set(event, players[at] ?? at + 1);
  });
  const sketches = bars.flatMap(({ voices }, index) =>
    voices.flatMap((line) =>
      chordsOf(line).flatMap(({ onset, duration, notes }) =>
        notes.map(({ key, sources }) => {
          const start = score.bars[index]!.start + onset;
          return { key, start, end: start + duration, sources };
        }),
      ),
    ),
  );
  for (const { at, text } of playerTexts(sketches, playerOf)) {
    const index = barIndexOf(score.bars, at);
    const bar = bars[index]!;
    const mark: Mark = { kind: 'words', text, at: at - score.bars[index]!.start, placement: 'above' };
    bar.marks = [...(bar.marks ?? []), mark].sort((a, b) => a.at - b.at);
  }
}
