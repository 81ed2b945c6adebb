import { barsOfPiece, type Clock, tempoAt } from '../model/clock';
import { type Frame, frameBars, momentOf } from '../model/frame';
import { PERCUSSION_CHANNEL, type Performance } from '../model/performance';
import { movedBy, type Pitch } from '../model/pitch';
import { keyInBar, type Note, type Part, type Score } from '../model/score';
import { swingInBar, swungMoment } from '../model/swing';
import type { Moment, Span } from '../model/time';
import { type PlayedBar, playedOrder } from '../perform/bar-order';
import { temposOf } from '../perform/tempo';

/** A note of a reading. Moments from the start of its playing; `key` sounding. */
export interface ReadNote {
  /** The event of a performance, or the id of the written note with which it begins. */
  id: string;
  /** Index of its line. */
  line: number;
  key: number;
  start: Moment;
  end: Moment;
  grace?: true;
  /** How much later than its place it sounds, where it is swung. */
  late?: Span;
  /** As spelled, in sounding pitch. */
  pitch?: Pitch;
  /** From 1 within its staff, and the staff from 1 within its part. */
  voice?: number;
  staff?: number;
}

/** A strand or a part. */
export interface ReadLine {
  id: string;
  name: string;
  unpitched: boolean;
  /** In order of their starts, then keys. */
  notes: ReadNote[];
}

/** A bar in the order of playing: one that is repeated is there as often as it is played. */
export interface ReadBar {
  start: Moment;
  length: Span;
  /** Index of the bar as written, and its printed number. */
  written: number;
  number: string;
  meter: string;
  /** Lengths of its beats, and what an incomplete one lacks at its front. */
  groups: Span[];
  missing: Span;
  fifths: number | null;
  /** Quarter notes a minute at its start; null where nothing says it. */
  tempo: number | null;
}

/** One side of a comparison: what is to sound and when, whatever said so. */
export interface Side {
  kind: 'performance' | 'score';
  lines: ReadLine[];
  bars: ReadBar[];
}

const meterText = ({ numerator, denominator }: { numerator: number; denominator: number }): string =>
  `${numerator}/${denominator}`;

/** The bars of a performance, by which its ticks are moments of its side. */
export const frameOfPerformance = ({ clock, end }: Performance): Frame =>
  frameBars(clock, barsOfPiece(clock, end));

/** A performance as it was played, each strand a line. */
export function sideOfPerformance(performance: Performance): Side {
  const { clock, strands, keys } = performance;
  const frame = frameOfPerformance(performance);
  return {
    kind: 'performance',
    lines: strands.map((strand, line) => ({
      id: strand.id,
      name: strand.name,
      unpitched: strand.channel === PERCUSSION_CHANNEL,
      notes: strand.notes.map(({ id, key, on, off }) => ({
        id,
        line,
        key,
        start: momentOf(frame, on),
        end: momentOf(frame, off),
      })),
    })),
    bars: frame.bars.map(({ start, length, index, number, meter, groups, missing }) => ({
      start,
      length,
      written: index,
      number: String(number),
      meter: meterText(meter),
      groups,
      missing,
      fifths: keys.findLast(({ tick }) => tick <= frame.ticks[index]!)?.fifths ?? null,
      tempo: tempoIn(clock, frame.ticks[index]!),
    })),
  };
}

const tempoIn = (clock: Clock, tick: number): number => 60e6 / tempoAt(clock, tick);

/**
 * A score as it is to sound: its bars in the order of playing, ties joined,
 * written values, grace notes at the note that they lean on.
 *
 * @param unfolded whether repeats are played out
 */
export function sideOfScore(score: Score, isUnpitched: (part: Part) => boolean, unfolded = true): Side {
  const order = unfolded
    ? playedOrder(score.bars)
    : score.bars.map(({ length }, bar): PlayedBar => ({ bar, from: 0, to: length, pass: 0 }));
  const tempos = temposOf(score, true);
  let at: Moment = 0;
  const bars = order.map(({ bar: index, from, to }): ReadBar => {
    const bar = score.bars[index]!;
    const start = at;
    at += to - from;
    const tempo = tempos.findLast((each) => each.at <= bar.start + from);
    return {
      start,
      length: to - from,
      written: index,
      number: bar.printed ?? String(bar.number),
      meter: meterText(bar.meter),
      groups: bar.groups,
      missing: bar.missing + from,
      fifths: keyInBar(score, index).fifths,
      tempo: tempo?.quartersPerMinute ?? null,
    };
  });
  return {
    kind: 'score',
    bars,
    lines: score.parts.map((part, line) => ({
      id: part.id,
      name: part.name,
      unpitched: isUnpitched(part),
      notes: notesOf(part, line, order, bars, score),
    })),
  };
}

/** Tablature beside a staff says the same notes once more. */
const saysAgain = ({ clefs }: Part, staff: number): boolean => clefs.length > 1 && clefs[staff - 1] === 'tab';

function notesOf(
  part: Part,
  line: number,
  order: readonly PlayedBar[],
  bars: readonly ReadBar[],
  score: Score,
): ReadNote[] {
  const out: ReadNote[] = [];
  /** Notes that are tied on, by their keys and ends. */
  const tied = new Map<string, ReadNote[]>();
  order.forEach(({ bar, from, to }, index) => {
    const { start: barStart, length } = bars[index]!;
    const swing = swingInBar(score.swings, bar);
    const zero = -score.bars[bar]!.missing;
    for (const { items, voice, staff } of part.bars[bar]!.voices) {
      if (saysAgain(part, staff)) continue;
      for (const item of items) {
        if (item.kind !== 'chord' || item.cue || item.onset < from || item.onset >= to) continue;
        const start = barStart + item.onset - from;
        const late = swing ? swungMoment(item.onset, zero, swing) - item.onset : 0;
        const end = Math.min(start + item.duration, barStart + length);
        const read = (note: Note, until: Moment): ReadNote => ({
          id: note.id,
          line,
          key: note.key,
          start,
          end: until,
          staff,
          voice,
          pitch: movedBy(note.pitch, part.transposition),
          ...(late !== 0 && { late }),
        });
        for (const note of [...(item.graces ?? []), ...(item.gracesAfter ?? [])])
          out.push({ ...read(note, start), grace: true });
        for (const note of item.notes) {
          const before = note.tieStop ? tied.get(`${note.key} ${start}`)?.shift() : undefined;
          const own = before ?? read(note, end);
          own.end = end;
          if (!before) out.push(own);
          if (note.tieStart) tied.set(`${note.key} ${end}`, [...(tied.get(`${note.key} ${end}`) ?? []), own]);
        }
      }
    }
  });
  return out.sort((a, b) => a.start - b.start || a.key - b.key);
}
