import type { Anchor, Mark } from '../model/marks';
import type { Bar, Item, Part, PartBar, Score, VoiceLine } from '../model/score';
import type { Moment, Span } from '../model/time';
import { beamVoice } from '../notate/beams';
import { writeBar } from '../notate/rhythm';

/** A score some of whose bars are two, and where each of its bars begins among them. */
export interface SplitScore {
  score: Score;
  /** For each bar of before its first one now (index). */
  first: number[];
}

/**
 * Divides bars before their upbeats, as where a section ends and another begins with one: what is before the upbeat
 * stays a bar of its number, the upbeat is one that lacks its front.
 *
 * @param which bars (indices); nothing sounds over the place where each is divided
 * @param upbeat how much of their ends is divided from them
 */
export function splitBars(score: Score, which: ReadonlySet<number>, upbeat: Span): SplitScore {
  const first: number[] = [];
  let count = 0;
  for (const { index } of score.bars) {
    first.push(count);
    count += which.has(index) ? 2 : 1;
  }
  const bars = score.bars
    .flatMap((bar): Bar[] => (which.has(bar.index) ? halvesOf(bar, upbeat) : [bar]))
    .map((bar, index) => ({ ...bar, index }));
  const place = (bar: number, at: Moment, isEnd = false): { bar: number; at: Moment } => {
    const own = score.bars[bar]!;
    const head = own.length - upbeat;
    const isLater = which.has(bar) && (isEnd ? at > head : at >= head);
    return isLater ? { bar: first[bar]! + 1, at: at - head } : { bar: first[bar]!, at };
  };
  const ofBar = <T extends { bar: number }>(list: readonly T[]): T[] =>
    list.map((each) => ({ ...each, bar: first[each.bar]! }));
  const placed = <T extends { bar: number; at: Moment }>(list: readonly T[]): T[] =>
    list.map((each) => ({ ...each, ...place(each.bar, each.at) }));
  const { swings } = score;
  return {
    first,
    score: {
      ...score,
      bars,
      keys: ofBar(score.keys),
      rehearsals: ofBar(score.rehearsals),
      tempos: placed(score.tempos),
      ...(swings && {
        swings: swings.map((swing) => ({
          ...swing,
          from: first[swing.from]!,
          to: first[swing.to] ?? bars.length,
        })),
      }),
      parts: score.parts.map((part): Part => {
        const anchor = (own: Anchor, isEnd: boolean): Anchor =>
          'note' in own ? own : { ...own, ...place(own.bar, own.at, isEnd) };
        return {
          ...part,
          bars: part.bars.flatMap((bar, index) =>
            which.has(index) ? partHalves(bar, score.bars[index]!, upbeat) : [bar],
          ),
          ...(part.spanners && {
            spanners: part.spanners.map((spanner) => ({
              ...spanner,
              from: anchor(spanner.from, false),
              to: anchor(spanner.to, true),
            })),
          }),
          ...(part.changes && { changes: placed(part.changes) }),
        };
      }),
    },
  };
}

/** What of a bar stands before its upbeat, and the upbeat. */
function halvesOf(bar: Bar, upbeat: Span): [Bar, Bar] {
  const { left, right, ...own } = bar;
  const head = bar.length - upbeat;
  return [
    { ...own, length: head, ...(left && { left }) },
    { ...own, start: bar.start + head, length: upbeat, missing: bar.missing + head, ...(right && { right }) },
  ];
}

function partHalves(own: PartBar, bar: Bar, upbeat: Span): [PartBar, PartBar] {
  const head = bar.length - upbeat;
  const [before, after] = halvesOf(bar, upbeat);
  const { voices, marks = [], ...rest } = own;
  const half = (of: Bar, from: Moment, kept: readonly Mark[]): PartBar => ({
    ...rest,
    voices: withoutIdle(voices.map((line) => halfOf(line, of, from))),
    ...(kept.length > 0 && { marks: kept.map((mark) => ({ ...mark, at: mark.at - from })) }),
  });
  return [
    half(
      before,
      0,
      marks.filter(({ at }) => at < head),
    ),
    half(
      after,
      head,
      marks.filter(({ at }) => at >= head),
    ),
  ];
}

/** Voices that have something to play, and the first of each staff. */
const withoutIdle = (lines: readonly VoiceLine[]): VoiceLine[] =>
  lines.filter(
    ({ staff, items }, at) =>
      items.some(({ kind }) => kind === 'chord') || lines.findIndex((each) => each.staff === staff) === at,
  );

/** The items of a voice within a part of its bar, its rests written anew. */
function halfOf(line: VoiceLine, bar: Bar, from: Moment): VoiceLine {
  const to = from + bar.length;
  const inside = line.items.filter(({ onset, duration }) => onset < to && onset + duration > from);
  const hidden = inside.every((item) => item.kind === 'rest' && item.hidden) ? { hidden: true as const } : {};
  if (inside.every(({ kind }) => kind === 'rest')) {
    const value = inside[0]?.value ?? { type: 'whole', dots: 0 };
    const rest: Item = { kind: 'rest', onset: 0, duration: bar.length, value, wholeBar: true, ...hidden };
    return { ...line, items: [rest] };
  }
  const moved = inside.map((item): Item => {
    if (item.kind === 'rest') return { ...item, onset: item.onset - from };
    const { beams: _, ...free } = item;
    return { ...free, onset: item.onset - from };
  });
  // Rests of tuplets stay as they are, since their tuplet lies within.
  const items = moved.some(({ tuplet }) => tuplet) ? clipped(moved, bar) : restWritten(moved, bar);
  beamVoice(items, bar);
  return { ...line, items };
}

/** Rests that reach over the ends of the part are written for what is left of them. */
const clipped = (items: readonly Item[], bar: Bar): Item[] =>
  items.flatMap((item) => {
    const start = Math.max(0, item.onset);
    const end = Math.min(bar.length, item.onset + item.duration);
    return end - start === item.duration ? [item] : rests(start, end, bar);
  });

/** Chords with the time between them as rests by rule. */
function restWritten(items: readonly Item[], bar: Bar): Item[] {
  const out: Item[] = [];
  let at = 0;
  for (const item of items) {
    if (item.kind === 'rest') continue;
    if (item.onset > at) out.push(...rests(at, item.onset, bar));
    out.push(item);
    at = item.onset + item.duration;
  }
  if (at < bar.length) out.push(...rests(at, bar.length, bar));
  return out;
}

function rests(from: Moment, to: Moment, bar: Bar): Item[] {
  const zero = bar.missing;
  const stretches = [
    { start: zero, end: zero + from, content: false },
    { start: zero + from, end: zero + to, content: true },
    { start: zero + to, end: zero + bar.length, content: false },
  ].filter(({ start, end }) => end > start);
  return writeBar(bar, stretches).flatMap(({ content, onset, duration, value }): Item[] =>
    content ? [{ kind: 'rest', onset: onset - zero, duration, value }] : [],
  );
}
