import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { playedLike } from '@/core/clean/play-like';
import { soundingOf } from '@/core/clean/sounding';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { barTable } from '@/core/deliver/bar-table';
import { deliverScore } from '@/core/deliver/score';
import { secondsAt } from '@/core/model/clock';
import { eventsIn, NOTE_ON } from '@/core/sound/events';
import { heardAt } from '@/core/sound/holds';
import { timelineOf } from '@/core/sound/timeline';
import { performanceOf, performanceReading } from '@/core/sources';
import type { SmfEvent } from '@/core/sources/smf/events';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { proofOf } from '@/core/workbench/proof';
import { Workbench } from '@/core/workbench/workbench';
import { deskOf, madeFile, madeTrack, meterAt, type Stroke, trackName } from './helpers/made-file';

const TICKS = 480;
const TUNE = [60, 64, 67, 72, 71, 65, 62, 67];
/** A tune of quarters over another of halves, for so many bars of 4/4; no bar like the one before. */
const keyAt = (beat: number): number =>
  TUNE[(beat * 3 + Math.floor(beat / 4)) % TUNE.length]! + (Math.floor(beat / 8) % 5);
const strict = (bars: number): [Stroke[], Stroke[]] => [
  Array.from({ length: 4 * bars }, (_, beat): Stroke => [beat * TICKS, (beat + 1) * TICKS, keyAt(beat)]),
  Array.from(
    { length: 2 * bars },
    (_, half): Stroke => [2 * half * TICKS, (2 * half + 2) * TICKS, keyAt(5 * half) - 24],
  ),
];
const fileOf = ([high, low]: readonly [Stroke[], Stroke[]], more: SmfEvent[] = [meterAt(0, 4, 4)]) =>
  madeFile(madeTrack('Flute', 0, high, more), madeTrack('Bassoon', 1, low));
const performanceIn = (file: ReturnType<typeof fileOf>) => deskOf(file).performance;

/** When each stroke is played, in seconds: beats of changing length, each attack and release a little off. */
function freely(
  parts: readonly [Stroke[], Stroke[]],
  random: () => number,
): { parts: [Stroke[], Stroke[]]; at: number[][] } {
  const beats = [1.5];
  for (let beat = 0; beat < 400; beat++) beats.push(beats.at(-1)! + 0.4 + 0.3 * random());
  const when = (tick: number) => beats[Math.round(tick / TICKS)]!;
  const toTick = (seconds: number) => Math.round(seconds * 2 * TICKS);
  const at: number[][] = [];
  const played = parts.map((strokes) => {
    const own: number[] = [];
    at.push(own);
    return strokes.map(([on, off, key]): Stroke => {
      const start = toTick(when(on) + 0.03 * random());
      own.push(start / (2 * TICKS));
      return [
        start,
        start + toTick((when(off) - when(on)) * (0.5 + 0.4 * random())),
        key,
        30 + Math.floor(90 * random()),
      ];
    });
  });
  return { parts: [played[0]!, played[1]!], at };
}

const random = fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }));

describe('a performance played like another', () => {
  it('sounds each note when, as long and as loud as the other does, played without its beats', () => {
    fc.assert(
      fc.property(random, fc.integer({ min: 6, max: 16 }), (stream, bars) => {
        const own = performanceIn(fileOf(strict(bars)));
        const { parts, at } = freely(strict(bars), () => stream.next().value);
        const player = performanceIn(fileOf(parts, []));
        const { performance, alike, alone, others } = playedLike(own, player, [
          'tempo',
          'timing',
          'velocity',
        ]);
        expect([alike, alone, others]).toEqual([6 * bars, 0, 0]);
        const first = Math.min(at[0]![0]!, at[1]![0]!);
        performance.strands.forEach(({ id, notes }, index) => {
          expect(notes.map(({ key }) => key)).toEqual(own.strands[index]!.notes.map(({ key }) => key));
          expect(id).toBe(own.strands[index]!.id);
          notes.forEach((note, place) => {
            const [on, off, , velocity] = parts[index]![place]!;
            expect(secondsAt(performance.clock, note.on)).toBeCloseTo(on / 960 - first, 2);
            expect(note.velocity).toBe(velocity);
            const length = secondsAt(performance.clock, note.off) - secondsAt(performance.clock, note.on);
            expect(length).toBeCloseTo((off - on) / 960, 2);
          });
        });
      }),
      { numRuns: 25 },
    );
  });

  const bars = 12;
  const own = performanceIn(fileOf(strict(bars)));
  const tempo = (tick: number, microsPerQuarter: number): SmfEvent => ({
    kind: 'tempo',
    tick,
    microsPerQuarter,
  });
  const late = strict(bars).map((strokes) =>
    strokes.map(([on, off, key], at): Stroke => [on + 20, off - 100, key, 50 + (at % 40)]),
  ) as [Stroke[], Stroke[]];
  const clocked = performanceIn(
    fileOf(late, [meterAt(0, 4, 4), tempo(0, 600_000), tempo(8 * TICKS, 400_000)]),
  );

  it('has the tempos of the other where both have the same beats, and the places around them', () => {
    const { performance } = playedLike(own, clocked, ['tempo', 'timing']);
    expect(performance.tempos).toEqual([
      { tick: 0, microsPerQuarter: 600_000 },
      { tick: 8 * TICKS, microsPerQuarter: 400_000 },
    ]);
    const [flute] = performance.strands;
    expect(flute!.notes.every(({ on }, beat) => on === beat * TICKS + 20)).toBe(true);
    expect(flute!.notes.every(({ velocity }) => velocity === 80)).toBe(true);
  });

  it('with its tempo has no other tempo to look at', () => {
    const bench = new Workbench([
      { id: '1', version: 1, name: 'piece.mid', bytes: writeSmf(fileOf(strict(bars))) },
      {
        id: '2',
        version: 1,
        name: 'played.mid',
        bytes: writeSmf(fileOf(late, [meterAt(0, 4, 4), tempo(0, 600_000), tempo(8 * TICKS, 400_000)])),
      },
    ]);
    const tempos = (revision: number, ...directives: PlainDirective[]) => {
      bench.layOut(revision, withDirectives(EMPTY_BRIEF, directives));
      return finished(proofOf(finished(bench.write(revision)))).findings.filter(
        ({ check, what }) => check === 'others' && what.includes('tempo'),
      );
    };
    const [found] = tempos(1);
    expect(tempos(2, ...found!.mends[0]!.directives)).toEqual([]);
  });

  it('takes no more than it was asked for', () => {
    const loud = playedLike(own, clocked, ['velocity']).performance;
    expect(loud.clock).toBe(own.clock);
    expect(loud.strands[0]!.notes.map(({ on, off }) => [on, off])).toEqual(
      own.strands[0]!.notes.map(({ on, off }) => [on, off]),
    );
    expect(loud.strands[0]!.notes.map(({ velocity }) => velocity)).toEqual(
      late[0].map(([, , , velocity]) => velocity),
    );
    const paced = playedLike(own, clocked, ['tempo']).performance;
    expect(paced.strands[0]!.notes.map(({ on }) => on)).toEqual(own.strands[0]!.notes.map(({ on }) => on));
    expect(paced.tempos).toHaveLength(2);
  });

  it('keeps what the other does not play, along with what sounds around it, and counts what only that has', () => {
    const [high, low] = late;
    const holey = high.filter((_, at) => at !== 9);
    holey.push([11 * TICKS + 240, 11 * TICKS + 300, 90, 99]);
    const { performance, alike, alone, others } = playedLike(own, performanceIn(fileOf([holey, low])), [
      'tempo',
      'timing',
      'velocity',
    ]);
    expect([alike, alone, others]).toEqual([6 * bars - 1, 1, 1]);
    const note = performance.strands[0]!.notes[9]!;
    expect(note.key).toBe(high[9]![2]);
    expect(Math.abs(note.on - 9 * TICKS)).toBeLessThanOrEqual(20);
  });

  it('says which bars are not played, and goes on behind them', () => {
    const cut = late.map((strokes) =>
      strokes
        .filter(([on]) => on < 16 * TICKS || on >= 28 * TICKS)
        .map(([on, off, key, velocity]): Stroke => {
          const by = on >= 28 * TICKS ? 12 * TICKS : 0;
          return [on - by, off - by, key, velocity];
        }),
    ) as [Stroke[], Stroke[]];
    const { performance, silent } = playedLike(own, performanceIn(fileOf(cut)), [
      'tempo',
      'timing',
      'velocity',
    ]);
    expect(silent).toEqual([[5, 7]]);
    const notes = performance.strands[0]!.notes;
    expect(notes[30]!.on).toBe(30 * TICKS + 20);
    expect(notes[20]!.on).toBe(20 * TICKS);
  });

  it('stays as it is beside another piece', () => {
    const other = performanceIn(fileOf([[[0, 100, 30]], [[7000, 7100, 99]]]));
    expect(playedLike(own, other, ['tempo', 'timing']).performance).toBe(own);
  });

  it('has the pedal of the strand that plays its notes', () => {
    const pedal = (tick: number, value: number): SmfEvent => ({
      kind: 'control',
      tick,
      channel: 0,
      controller: 64,
      value,
    });
    const file = madeFile(
      {
        events: [
          trackName('Flute'),
          pedal(960, 127),
          pedal(1920, 0),
          ...madeTrack('', 0, late[0]).events.slice(1),
        ].sort((a, b) => a.tick - b.tick),
      },
      madeTrack('Bassoon', 1, late[1]),
    );
    const { performance } = playedLike(own, performanceIn(file), ['controllers']);
    expect(performance.strands.map(({ shaping }) => shaping.length)).toEqual([2, 0]);
    expect(performance.strands[0]!.shaping.map(({ event }) => event.tick)).toEqual([960, 1920]);
  });
});

describe('a score played like a performance of it', () => {
  const [high, low] = strict(8);
  const piece = fileOf([high, low]);
  const page = new Workbench([{ id: '1', version: 1, name: 'piece.mid', bytes: writeSmf(piece) }]);
  page.layOut(1, EMPTY_BRIEF);
  const { desk, transcription } = finished(page.write(1));
  const document = deliverScore(desk, transcription.score, 'musicxml');
  let step = 0;
  const { parts } = freely([high, low], () => (step++ * 0.618) % 1);
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'score.musicxml', bytes: document },
    { id: '2', version: 1, name: 'played.mid', bytes: writeSmf(fileOf(parts, [])) },
  ]);
  let revision = 0;
  const under = (...directives: PlainDirective[]) => {
    workbench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
    return finished(workbench.write(revision));
  };
  const like = (source: '2' | '7' | null): PlainDirective => ({
    kind: 'play-like',
    source,
    takes: ['tempo', 'timing', 'velocity', 'controllers'],
  });

  it('goes out with the notes of the score and the time of the player, on the same page', () => {
    const plain = under();
    const played = under(like('2'));
    expect(deliverScore(played.desk, played.transcription.score, 'musicxml')).toEqual(
      deliverScore(plain.desk, plain.transcription.score, 'musicxml'),
    );
    const out = performanceOf(performanceReading(readSmf(deliverMidi(played.desk))));
    const first = parts[0][0]![0];
    const clock = soundingOf(played.desk, played.desk.performance).clock;
    out.strands.forEach(({ notes }, index) => {
      expect(notes.map(({ key }) => key)).toEqual(parts[index]!.map(([, , key]) => key));
      expect(notes.map(({ velocity }) => velocity)).toEqual(
        parts[index]!.map(([, , , velocity]) => velocity),
      );
      notes.forEach(({ on }, at) => {
        const seconds = secondsAt(clock, (on * clock.ticksPerQuarter) / out.clock.ticksPerQuarter);
        expect(seconds).toBeCloseTo((parts[index]![at]![0] - Math.min(first, parts[1][0]![0])) / 960, 2);
      });
    });
  });

  it('is heard so, with the bar table beside it', () => {
    const { desk: played } = under(like('2'));
    const timeline = timelineOf(played, 'cleaned', null);
    const heard = eventsIn(timeline)
      .filter(({ kind }) => kind === NOTE_ON)
      .map(({ seconds }) => heardAt(timeline.holds, seconds));
    const first = Math.min(parts[0][0]![0], parts[1][0]![0]);
    const wanted = parts
      .flat()
      .map(([on]) => (on - first) / 960)
      .sort((a, b) => a - b);
    expect(heard).toHaveLength(wanted.length);
    for (const [at, seconds] of heard.toSorted((a, b) => a - b).entries())
      expect(seconds).toBeCloseTo(wanted[at]!, 2);
    const rows = barTable(soundingOf(played, played.performance), '25');
    // Bar 2 begins with the fifth quarter, within what its players are apart.
    expect(Math.abs(rows[1]!.seconds - (parts[0][4]![0] - first) / 960)).toBeLessThan(0.04);
  });

  it('is told where the job has no such source, and goes back', () => {
    const refusals = under(like('7')).desk.refusals.map(({ why }) => why);
    expect(refusals).toContain('Nothing is played like source 7: the job has no such source.');
    const again = under(like('2'), like(null));
    expect(deliverMidi(again.desk)).toEqual(deliverMidi(under().desk));
  });
});
