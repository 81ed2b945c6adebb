import { lastAtOrBefore } from '../basics/search';
import type { Desk } from '../clean/desk';
import type { Brief } from '../decisions/brief';
import { isOverPassage, saysWhen } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { type Beat, beatsOfFrame } from '../model/beats';
import { barsOfPiece, secondsAt, tickAt } from '../model/clock';
import { barsOfScore, type Frame, frameBars, momentOf, tickOfMoment } from '../model/frame';
import { barIndexOf, type Score } from '../model/score';
import { type Moment, momentOfText, QUARTER, textOfMoment } from '../model/time';
import { barsAcross } from '../reconcile/page-bars';

/** A place this far from any beat of the new time, in beats, has none to hold on to. */
const OFF_BEAT = 0.25;
/** There it is written to the nearest of these. */
const NEAREST = QUARTER / 24;

/**
 * The brief of a desk whose time was laid out anew, with all that was decided
 * about passages and places moved along with the music: passages from bar to
 * bar, places by the beats that they stand in.
 *
 * @param old as it was before
 * @param pages of a score of which another version counts: both, as they came
 */
export function reanchored(old: Desk, now: Desk, pages: Pages | null = null): Brief {
  const way = wayBetween(old, now);
  const tickOf = passageTicks(old, now, way);
  const momentOf = placeMoments(old, now, way);
  const isSamePages = now.written !== null && now.version === old.version;
  const moved = (directive: PlainDirective): PlainDirective => {
    if (!saysWhen(directive)) return directive;
    // Of a score they say where on its pages, whatever is played of these.
    if (isSamePages && ON_PAGES.has(directive.kind)) return directive;
    if (pages && ON_PAGES.has(directive.kind)) return onPages(directive, pages);
    if (directive.kind === 'bar-sign')
      return { ...directive, at: textOfMoment(momentOf(momentOfText(directive.at))) };
    if (directive.kind === 'write') {
      const [start, end] = [directive.start, directive.end].map((text) => momentOf(momentOfText(text))) as [
        Moment,
        Moment,
      ];
      return { ...directive, start: textOfMoment(start), end: textOfMoment(Math.max(start + 1, end)) };
    }
    if (directive.kind === 'place') {
      const along = (text: string | null | undefined) =>
        text ? textOfMoment(momentOf(momentOfText(text))) : text;
      const { start, end, ...others } = directive;
      return {
        ...others,
        ...(start !== undefined && { start: along(start) }),
        ...(end !== undefined && { end: along(end) }),
      } as PlainDirective;
    }
    if (directive.kind === 'curve') return { ...directive, points: pointsAlong(directive.points, way) };
    if (directive.kind === 'add') {
      const on = Math.round(way(directive.on));
      return { ...directive, on, off: Math.max(on + 1, Math.round(way(directive.off))) };
    }
    if (directive.kind === 'played') {
      const { on, off, ...others } = directive;
      return {
        ...others,
        ...(typeof on === 'number' && { on: Math.round(way(on)) }),
        ...(typeof off === 'number' && { off: Math.max(1, Math.round(way(off))) }),
      };
    }
    if (!isOverPassage(directive)) return directive;
    const { from, to } = directive;
    const begin = from === undefined ? from : tickOf(from);
    const end = to === undefined ? to : tickOf(to);
    // Bars of it may have been moved away from the others.
    const isTorn = begin !== undefined && end !== undefined && end <= begin;
    return {
      ...directive,
      ...(begin !== undefined && { from: begin }),
      ...(end !== undefined && { to: isTorn ? begin + to! - from! : end }),
    };
  };
  const stays = staysIn(old, now, pages);
  return { ...now.brief, directives: now.brief.directives.filter(stays).map(moved) };
}

/** What of a score says where on its pages. */
const ON_PAGES: ReadonlySet<PlainDirective['kind']> = new Set<PlainDirective['kind']>([
  'place',
  'write',
  'bar-sign',
]);

/** Two versions of a score as they came, before what was decided about their notes. */
export interface Pages {
  old: Score;
  now: Score;
}

/** A moment of a score on the pages of another version; null where that has not its bar. */
function acrossPages({ old, now }: Pages, text: string): string | null {
  const moment = momentOfText(text);
  const bar = barIndexOf(old.bars, moment);
  const there = barsAcross(old, now).get(bar);
  return there === undefined ? null : textOfMoment(now.bars[there]!.start + moment - old.bars[bar]!.start);
}

/** What says where on the pages of a score, on those of another version; what has no place there stays as it is. */
function onPages(directive: PlainDirective, pages: Pages): PlainDirective {
  const along = (text: string) => acrossPages(pages, text) ?? text;
  if (directive.kind === 'bar-sign') return { ...directive, at: along(directive.at) };
  if (directive.kind !== 'write' && directive.kind !== 'place') return directive;
  const { start, end } = directive;
  const moved = start ? along(start) : start;
  // It lasts as long as it did.
  const by = start && moved ? momentOfText(moved) - momentOfText(start) : null;
  const until = end && by !== null ? textOfMoment(momentOfText(end) + by) : end && along(end);
  return { ...directive, ...(start && { start: moved }), ...(end && { end: until }) } as PlainDirective;
}

/** Whether what was put in has a place in a new version: what stood in bars that are gone went with them. */
function staysIn(old: Desk, now: Desk, pages: Pages | null): (directive: PlainDirective) => boolean {
  const { carried } = now;
  if (now.version <= old.version || now.source.source !== old.source.source) return () => true;
  return (directive) => {
    if (pages && directive.kind === 'write') return acrossPages(pages, directive.start) !== null;
    if (pages && directive.kind === 'bar-sign') return acrossPages(pages, directive.at) !== null;
    return directive.kind !== 'add' || !carried || carried.stays(directive.on - shiftOf(old));
  };
}

/** Points of a curve where they sound; of several that fall on one tick the last holds. */
function pointsAlong<T extends { tick: number }>(points: readonly T[], way: (tick: number) => number): T[] {
  const moved = points.map((point) => ({ ...point, tick: Math.round(way(point.tick)) }));
  return moved.filter(({ tick }, index) => tick !== moved[index + 1]?.tick);
}

/** From ticks of the one to ticks of the other: between versions as their bars lie over each other, else what sounds at one moment is one moment. */
function wayBetween(old: Desk, now: Desk): (tick: number) => number {
  const across = betweenVersions(old, now);
  if (across) return (tick) => Math.max(0, across(tick - shiftOf(old)) + shiftOf(now));
  const before = old.performance.strands.flatMap(({ notes }) => notes.slice(0, 1))[0];
  const after = now.performance.strands
    .flatMap((strand) => strand.notes)
    .find((note) => note.id === before?.id);
  const [from, to] = [old.performance.clock, now.performance.clock];
  // Silence may have been taken off, or given back.
  const ahead = before && after ? secondsAt(to, after.on) - secondsAt(from, before.on) : 0;
  return (tick) => Math.max(0, tickAt(to, secondsAt(from, tick) + ahead));
}

/** From ticks of one version of the source to ticks of the next or the one before; null for the same one. */
function betweenVersions(old: Desk, now: Desk): ((tick: number) => number) | null {
  if (now.version === old.version || now.source.source !== old.source.source) return null;
  if (now.version > old.version) return now.carried?.toNew ?? null;
  const { carried } = old;
  return carried && ((tick) => carried.toOld(tick) ?? tick);
}

/** How much later all stands once it is cleaned, in ticks. */
function shiftOf({ source, performance }: Desk): number {
  const first = source.strands[0]?.notes[0];
  const cleaned = performance.strands.flatMap(({ notes }) => notes).find(({ id }) => id === first?.id);
  return first && cleaned ? cleaned.on - first.on : 0;
}

/** Where passages begin and end: what was a bar line stays one. */
function passageTicks(old: Desk, now: Desk, way: (tick: number) => number): (tick: number) => number {
  const linesOf = ({ performance: { clock, end } }: Desk) => barsOfPiece(clock, end).map((bar) => bar.start);
  const wereLines = new Set(linesOf(old));
  const lines = linesOf(now);
  return (tick) => {
    const moved = way(tick);
    if (!wereLines.has(tick)) return Math.round(moved);
    const at = lastAtOrBefore(lines, moved, (line) => line);
    const [low, high] = [lines[at]!, lines[at + 1]];
    return high !== undefined && high - moved < moved - low ? high : low;
  };
}

interface Beats {
  frame: Frame;
  beats: readonly Beat[];
}

function beatsOf({ performance: { clock, end } }: Desk): Beats {
  const frame = frameBars(clock, barsOfScore(clock, end));
  return { frame, beats: beatsOfFrame(frame) };
}

/** Where notes are placed: in the beat that sounds where theirs did, as far into it. */
function placeMoments(old: Desk, now: Desk, way: (tick: number) => number): (moment: Moment) => Moment {
  const before = beatsOf(old);
  const after = beatsOf(now);
  const along = (moment: Moment): Moment => momentOf(after.frame, way(tickOfMoment(before.frame, moment)));
  /** Where a beat begins now: on a beat, unless there is none near. */
  const held = (moment: Moment): Moment => {
    const now = along(moment);
    const at = lastAtOrBefore(after.beats, now, ({ start }) => start);
    const [low, high] = [after.beats[at]!, after.beats[at + 1]];
    const near = high && high.start - now < now - low.start ? high : low;
    if (Math.abs(near.start - now) <= OFF_BEAT * near.length) return near.start;
    return Math.round(now / NEAREST) * NEAREST;
  };
  return (moment) => {
    const beat = before.beats[lastAtOrBefore(before.beats, moment, ({ start }) => start)]!;
    const start = held(beat.start);
    const share = (moment - beat.start) / beat.length;
    return Math.max(0, Math.round(start + share * (held(beat.start + beat.length) - start)));
  };
}
