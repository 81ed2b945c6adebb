import { packZip } from '../basics/zip';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { barsOfPiece, type Clock, type ClockBar, makeClock, tempoAt } from '../model/clock';
import { laneOf } from '../model/lanes';
import { makeStrand, type Performance, type Placed, type Strand } from '../model/performance';
import { writeSmf } from '../sources/smf/write';
import { handOver } from './hand-over';
import type { HandOverSource } from './source';

/** A stretch of bars; `to` is the first bar after it (indices). */
interface Section {
  name: string;
  from: ClockBar;
  to: number;
  start: number;
  end: number;
}

/** One loop, for the preview. */
export interface Loop {
  file: string;
  notes: number;
}

/**
 * Cuts a piece into loops, a small file for each part and section: sections
 * run from marker to marker, or every so many bars. A note that sounds on past
 * its section ends with it; controllers and programs that hold at its start
 * are set there. Silent ones are not written.
 */
export function cutLoops(
  input: HandOverSource,
  choice: HandOverChoice,
): { loops: Loop[]; zip: () => Uint8Array } {
  const { performance, plans } = input;
  const sections = sectionsOf(performance, choice.loopBars);
  const files: { file: string; notes: number; bytes: () => Uint8Array }[] = [];
  plans.forEach((plan, index) => {
    if (choice.strands && !plan.strands.some((strand) => choice.strands!.includes(strand))) return;
    sections.forEach((section, at) => {
      const strands = performance.strands.flatMap((strand) =>
        plan.strands.includes(strand.id) ? cutStrand(strand, section, performance.clock) : [],
      );
      const notes = strands.reduce((sum, strand) => sum + strand.notes.length, 0);
      if (notes === 0) return;
      const cut: Performance = { ...cutClock(performance, section), strands };
      const ids = new Set(strands.map((strand) => strand.id));
      const ownPlan = { ...plan, strands: plan.strands.filter((id) => ids.has(id)) };
      files.push({
        file: fileName(`${two(index + 1)} ${plan.name}`, `${two(at + 1)} ${section.name}`),
        notes,
        bytes: () =>
          writeSmf(
            handOver(
              { ...input, source: cut, performance: cut, plans: [ownPlan], title: section.name },
              { ...choice, form: 'plain', leadInBars: 0, click: false },
            ).smf,
          ),
      });
    });
  });
  return {
    loops: files.map(({ file, notes }) => ({ file, notes })),
    zip: () => packZip(Object.fromEntries(files.map(({ file, bytes }) => [file, bytes()]))),
  };
}

const two = (number: number): string => String(number).padStart(2, '0');

/** File systems take names of 255 bytes; letters may take four. */
const LONGEST_NAME = 60;

/** A folder for each part, a file for each section, safe on every system. */
const fileName = (part: string, section: string): string =>
  `${[part, section]
    .map((text) =>
      text
        .replace(/[\\/:*?"<>|\p{Cc}]/gu, '-')
        .slice(0, LONGEST_NAME)
        .trim(),
    )
    .join('/')}.mid`;

function sectionsOf(performance: Performance, every: number): Section[] {
  const { clock, markers, end } = performance;
  const bars = barsOfPiece(clock, end);
  const starts = new Map<number, string>();
  if (every > 0)
    for (let bar = clock.upbeat > 0 ? 1 : 0; bar < bars.length; bar += every) starts.set(bar, '');
  else
    for (const marker of markers) {
      const bar = bars.findIndex((each) => marker.tick < each.start + each.length);
      if (bar >= 0) starts.set(bar, marker.text);
    }
  if (!starts.has(0)) starts.set(0, '');
  const at = [...starts.keys()].sort((a, b) => a - b);
  return at.map((bar, index): Section => {
    const to = at[index + 1] ?? bars.length;
    const last = bars[to - 1]!;
    const range = `bars ${bars[bar]!.number}–${last.number}`;
    const text = starts.get(bar);
    return {
      name: text ? `${text} (${range})` : range,
      from: bars[bar]!,
      to,
      start: bars[bar]!.start,
      end: last.start + last.length,
    };
  });
}

function cutStrand(strand: Strand, { start, end }: Section, clock: Clock): Strand[] {
  const notes = strand.notes
    .filter((note) => note.on >= start && note.on < end)
    .map((note) => ({ ...note, on: note.on - start, off: Math.min(note.off, end) - start }));
  if (notes.length === 0) return [];
  const holding = new Map<string, Placed>();
  const inside: Placed[] = [];
  for (const { order, event } of strand.shaping) {
    if (event.tick >= end) break;
    if (event.tick > start) inside.push({ order, event: { ...event, tick: event.tick - start } });
    else holding.set(laneOf(event) ?? 'program', { order, event: { ...event, tick: 0 } });
  }
  return [makeStrand({ ...strand, notes, shaping: [...holding.values(), ...inside] }, clock)];
}

/** The clock of a section, from its first bar on. */
function cutClock(performance: Performance, section: Section): Performance {
  const { clock } = performance;
  const { start, end, from } = section;
  const cut = <T extends { tick: number }>(all: readonly T[]): T[] => {
    const before = all.filter((each) => each.tick <= start).at(-1);
    const inside = all.filter((each) => each.tick > start && each.tick < end);
    return [...(before ? [{ ...before, tick: start }] : []), ...inside].map((each) => ({
      ...each,
      tick: each.tick - start,
    }));
  };
  const tempos = cut([{ tick: 0, microsPerQuarter: tempoAt(clock, start) }, ...performance.tempos]);
  const meters = from.isUpbeat
    ? cut(performance.meters)
    : [{ tick: 0, ...from.meter }, ...cut(performance.meters).filter((meter) => meter.tick > 0)];
  const upbeat = from.isUpbeat ? clock.upbeat : 0;
  return {
    ...performance,
    clock: makeClock({
      ticksPerQuarter: clock.ticksPerQuarter,
      tempos,
      meters,
      upbeat,
      firstBar: from.number,
    }),
    tempos,
    meters,
    keys: cut(performance.keys),
    markers: cut(performance.markers).filter((marker) => marker.tick > 0),
    lyrics: [],
    loose: performance.loose
      .filter(({ use, tick }) => use === 'lyric' && tick >= start && tick < end)
      .map((loose) => ({ ...loose, tick: loose.tick - start })),
    noteFree: [],
    end: end - start,
  };
}
