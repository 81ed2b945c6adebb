import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { tidyFile } from '@/core/demo/tidy';
import { barsOfPiece } from '@/core/model/clock';
import type { EventId, StrandId } from '@/core/model/ids';
import type { Performance, PlayedNote, Strand } from '@/core/model/performance';
import { carryOver } from '@/core/reconcile/carry';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import type { Smf, SmfEvent } from '@/core/sources/smf/events';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { Workbench } from '@/core/workbench/workbench';

const demo = readSmf(tidyFile());
const performanceOf = (smf: Smf): Performance => readPerformance(smf);
const BARS = barsOfPiece(performanceOf(demo).clock, performanceOf(demo).end);
/** The first tick of a bar, by its index. */
const bar = (index: number): number => BARS[index]!.start;
/** Of the strand that plays most. */
const BUSY = performanceOf(demo).strands.reduce((most, each) =>
  each.notes.length > most.notes.length ? each : most,
).track;

/** The demo with its events changed, track by track. */
const edited = (edit: (events: SmfEvent[], track: number) => SmfEvent[]): Smf => ({
  ...demo,
  tracks: demo.tracks.map((track, index) => ({ ...track, events: edit([...track.events], index) })),
});

const GRID = (strand: StrandId, from: number, to: number): PlainDirective => ({
  kind: 'grid',
  strand,
  from,
  to,
  smallest: 'eighth',
  triplets: true,
});

const isNote = (event: SmfEvent) => event.kind === 'noteOn' || event.kind === 'noteOff';
const byTick = (events: SmfEvent[]) => events.sort((a, b) => a.tick - b.tick);

/** Eight bars from one on (index) a tone higher, in one track. */
const changedBars = (track: number, from: number): Smf =>
  edited((events, index) =>
    index === track
      ? events.map((event) =>
          (event.kind === 'noteOn' && event.tick >= bar(from) && event.tick < bar(from + 8)) ||
          // A note ends where the next bar begins.
          (event.kind === 'noteOff' && event.tick > bar(from) && event.tick <= bar(from + 8))
            ? { ...event, key: event.key + 2 }
            : event,
        )
      : events,
  );

/** So many ticks of silence put in. */
const later = (from: number, by: number): Smf =>
  edited((events) =>
    events.map((event) => (event.tick >= from ? { ...event, tick: event.tick + by } : event)),
  );

const notesOf = ({ strands }: Pick<Performance, 'strands'>): PlayedNote[] =>
  strands.flatMap(({ notes }) => notes);
const idsOf = (performance: Performance) => notesOf(performance).map(({ id }) => id);

describe('a new version', () => {
  it('that is only louder or softer has the same music', () => {
    const softer = edited((events, track) =>
      track === BUSY
        ? events.map((event) =>
            event.kind === 'noteOn' && event.tick >= bar(4) && event.tick < bar(5)
              ? { ...event, velocity: Math.max(1, event.velocity - 20) }
              : event,
          )
        : events,
    );
    const old = performanceOf(demo);
    const { performance, strands, lost } = carryOver(old, performanceOf(softer), 2);
    expect(idsOf(performance)).toEqual(idsOf(old));
    expect(lost.size).toBe(0);
    const [louder, ...others] = strands.filter(({ state }) => state !== 'same');
    expect(others).toEqual([]);
    expect(louder).toMatchObject({ state: 'loudness', changed: 0, added: 0, missing: 0, bars: [4] });
    expect(louder!.loudness).toBeGreaterThan(0);
  });

  it('that is the same has the same ids, and nothing changed', () => {
    const old = performanceOf(demo);
    const { performance, strands, lost } = carryOver(old, performanceOf(demo), 2);
    expect(idsOf(performance)).toEqual(idsOf(old));
    expect(strands.every(({ state }) => state === 'same')).toBe(true);
    expect(lost.size).toBe(0);
  });

  it('with its tracks in another order and renamed is known by what they play', () => {
    const old = performanceOf(demo);
    const [clock, ...parts] = demo.tracks;
    const turned: Smf = {
      ...demo,
      tracks: [
        clock!,
        ...parts.reverse().map((track, index) => ({
          events: track.events.map((event) =>
            event.kind === 'trackName' ? { ...event, bytes: new TextEncoder().encode(`x${index}`) } : event,
          ),
        })),
      ],
    };
    const { performance, strands } = carryOver(old, performanceOf(turned), 2);
    expect(new Set(idsOf(performance))).toEqual(new Set(idsOf(old)));
    expect(
      strands.every(({ state, was, bars }) => state === 'changed' && was !== null && bars.length === 0),
    ).toBe(true);
    for (const strand of performance.strands)
      expect(strand.notes.every(({ id }) => id.startsWith(`${strand.id}/`))).toBe(true);
  });

  it('with eight changed bars says which, and has all other notes as they were', () => {
    const old = performanceOf(demo);
    const { performance, strands } = carryOver(old, performanceOf(changedBars(BUSY, 20)), 2);
    const [changed, ...others] = strands.filter(({ state }) => state === 'changed');
    expect(others).toEqual([]);
    // It rests in the last three of them.
    expect(changed!.bars).toEqual([20, 21, 22, 23, 24]);
    const before = new Map(notesOf(old).map((note) => [note.id, note]));
    const touched = changed!.changed + changed!.added;
    const asBefore = notesOf(performance).filter((note) => before.get(note.id)?.key === note.key);
    expect(asBefore).toHaveLength(notesOf(old).length - touched);
  });

  it('with bars put in knows every note, and moves what was decided about moments along', () => {
    const at = bar(20);
    const by = bar(22) - bar(20);
    const bench = new Workbench([{ id: '1', version: 1, name: 'a.mid', bytes: tidyFile() }]);
    const first = bench.layOut(1, EMPTY_BRIEF).desk.performance;
    bench.add({ id: '1', version: 2, name: 'b.mid', bytes: writeSmf(later(at, by)) });
    const strand = first.strands[0]!.id;
    const brief = withDirectives(EMPTY_BRIEF, [GRID(strand, bar(4), bar(8)), GRID(strand, bar(30), bar(34))]);
    const next = bench.decided(brief, [{ kind: 'version', source: '1', version: 2 }]);
    const passages = next.directives.flatMap((each) => (each.kind === 'grid' ? [[each.from, each.to]] : []));
    expect(passages).toEqual([
      [bar(4), bar(8)],
      [bar(30) + by, bar(34) + by],
    ]);
    const { desk } = bench.layOut(2, next);
    expect(new Set(idsOf(desk.source))).toEqual(new Set(idsOf(first)));
    const back = bench.decided(next, [{ kind: 'version', source: '1', version: 1 }]);
    expect(back.directives.filter(({ kind }) => kind === 'grid')).toEqual(
      brief.directives.filter(({ kind }) => kind === 'grid'),
    );
  });

  it('gives new strands and notes ids that nothing had', () => {
    const old = performanceOf(demo);
    const more: Smf = { ...demo, tracks: [...demo.tracks, demo.tracks[3]!] };
    const { performance, strands } = carryOver(old, performanceOf(more), 2);
    expect(new Set(idsOf(performance)).size).toBe(idsOf(performance).length);
    expect(strands.filter(({ state }) => state === 'new')).toHaveLength(1);
  });

  it('that is shorter by half loses what is gone, and no more', () => {
    const old = performanceOf(demo);
    const short = edited((events) => events.filter((event) => !isNote(event) || event.tick < bar(28)));
    const { performance, lost } = carryOver(old, performanceOf(short), 2);
    expect(lost.size + idsOf(performance).length).toBe(idsOf(old).length);
    expect(idsOf(performance).every((id) => !lost.has(id))).toBe(true);
  });

  it('never names two notes alike, whatever is done to it, and keeps what survives', () => {
    const old = performanceOf(demo);
    fc.assert(
      fc.property(fc.nat(), fc.integer({ min: 2, max: 30 }), (seed, version) => {
        const random = seeded(seed);
        const now = edited((events) => {
          const gone = new Set<number>();
          events.forEach((event, index) => {
            if (event.kind === 'noteOn' && random() < 0.03) gone.add(index);
          });
          return events.flatMap((event, index) => (gone.has(index) ? [] : [event]));
        });
        const { performance, lost } = carryOver(old, performanceOf(now), version);
        const ids = idsOf(performance);
        expect(new Set(ids).size).toBe(ids.length);
        expect(ids.some((id) => lost.has(id))).toBe(false);
        const known = new Set(idsOf(old));
        expect(ids.filter((id) => known.has(id)).length + lost.size).toBe(known.size);
      }),
      { numRuns: 8 },
    );
  });
});

describe('taking some of a version', () => {
  const benchOf = (second: Smf): Workbench =>
    new Workbench([
      { id: '1', version: 1, name: 'a.mid', bytes: tidyFile() },
      { id: '1', version: 2, name: 'b.mid', bytes: writeSmf(second) },
    ]);
  const sourceUnder = (bench: Workbench, ...directives: PlainDirective[]): Performance =>
    bench.deskUnder(withDirectives(EMPTY_BRIEF, directives)).source;
  const keysOf = ({ notes }: Strand) => notes.map(({ on, off, key }) => [on, off, key]);

  it('leaves the strands that are not taken as the very objects they were', () => {
    const bench = benchOf(changedBars(BUSY, 20));
    const before = sourceUnder(bench, { kind: 'version', source: '1', version: 1 });
    const quiet = before.strands.find(({ track }) => track !== BUSY)!.id;
    const some = sourceUnder(bench, {
      kind: 'take',
      source: '1',
      version: 2,
      strands: [quiet],
    });
    expect(some.strands.map(keysOf)).toEqual(before.strands.map(keysOf));
    for (const [index, strand] of some.strands.entries())
      if (strand.id !== quiet) expect(strand).toBe(before.strands[index]);
    const all = sourceUnder(bench, { kind: 'take', source: '1', version: 2 });
    expect(all.strands.map(keysOf)).not.toEqual(before.strands.map(keysOf));
  });

  it('takes bars and leaves the others, in the place of what was there or beside it', () => {
    const bench = benchOf(changedBars(BUSY, 20));
    const before = sourceUnder(bench, { kind: 'version', source: '1', version: 1 });
    const strand = before.strands.find(({ track }) => track === BUSY)!.id;
    const after = sourceUnder(bench, { kind: 'version', source: '1', version: 2 });
    const of = (performance: Performance) => performance.strands.find(({ id }) => id === strand)!;
    const whole = sourceUnder(bench, {
      kind: 'take',
      source: '1',
      version: 2,
      strands: [strand],
      fromBar: 0,
    });
    expect(keysOf(of(whole))).toEqual(keysOf(of(after)));
    const none = sourceUnder(bench, {
      kind: 'take',
      source: '1',
      version: 2,
      strands: [strand],
      fromBar: 0,
      toBar: 2,
    });
    expect(keysOf(of(none))).toEqual(keysOf(of(before)));
    const both = sourceUnder(bench, { kind: 'take', source: '1', version: 2, strands: [strand], adds: true });
    expect(of(both).notes.length).toBeGreaterThanOrEqual(of(before).notes.length);
    const ids = of(both).notes.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it('says what has no place among the bars of the version before', () => {
    const at = bar(20);
    const by = bar(21) - at;
    const second = later(at, by);
    const events = second.tracks[BUSY]!.events.slice(0, -1);
    events.push(
      { kind: 'noteOn', tick: at + 480, channel: 0, key: 61, velocity: 80 },
      { kind: 'noteOff', tick: at + 960, channel: 0, key: 61, velocity: 64, asNoteOn: false },
    );
    second.tracks[BUSY]!.events = [...byTick(events), second.tracks[BUSY]!.events.at(-1)!];
    const bench = benchOf(second);
    const desk = bench.deskUnder(
      withDirectives(EMPTY_BRIEF, [{ kind: 'take', source: '1', version: 2, fromBar: 0 }]),
    );
    expect(desk.refusals.map(({ why }) => why)).toEqual([
      '1 note of the new version stands in bars that the version before has not: they come only with all of it.',
    ]);
  });
});

describe('what was decided', () => {
  it('stands in a new version, note by note, and untouched parts are written as they were', () => {
    const bench = new Workbench([{ id: '1', version: 1, name: 'a.mid', bytes: tidyFile() }]);
    const { desk } = bench.layOut(1, EMPTY_BRIEF);
    const notes = desk.source.strands.flatMap(({ notes: own }) => own.slice(5, 8).map(({ id }) => id));
    const brief = withDirectives(
      EMPTY_BRIEF,
      notes.map((note: EventId): PlainDirective => ({ kind: 'pitch', note, steps: 7, semitones: 12 })),
    );
    bench.layOut(2, brief);
    const before = finished(bench.write(2)).transcription.score;
    bench.add({ id: '1', version: 2, name: 'b.mid', bytes: writeSmf(changedBars(BUSY, 20)) });
    bench.layOut(3, bench.decided(brief, [{ kind: 'version', source: '1', version: 2 }]));
    const after = finished(bench.write(3)).transcription.score;
    expect(after.parts.map(({ id }) => id)).toEqual(before.parts.map(({ id }) => id));
    const textOf = (score: typeof after, part: number) =>
      writeMusicXml({ ...score, title: '', rehearsals: [], parts: [score.parts[part]!] });
    const same = before.parts.filter((_, part) => textOf(before, part) === textOf(after, part));
    expect(same).toHaveLength(before.parts.length - 1);
  });
});
