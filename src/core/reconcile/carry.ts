import { barsOfPiece } from '../model/clock';
import { type Frame, frameBars, frameIndex, momentOf, tickOfMoment } from '../model/frame';
import { type EventId, eventId, indexOf, type SourceId, type StrandId, strandId } from '../model/ids';
import type { Performance, PlayedNote, Strand } from '../model/performance';
import { reconcileWith } from '.';
import type { BarPair, Ledger } from './ledger';
import { type Side, sideOfPerformance } from './reading';
import { type TimeMap, timeMap } from './time-map';

/** A note that is new in a version has a number from here on, a range for each version. */
const NEW_FROM = 1_000_000;
const RANGES = 8;
/** The same for tracks. */
const NEW_TRACKS = 1000;

/** What became of a strand in a new version. */
export interface StrandChange {
  /** Under which it goes now; of one that is gone, under which it went. */
  id: StrandId;
  name: string;
  /** What it was called, where that is another name. */
  was: string | null;
  /** `loudness`: the music is the same, and some of it is louder or softer. */
  state: 'same' | 'loudness' | 'changed' | 'new' | 'gone';
  /** Notes that are as they were, are only louder or softer, have another key, place or length, came, and went. */
  same: number;
  loudness: number;
  changed: number;
  added: number;
  missing: number;
  /** Bars of the new version (indices) in which its music is not as it was; its loudness, where only that changed. */
  bars: number[];
}

/** A new version of a performance in which everything that survives has the id that it had. */
export interface Carried {
  performance: Performance;
  before: Performance;
  /** First tick of each bar of the new version, and of the one before. */
  barTicks: readonly number[];
  barTicksBefore: readonly number[];
  strands: StrandChange[];
  bars: BarPair[];
  /** Notes of the version before that are in the new one no more. */
  lost: ReadonlySet<EventId>;
  /** The tick of the new version at which a tick of the one before sounds; the next that has a place, where it was cut. */
  toNew: (tick: number) => number;
  /** The other way round; null for what the version before has no place for. */
  toOld: (tick: number) => number | null;
  /** Whether the new version has a place for a tick of the one before. */
  stays: (tick: number) => boolean;
}

/**
 * Identity carried over to a new version: its strands and notes are those of the
 * version before wherever both are laid over each other, whatever they are called,
 * wherever they stand and however many bars came or went. So what was decided of
 * them stands as it is. What is new gets ids that the version before has not.
 */
export function carryOver(old: Performance, now: Performance, version: number): Carried {
  const { ledger, toTwo, toOne } = reconcileWith(sideOfPerformance(old), sideOfPerformance(now));
  const pairs = strandPairs(ledger, old, now);
  const ids = new Map(
    now.strands.map((strand, index): [number, StrandId] => {
      const own = pairs.get(index);
      return [index, own === undefined ? newStrandId(now.source, strand, version) : old.strands[own]!.id];
    }),
  );
  const partners = new Map<string, EventId>();
  const lost = new Set<EventId>(old.strands.flatMap(({ notes }) => notes.map(({ id }) => id)));
  for (const { one, two } of ledger?.entries ?? []) {
    if (!one || !two || pairs.get(two.line) !== one.line) continue;
    partners.set(`${two.line} ${two.id}`, one.id as EventId);
    lost.delete(one.id as EventId);
  }
  const strands = now.strands.map((strand, index): Strand => {
    const id = ids.get(index)!;
    const taken = new Set<EventId>();
    for (const note of strand.notes) {
      const known = partners.get(`${index} ${note.id}`);
      if (known) taken.add(known);
    }
    let extra = 0;
    const notes = strand.notes.map((note): PlayedNote => {
      const own = indexOf(note.id);
      let named = partners.get(`${index} ${note.id}`);
      while (!named) {
        const fresh = eventId(id, NEW_FROM * (1 + ((version - 2) % RANGES)) + own + extra);
        if (taken.has(fresh)) extra++;
        else named = fresh;
      }
      taken.add(named);
      return named === note.id ? note : { ...note, id: named, order: note.order ?? own };
    });
    return { ...strand, id, notes };
  });
  return carriedAs(old, { ...now, strands }, pairs, lost, { bars: ledger?.bars ?? [], toTwo, toOne });
}

/**
 * The same where notes and strands have the names of the version before already, as those of scores do.
 * @param known bars as they are played that are the same in both, in the order of the first; null where that is not known
 */
export function carriedByName(
  old: Performance,
  now: Performance,
  known: readonly BarPair[] | null = null,
): Carried {
  const pairs = new Map<number, number>();
  now.strands.forEach(({ id }, index) => {
    const own = old.strands.findIndex((strand) => strand.id === id);
    if (own >= 0) pairs.set(index, own);
  });
  const here = new Set<EventId>(now.strands.flatMap(({ notes }) => notes.map(({ id }) => id)));
  const there = old.strands.flatMap(({ notes }) => notes.map(({ id }) => id));
  const sides = [sideOfPerformance(old), sideOfPerformance(now)] as const;
  const laid = (known && laidBy(known, ...sides)) ?? reconciled(...sides);
  return carriedAs(old, now, pairs, new Set(there.filter((id) => !here.has(id))), laid);
}

/** How the bars of two versions lie over each other, and their time. */
interface Laid {
  bars: BarPair[];
  toOne: TimeMap;
  toTwo: TimeMap;
}

function reconciled(one: Side, two: Side): Laid {
  const { ledger, toOne, toTwo } = reconcileWith(one, two);
  return { bars: ledger?.bars ?? [], toOne, toTwo };
}

/** The same by bars that are known to be the same; null where they are not those of the performances. */
function laidBy(pairs: readonly BarPair[], { bars: one }: Side, { bars: two }: Side): Laid | null {
  const [first, second] = (['one', 'two'] as const).map(
    (side) => 1 + Math.max(-1, ...pairs.map((each) => each[side] ?? -1)),
  ) as [number, number];
  if (first < one.length || second < two.length) return null;
  const within = (index: number | null, count: number) => (index !== null && index < count ? index : null);
  const bars = pairs.map(
    (pair): BarPair => ({
      one: within(pair.one, one.length),
      two: within(pair.two, two.length),
    }),
  );
  const turned = bars
    .map(({ one: a, two: b }) => ({ one: b, two: a }))
    .sort((a, b) => (a.one ?? -1) - (b.one ?? -1));
  return { bars, toTwo: timeMap(bars, [one, two]), toOne: timeMap(turned, [two, one]) };
}

function carriedAs(
  old: Performance,
  performance: Performance,
  pairs: ReadonlyMap<number, number>,
  lost: ReadonlySet<EventId>,
  { bars, toTwo, toOne }: Laid,
): Carried {
  const [before, after] = [frameOf(old), frameOf(performance)];
  const timing = {
    toNew: (tick: number) => Math.round(tickOfMoment(after, toTwo.near(momentOf(before, tick)))),
    stays: (tick: number) => toTwo.at(momentOf(before, tick)) !== null,
    toOld: (tick: number) => {
      const at = toOne.at(momentOf(after, tick));
      return at === null ? null : Math.round(tickOfMoment(before, Math.max(0, at)));
    },
  };
  return {
    performance,
    before: old,
    barTicks: after.ticks,
    barTicksBefore: before.ticks,
    strands: changesOf(old, performance, pairs, lost, timing.toNew, after),
    bars,
    lost,
    ...timing,
  };
}

const frameOf = ({ clock, end }: Performance): Frame => frameBars(clock, barsOfPiece(clock, end));

/** The strand of the version before that each strand is, by what they play; by track and name where nothing is played alike. */
function strandPairs(ledger: Ledger | null, old: Performance, now: Performance): Map<number, number> {
  const pairs = new Map<number, number>();
  const used = new Set<number>();
  for (const { one, two, whole } of ledger?.lines ?? [])
    if (one !== null && two !== null && whole) {
      pairs.set(two, one);
      used.add(one);
    }
  // All of its notes may be others: then its name says what it is.
  now.strands.forEach((strand, two) => {
    if (pairs.has(two)) return;
    const one = old.strands.findIndex(
      ({ name, channel }, index) =>
        !used.has(index) && name !== '' && name === strand.name && channel === strand.channel,
    );
    if (one < 0) return;
    pairs.set(two, one);
    used.add(one);
  });
  return pairs;
}

const newStrandId = (source: SourceId, { track, channel }: Strand, version: number): StrandId =>
  strandId(source, NEW_TRACKS * version + track, channel);

function changesOf(
  old: Performance,
  now: Performance,
  pairs: ReadonlyMap<number, number>,
  lost: ReadonlySet<EventId>,
  toNew: Carried['toNew'],
  frame: Frame,
): StrandChange[] {
  const barOf = (tick: number) => frameIndex(frame, tick);
  const scale = now.clock.ticksPerQuarter / old.clock.ticksPerQuarter;
  const before = new Map<EventId, PlayedNote>(
    old.strands.flatMap(({ notes }) => notes.map((note) => [note.id, note])),
  );
  const gone = old.strands.map(({ notes }) => notes.filter(({ id }) => lost.has(id)).map(({ on }) => on));
  const kept = new Set(pairs.values());
  return [
    ...now.strands.map((strand, index): StrandChange => {
      const own = pairs.get(index);
      const was = own === undefined ? undefined : old.strands[own];
      const missing = own === undefined ? [] : gone[own]!;
      const bars = new Set(missing.map((tick) => barOf(toNew(tick))));
      const loud = new Set<number>();
      const counts = { same: 0, loudness: 0, changed: 0, added: 0 };
      for (const note of strand.notes) {
        const one = was && before.get(note.id);
        const isOther = !one || !isSame(one, note, toNew, scale);
        if (isOther) bars.add(barOf(note.on));
        else if (one.velocity !== note.velocity) loud.add(barOf(note.on));
        counts[!one ? 'added' : isOther ? 'changed' : one.velocity === note.velocity ? 'same' : 'loudness']++;
      }
      const isSameMusic = was && bars.size === 0 && was.name === strand.name;
      return {
        id: strand.id,
        name: strand.name,
        was: was && was.name !== strand.name ? was.name : null,
        state: !was ? 'new' : !isSameMusic ? 'changed' : loud.size > 0 ? 'loudness' : 'same',
        ...counts,
        missing: missing.length,
        bars: [...(isSameMusic ? loud : bars)].sort((a, b) => a - b),
      };
    }),
    ...old.strands.flatMap((strand, index): StrandChange[] =>
      kept.has(index)
        ? []
        : [
            {
              id: strand.id,
              name: strand.name,
              was: null,
              state: 'gone',
              same: 0,
              loudness: 0,
              changed: 0,
              added: 0,
              missing: strand.notes.length,
              bars: [],
            },
          ],
    ),
  ];
}

/** Ticks of another division may lie between those of this one. */
const ROUNDED = 1;

const isSame = (one: PlayedNote, two: PlayedNote, toNew: Carried['toNew'], scale: number): boolean =>
  one.key === two.key &&
  Math.abs(toNew(one.on) - two.on) <= ROUNDED &&
  Math.abs((one.off - one.on) * scale - (two.off - two.on)) <= ROUNDED;
