import { QUARTER } from '@/core/model/time';
import type { Difference } from '@/core/reconcile/ledger';
import type { ReadBar, ReadLine, ReadNote, Side } from '@/core/reconcile/reading';

/** What was done to a reading, note by note: what a ledger of both should say. */
export interface Damaged {
  side: Side;
  /** By the ids of the notes as they were; absent where nothing was done. */
  planted: Map<string, Difference[]>;
  /** Notes that were put in, and of which note each is a copy, if it is one: which of the two was put in nobody can say. */
  added: Map<string, string | null>;
  /** Lines that something was done to as a whole. */
  whole: Set<string>;
}

export const DAMAGES = [
  'pitches',
  'octaves',
  'missing',
  'added',
  'moved',
  'lengths',
  'bar cut',
  'bar inserted',
  'bars again',
  'part transposed',
  'part an octave up',
  'tracks merged',
  'other tempos',
  'all transposed',
  'other bar lines',
  'free time',
] as const;
export type Damage = (typeof DAMAGES)[number];

const cloned = ({ kind, lines, bars }: Side): Side => ({
  kind,
  lines: lines.map((line) => ({ ...line, notes: line.notes.map((note) => ({ ...note })) })),
  bars: bars.map((bar) => ({ ...bar })),
});

/** Does damage of some kinds to a copy of a reading; `random` gives numbers from 0 to 1. */
export function damage(side: Side, kinds: readonly Damage[], random: () => number): Damaged {
  const made: Damaged = { side: cloned(side), planted: new Map(), added: new Map(), whole: new Set() };
  for (const kind of kinds) DOES[kind](made, random);
  for (const line of made.side.lines) line.notes.sort((a, b) => a.start - b.start || a.key - b.key);
  sayKeys(side, made);
  return made;
}

/** What all that was done to the keys of notes comes to. */
function sayKeys(before: Side, made: Damaged): void {
  const keys = new Map(before.lines.flatMap(({ notes }) => notes.map(({ id, key }) => [id, key])));
  for (const { notes } of made.side.lines)
    for (const { id, key } of notes) {
      const away = key - (keys.get(id) ?? key);
      const others: Difference[] = (made.planted.get(id) ?? []).filter(
        (each) => each !== 'pitch' && each !== 'octave',
      );
      if (away !== 0) others.unshift(away % 12 === 0 ? 'octave' : 'pitch');
      if (others.length > 0) made.planted.set(id, others);
      else made.planted.delete(id);
    }
}

const pick = (count: number, random: () => number): number => Math.floor(random() * count);

function say({ planted }: Damaged, id: string, kind: Difference): void {
  planted.set(id, [...(planted.get(id) ?? []), kind]);
}

/** Does something to a share of the notes that nothing was done to yet; at least to one. */
function toShare(
  made: Damaged,
  share: number,
  random: () => number,
  does: (note: ReadNote) => Difference | null,
) {
  const free = made.side.lines.flatMap(({ notes }) =>
    notes.filter(({ id }) => !made.planted.has(id) && !made.added.has(id)),
  );
  const count = Math.max(1, Math.round(share * free.length));
  for (let left = count; left > 0 && free.length > 0; left--) {
    const [note] = free.splice(pick(free.length, random), 1);
    const kind = does(note!);
    if (kind) say(made, note!.id, kind);
  }
}

const soundsAt = ({ side }: Damaged, { line, start, end }: ReadNote, key: number): boolean =>
  side.lines[line]!.notes.some((note) => note.key === key && note.start < end && note.end > start);

function otherKey(made: Damaged, keysAway: readonly number[], name: Difference, random: () => number) {
  return (note: ReadNote): Difference | null => {
    const away = keysAway[pick(keysAway.length, random)]!;
    const key = note.key + away;
    // Another note that sounds there would be the same one.
    if (key < 12 || key > 115 || soundsAt(made, note, key)) return null;
    note.key = key;
    return name;
  };
}

/** Cuts a stretch of time out. */
function cut(made: Damaged, from: number, to: number): void {
  for (const line of made.side.lines)
    line.notes = line.notes.filter((note) => {
      if (note.start >= from && note.start < to) {
        made.planted.set(note.id, ['missing']);
        return false;
      }
      const length = note.end - note.start;
      if (note.start >= to) note.start -= to - from;
      if (note.end >= to) note.end -= to - from;
      else if (note.end > from) note.end = from;
      if (note.end - note.start !== length) say(made, note.id, 'length');
      return true;
    });
}

/** Puts bars in before one, with the notes of others in them. */
function insert(
  made: Damaged,
  at: number,
  bars: readonly ReadBar[],
  notes: readonly ReadNote[],
  areCopies: boolean,
): void {
  const before = made.side.bars[at]!.start;
  const length = bars.reduce((sum, bar) => sum + bar.length, 0);
  for (const line of made.side.lines)
    for (const note of line.notes)
      if (note.start >= before) {
        note.start += length;
        note.end += length;
      }
  const from = bars[0]!.start;
  notes.forEach((note, index) => {
    const id = `put in ${made.added.size} ${index}`;
    made.side.lines[note.line]!.notes.push({
      ...note,
      id,
      start: note.start - from + before,
      end: Math.min(note.end, from + length) - from + before,
    });
    made.added.set(id, areCopies ? note.id : null);
  });
  let start = before;
  const put = bars.map((bar) => {
    const own = { ...bar, start };
    start += bar.length;
    return own;
  });
  made.side.bars = [
    ...made.side.bars.slice(0, at),
    ...put,
    ...made.side.bars.slice(at).map((bar) => ({ ...bar, start: bar.start + length })),
  ];
}

const within = ({ side }: Damaged, from: number, to: number): ReadNote[] =>
  side.lines.flatMap(({ notes }) => notes.filter(({ start }) => start >= from && start < to));

/** Every note of a line that nothing was done to as a whole sounds higher. */
function shifted(made: Damaged, by: number, random: () => number): void {
  const lines = made.side.lines.filter(({ id, notes }) => notes.length >= 12 && !made.whole.has(id));
  const line = lines[pick(lines.length, random)];
  if (!line) return;
  made.whole.add(line.id);
  for (const note of line.notes) note.key += by;
}

/** Bars are cut in the first third, come again in the middle and are put in towards the end: beside each other they would be changed ones. */
const DOES: Record<Damage, (made: Damaged, random: () => number) => void> = {
  pitches: (made, random) =>
    toShare(made, 0.01, random, otherKey(made, [-3, -2, -1, 1, 2, 3], 'pitch', random)),
  octaves: (made, random) => toShare(made, 0.005, random, otherKey(made, [-12, 12], 'octave', random)),
  missing: (made, random) => {
    const gone = new Set<string>();
    toShare(made, 0.02, random, ({ id }) => {
      gone.add(id);
      return 'missing';
    });
    for (const line of made.side.lines) line.notes = line.notes.filter(({ id }) => !gone.has(id));
  },
  added: (made, random) => {
    const put: ReadNote[] = [];
    toShare(made, 0.01, random, (note) => {
      const key = note.key + [3, 4, 5, 7][pick(4, random)]!;
      if (key <= 115 && !soundsAt(made, note, key)) put.push({ ...note, key });
      return null;
    });
    put.forEach((note, index) => {
      const id = `added ${index}`;
      made.side.lines[note.line]!.notes.push({ ...note, id });
      made.added.set(id, null);
    });
  },
  moved: (made, random) =>
    toShare(made, 0.01, random, (note) => {
      const by = (random() < 0.5 ? -1 : 1) * (QUARTER / 4);
      const moved = { ...note, start: note.start + by, end: note.end + by };
      const isAlone = !made.side.lines[note.line]!.notes.some(
        (each) =>
          each.id !== note.id && each.key === note.key && Math.abs(each.start - note.start) <= QUARTER,
      );
      if (moved.start < 0 || !isAlone) return null;
      Object.assign(note, moved);
      return 'onset';
    }),
  lengths: (made, random) =>
    toShare(made, 0.01, random, (note) => {
      note.end = note.start + (note.end - note.start) / 2;
      return 'length';
    }),
  'bar cut': (made, random) => {
    const index = 1 + pick(0.25 * made.side.bars.length, random);
    const { start, length } = made.side.bars[index]!;
    cut(made, start, start + length);
    made.side.bars = made.side.bars
      .filter((_, at) => at !== index)
      .map((bar) => (bar.start > start ? { ...bar, start: bar.start - length } : bar));
  },
  'bar inserted': (made, random) => {
    const full = Math.max(...made.side.bars.map((each) => each.length));
    const whole = made.side.bars.filter((each) => each.length === full);
    const bar = whole[pick(whole.length, random)]!;
    // Other music: that of a bar, turned round in time and a third higher.
    const notes = within(made, bar.start, bar.start + bar.length).map((note) => {
      const start = Math.max(
        bar.start,
        2 * bar.start + bar.length - Math.min(note.end, bar.start + bar.length),
      );
      return {
        ...note,
        key: Math.min(120, note.key + 3),
        start,
        end: Math.max(start + 1, 2 * bar.start + bar.length - note.start),
      };
    });
    const { length } = made.side.bars;
    insert(made, length - 1 - pick(0.25 * length, random), [bar], notes, false);
  },
  'bars again': (made, random) => {
    const { length } = made.side.bars;
    const count = Math.max(2, Math.min(8, Math.floor(length / 5)));
    const from = Math.floor(0.45 * length) + pick(0.1 * length, random);
    const bars = made.side.bars.slice(from, from + count);
    const last = bars.at(-1)!;
    insert(made, from + count, bars, within(made, bars[0]!.start, last.start + last.length), true);
  },
  'part transposed': (made, random) => shifted(made, 2, random),
  'part an octave up': (made, random) => shifted(made, 12, random),
  'tracks merged': (made, random) => {
    const lines = made.side.lines.filter(({ id }) => !made.whole.has(id));
    if (lines.length < 2) return;
    const from = pick(lines.length, random);
    // The smaller of two goes into the larger.
    const [small, large] = [lines[from]!, lines[(from + 1) % lines.length]!].sort(
      (a, b) => a.notes.length - b.notes.length,
    ) as [ReadLine, ReadLine];
    const line = made.side.lines.indexOf(large);
    for (const note of small.notes) {
      if (!made.added.has(note.id)) say(made, note.id, 'part');
      large.notes.push({ ...note, line });
    }
    small.notes = [];
  },
  'other tempos': ({ side }, random) => {
    side.bars = side.bars.map((bar) => ({ ...bar, tempo: 60 + pick(120, random) }));
  },
  'all transposed': ({ side }) => {
    for (const { notes } of side.lines) for (const note of notes) note.key -= 3;
  },
  // Two beats of lead-in, and bars of five quarters.
  'other bar lines': ({ side }) => {
    const end = side.bars.at(-1)!.start + side.bars.at(-1)!.length + 2 * QUARTER;
    later(side, (moment) => moment + 2 * QUARTER);
    side.bars = barsOf(side, end, 5 * QUARTER, '5/4');
  },
  // Played without a click: a beat is now shorter, now longer than the file's.
  'free time': ({ side }) => {
    const end = side.bars.at(-1)!.start + side.bars.at(-1)!.length;
    later(side, (moment) => 0.83 * moment + 0.9 * QUARTER * Math.sin(moment / (7 * QUARTER)));
    side.bars = barsOf(side, 0.83 * end, 4 * QUARTER, '4/4');
  },
};

function later(side: Side, way: (moment: number) => number): void {
  for (const { notes } of side.lines)
    for (const note of notes) {
      note.start = Math.max(0, way(note.start));
      note.end = Math.max(note.start + 1, way(note.end));
    }
}

const barsOf = ({ bars }: Side, end: number, length: number, meter: string): ReadBar[] =>
  Array.from({ length: Math.ceil(end / length) }, (_, written) => ({
    ...bars[0]!,
    start: written * length,
    length,
    written,
    number: String(written + 1),
    meter,
  }));
