import { foldedBars, playedAs, type Repeat, type Return } from '../model/form';
import type { Anchor, Lyric, Spanner } from '../model/marks';
import {
  type Bar,
  type Barline,
  type Chord,
  type Item,
  type Jump,
  type KeySignature,
  keyInBar,
  type Note,
  type Part,
  type PartBar,
  type PartChange,
  type Score,
  type SwingMark,
  type TempoMark,
} from '../model/score';

/** A folded score, and what of the later times is not in it. */
export interface Folded {
  score: Score;
  /** For each bar as it is played its written bar (indices). */
  writtenAs: number[];
  /** Notes of the performance that are read where others are: they are played again. */
  again: number;
  /** Bars (as played) whose marks are others than those that are written, by part. */
  differences: { part: number; bar: number }[];
  /** Rehearsal marks and tempos of later times (bars as played) that the first has not. */
  unsaid: { bar: number; text: string }[];
  /** Slurs, hairpins and the like over the edge of what is folded, which are left out. */
  cut: number;
}

/**
 * A score whose music is written out, with what comes again as repeats, endings,
 * and D.C. or D.S. It holds the notes of the first time; those of later times are
 * among their sources, and later words are further verses. Bars are numbered as they are written.
 *
 * @param repeats that stand side by side, in order; @param goesBack after them
 */
export function foldScore(score: Score, repeats: readonly Repeat[], goesBack: Return | null): Folded {
  const count = score.bars.length;
  const kept = foldedBars(count, repeats).filter(
    (bar) => !goesBack || bar < goesBack.at || bar >= goesBack.at + goesBack.length,
  );
  const written = new Map(kept.map((bar, index) => [bar, index]));
  const firstTime = playedAs(count, repeats, goesBack);
  const writtenAs = firstTime.map((bar) => written.get(bar)!);
  const signs = signsOf(repeats, goesBack, firstTime);
  const bars = numbered(
    kept.map((bar, index) => ({ ...score.bars[bar]!, index, ...signs.get(bar) })),
    score.bars[0]?.number ?? 1,
  );
  const differences: Folded['differences'] = [];
  let again = 0;
  let cut = 0;
  /** Whether a bar comes right after the one that it came after, every time that it is played. */
  const goesOn = (index: number) => kept[index] === (kept[index - 1] ?? -1) + 1 && !bars[index]!.left?.repeat;
  const parts = score.parts.map((part, at): Part => {
    const own = part.bars.map((bar) => ({ ...bar }));
    const passes = new Map<number, number>();
    writtenAs.forEach((index, bar) => {
      const as = kept[index]!;
      passes.set(as, (passes.get(as) ?? 0) + 1);
      if (as === bar) return;
      const joined = withLaterTime(own[as]!, part.bars[bar]!, passes.get(as)!);
      again += joined.again;
      own[as] = joined.bar;
      if (markText(part.bars[as]!) !== markText(part.bars[bar]!) && !joined.onlyWords)
        differences.push({ part: at, bar });
    });
    const places = noteBars(part);
    const { spanners = [], changes = [], ...rest } = part;
    const left = spanners.flatMap((spanner): Spanner[] => {
      const from = places(spanner.from);
      const to = places(spanner.to);
      const isGone = from === undefined || to === undefined || !written.has(from) || !written.has(to);
      // What lies wholly in a later time is written in the first one.
      if (isGone) {
        if (written.has(from ?? -1) !== written.has(to ?? -1)) cut++;
        return [];
      }
      // One that goes on past what is folded ends elsewhere than it seems.
      if (written.get(to)! - written.get(from)! !== to - from) {
        cut++;
        return [];
      }
      return [{ ...spanner, from: moved(spanner.from, written), to: moved(spanner.to, written) }];
    });
    const moves = changesOf(changes, part, kept);
    return {
      ...rest,
      bars: ringingOn(kept.map((bar) => own[bar]!)).map((bar, index) =>
        goesOn(index) ? bar : writtenOut(bar),
      ),
      ...(left.length > 0 && { spanners: left }),
      ...(moves.length > 0 && { changes: moves }),
    };
  });
  const { swings, ...others } = score;
  const still = <T extends { bar: number }>(list: readonly T[]): T[] =>
    list.flatMap((each) => (written.has(each.bar) ? [{ ...each, bar: written.get(each.bar)! }] : []));
  return {
    score: {
      ...others,
      bars,
      keys: keysOf(score, kept),
      tempos: temposOf(score, kept),
      rehearsals: still(score.rehearsals),
      ...(swings && { swings: swingsOf(swings, kept) }),
      parts,
    },
    writtenAs,
    again,
    differences,
    unsaid: unsaidOf(score, firstTime),
    cut,
  };
}

/** A bar that no longer stands after the one that it is like. */
function writtenOut({ shown, ...bar }: PartBar): PartBar {
  return shown === 'slashes' ? { ...bar, shown } : bar;
}

/** What stands over the score in bars that are not written, and not in those that are written for them. */
function unsaidOf({ rehearsals, tempos }: Score, firstTime: readonly number[]): Folded['unsaid'] {
  const later = ({ bar }: { bar: number }) => firstTime[bar] !== bar;
  const marks = rehearsals.filter(later);
  const changes = tempos.filter(
    (tempo) =>
      later(tempo) &&
      (tempo.printed !== null || tempo.text !== undefined) &&
      !tempos.some(
        ({ bar, at, printed, text }) =>
          bar === firstTime[tempo.bar] && at === tempo.at && printed === tempo.printed && text === tempo.text,
      ),
  );
  return [
    ...marks.map(({ bar, text }) => ({ bar, text: `rehearsal mark ${text}` })),
    ...changes.map(({ bar, printed, text }) => ({ bar, text: `tempo ${text ?? printed}` })),
  ].sort((a, b) => a.bar - b.bar);
}

type Signs = Pick<Bar, 'left' | 'right' | 'jumps'>;

function signsOf(
  repeats: readonly Repeat[],
  goesBack: Return | null,
  firstTime: readonly number[],
): Map<number, Signs> {
  const signs = new Map<number, Signs>();
  const put = (bar: number, side: 'left' | 'right', line: Barline) => {
    const before = signs.get(bar) ?? {};
    signs.set(bar, { ...before, [side]: { ...before[side], ...line } });
  };
  const jump = (bar: number, sign: Jump) => {
    const before = signs.get(bar) ?? {};
    signs.set(bar, { ...before, jumps: [...(before.jumps ?? []), sign] });
  };
  for (const { from, length, passes, ending, lastEnding } of repeats) {
    if (from > 0) put(from, 'left', { style: 'heavy-light', repeat: { direction: 'forward' } });
    const times = passes > 2 && lastEnding === 0 ? { times: passes } : {};
    put(from + length - 1, 'right', {
      style: 'light-heavy',
      repeat: { direction: 'backward', ...times },
    });
    if (lastEnding === 0) continue;
    const numbers = Array.from({ length: passes }, (_, pass) => pass + 1);
    put(from + length - ending, 'left', { ending: { numbers, type: 'start' } });
    put(from + length - 1, 'right', { ending: { numbers, type: 'stop' } });
    const last = from + length * passes + length - ending;
    put(last, 'left', { ending: { numbers: [passes + 1], type: 'start' } });
    put(last + lastEnding - 1, 'right', { ending: { numbers: [passes + 1], type: 'discontinue' } });
  }
  if (!goesBack) return signs;
  const { at, to, length, last, fine } = goesBack;
  // The bar before it may itself be a later time of another.
  const before = firstTime[at - 1]!;
  const isWhole = last === before;
  const al = fine ? (isWhole ? '' : ' al Fine') : ' al Coda';
  if (to > 0) jump(to, { kind: 'segno', at: 0 });
  const leave: Jump['kind'] = fine ? 'fine' : 'to-coda';
  const end = Number.POSITIVE_INFINITY;
  if (!(fine && isWhole)) jump(last, { kind: leave, at: end, text: fine ? 'Fine' : 'To Coda' });
  jump(before, {
    kind: to > 0 ? 'dal-segno' : 'da-capo',
    at: end,
    text: `${to > 0 ? 'D.S.' : 'D.C.'}${al}`,
  });
  if (!fine) jump(at + length, { kind: 'coda', at: 0 });
  return signs;
}

/** Bars one after the other, numbered on from the first; what was said of a bar's end stands there. */
function numbered(bars: readonly Bar[], first: number): Bar[] {
  let start = 0;
  let number = first - 1;
  return bars.map((bar, index) => {
    // The upbeat of a later section belongs to the bar before it.
    if (index === 0 || bar.missing === 0) number++;
    const { jumps, ...own } = bar;
    const placed: Bar = {
      ...own,
      start,
      number,
      ...(jumps && { jumps: jumps.map((jump) => ({ ...jump, at: Math.min(jump.at, bar.length) })) }),
    };
    start += bar.length;
    return placed;
  });
}

/** A bar of the first time with what is sung, and from where its notes come, at a later one. */
function withLaterTime(
  first: PartBar,
  later: PartBar,
  pass: number,
): { bar: PartBar; again: number; onlyWords: boolean } {
  let again = 0;
  const isSung = first.voices.some(({ items }) => items.some((item) => item.kind === 'chord' && item.lyrics));
  const notes = (own: readonly Note[], other: readonly Note[]): Note[] =>
    own.map((note, at) => {
      const { sources, tieStop } = other[at]!;
      if (!tieStop) again += sources.length;
      return { ...note, sources: [...note.sources, ...sources] };
    });
  const chord = (own: Chord, other: Chord): Chord => {
    const sung = other.lyrics?.map((lyric): Lyric => ({ ...lyric, verse: (lyric.verse ?? 1) + pass - 1 }));
    const isSame = own.lyrics?.length === other.lyrics?.length && sameWords(own.lyrics, other.lyrics);
    return {
      ...own,
      notes: notes(own.notes, other.notes),
      ...(own.graces && { graces: notes(own.graces, other.graces ?? []) }),
      ...(own.gracesAfter && { gracesAfter: notes(own.gracesAfter, other.gracesAfter ?? []) }),
      ...(sung && (!isSame || isSung) && { lyrics: isSame ? own.lyrics : [...(own.lyrics ?? []), ...sung] }),
    };
  };
  const bar: PartBar = {
    ...first,
    voices: first.voices.map((line, voice) => ({
      ...line,
      items: line.items.map((item, at): Item => {
        const other = later.voices[voice]!.items[at]!;
        return item.kind === 'chord' && other.kind === 'chord' ? chord(item, other) : item;
      }),
    })),
  };
  const silent = ({ voices, marks }: PartBar): PartBar => ({
    ...(marks && { marks }),
    voices: voices.map((line) => ({
      ...line,
      items: line.items.map((item) => (item.kind === 'chord' ? { ...item, lyrics: [] } : item)),
    })),
  });
  return { bar, again, onlyWords: markText(silent(first)) === markText(silent(later)) };
}

const sameWords = (a: readonly Lyric[] | undefined, b: readonly Lyric[] | undefined): boolean =>
  (a ?? []).every(({ text }, at) => text === b?.[at]?.text);

/** Marks, lyrics and the like of a part's bar as a text: what may differ where its notes do not. */
const markText = ({ voices, marks }: PartBar): string =>
  JSON.stringify([
    marks ?? [],
    voices.map(({ items }) =>
      items.map((item) => (item.kind === 'rest' ? null : [item.marks ?? null, item.lyrics ?? null])),
    ),
  ]);

/** In which bar an end of a spanner stands. */
function noteBars({ bars }: Part): (anchor: Anchor) => number | undefined {
  const places = new Map<string, number>();
  bars.forEach(({ voices }, bar) => {
    for (const { items } of voices)
      for (const item of items)
        if (item.kind === 'chord')
          for (const { id } of [...item.notes, ...(item.graces ?? []), ...(item.gracesAfter ?? [])])
            places.set(id, bar);
  });
  return (anchor) => ('note' in anchor ? places.get(anchor.note) : anchor.bar);
}

const moved = (anchor: Anchor, written: ReadonlyMap<number, number>): Anchor =>
  'note' in anchor ? anchor : { ...anchor, bar: written.get(anchor.bar)! };

/** The signatures as the written bars come one after another. */
function keysOf(score: Score, kept: readonly number[]): KeySignature[] {
  return kept.flatMap((bar, index) => {
    const key = keyInBar(score, bar);
    const before = index > 0 ? keyInBar(score, kept[index - 1]!) : null;
    const isSame = before?.fifths === key.fifths && before.minor === key.minor;
    return isSame && !score.keys.some((each) => each.bar === bar) ? [] : [{ ...key, bar: index }];
  });
}

/** Where it is swung, written bars one after another. */
function swingsOf(swings: readonly SwingMark[], kept: readonly number[]): SwingMark[] {
  const out: SwingMark[] = [];
  kept.forEach((bar, index) => {
    const swing = swings.find(({ from, to }) => from <= bar && bar < to);
    const last = out.at(-1);
    if (!swing) return;
    if (last?.to === index && last.value === swing.value && last.ratio === swing.ratio) last.to = index + 1;
    else out.push({ ...swing, from: index, to: index + 1 });
  });
  return out;
}

/** Tempos as written bars come one after another: what holds where bars are gone between is said again. */
function temposOf({ tempos }: Score, kept: readonly number[]): TempoMark[] {
  const until = (bar: number) => tempos.findLast((tempo) => tempo.bar < bar);
  return kept.flatMap((bar, index) => {
    const own = tempos.filter((tempo) => tempo.bar === bar).map((tempo) => ({ ...tempo, bar: index }));
    const holds = until(bar);
    const before = index > 0 ? until(kept[index - 1]! + 1) : holds;
    const isNews = holds && holds.quartersPerMinute !== before?.quartersPerMinute;
    return isNews && own[0]?.at !== 0
      ? [{ ...holds, bar: index, at: 0, printed: Math.round(holds.quartersPerMinute) }, ...own]
      : own;
  });
}

/** Clefs and the like as written bars come one after another. */
function changesOf(changes: readonly PartChange[], part: Part, kept: readonly number[]): PartChange[] {
  const what = (change: PartChange) => (change.kind === 'clef' ? `clef ${change.staff}` : change.kind);
  const value = ({ bar, at, ...change }: PartChange) => JSON.stringify(change);
  const holding = new Map<string, string>(
    part.clefs.map((clef, staff) => [
      `clef ${staff + 1}`,
      JSON.stringify({ kind: 'clef', staff: staff + 1, clef }),
    ]),
  );
  return kept.flatMap((bar, index) => {
    // What holds at its start, and does not where the bar before is another one.
    const opening = new Map<string, PartChange>();
    for (const change of changes)
      if (change.bar < bar || (change.bar === bar && change.at === 0)) opening.set(what(change), change);
    const said = [...opening].flatMap(([key, change]): PartChange[] =>
      holding.get(key) === value(change) ? [] : [{ ...change, bar: index, at: 0 }],
    );
    const inside = changes
      .filter((change) => change.bar === bar && change.at > 0)
      .map((change) => ({ ...change, bar: index }));
    for (const change of [...said, ...inside]) holding.set(what(change), value(change));
    return [...said, ...inside];
  });
}

/** A tie into a bar that stands elsewhere is one to nothing, as before a repeat sign (common practice). */
function ringingOn(bars: readonly PartBar[]): PartBar[] {
  return bars.map((bar, index) => {
    const next = bars[index + 1]?.voices.flatMap(({ items: [first] }) =>
      first?.kind === 'chord' ? first.notes.flatMap(({ key, tieStop }) => (tieStop ? key : [])) : [],
    );
    const isLost = ({ tieStart, key }: Note) => tieStart && !next?.includes(key);
    if (!bar.voices.some(({ items }) => isOpen(items.at(-1), isLost))) return bar;
    return {
      ...bar,
      voices: bar.voices.map((line) => {
        const last = line.items.at(-1);
        if (last?.kind !== 'chord' || !isOpen(last, isLost)) return line;
        const notes = last.notes.map((note): Note => {
          if (!isLost(note)) return note;
          const { tieStart: _, ...free } = note;
          return { ...free, ringsOn: true };
        });
        return { ...line, items: [...line.items.slice(0, -1), { ...last, notes }] };
      }),
    };
  });
}

const isOpen = (item: Item | undefined, isLost: (note: Note) => boolean | undefined): boolean =>
  item?.kind === 'chord' && item.notes.some(isLost);
