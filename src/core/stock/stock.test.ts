import { describe, expect, it } from 'vitest';
import { layOutFile } from '../../../tests/helpers/desk';
import { deskOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { routeStrands } from '../cast/route';
import { EMPTY_BRIEF } from '../decisions/brief';
import { decide, withDirectives } from '../decisions/decisions';
import { tidyFile } from '../demo/tidy';
import { plantedFlaws, untidyFile } from '../demo/untidy';
import type { Smf, SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { readSmf } from '../sources/smf/read';
import { transcribeNow } from '../transcribe';
import { findEchoes } from './echoes';
import { takeStock } from './inventory';
import { findOddities } from './oddities';
import { harmWords, isInBulk } from './oddities/oddity';

const stockOf = (smf: Smf, brief = EMPTY_BRIEF) => {
  const { performance, decisions } = layOutFile(smf, brief);
  return takeStock(smf, performance, decisions);
};
const odd = (smf: Smf) => stockOf(smf).oddities.map(({ kind, strand }) => ({ kind, strand }));
const byName = (a: { kind: string; strand: string | null }, b: { kind: string; strand: string | null }) =>
  `${a.kind} ${a.strand}`.localeCompare(`${b.kind} ${b.strand}`);

describe('the demo', () => {
  it.each([1, 2, 3, 4, 5, 7])('every planted flaw is found and nothing else, seed %i', (seed) => {
    expect(odd(readSmf(untidyFile(seed))).sort(byName)).toEqual(plantedFlaws().sort(byName));
  });

  it('one action each mends them all', () => {
    const smf = readSmf(untidyFile());
    const { oddities } = stockOf(smf);
    const brief = withDirectives(
      EMPTY_BRIEF,
      oddities.flatMap((oddity) => oddity.mend.directives),
    );
    expect(stockOf(smf, brief).oddities).toEqual([]);
  });

  it('the tidy file has no flaw', () => {
    expect(odd(readSmf(tidyFile()))).toEqual([]);
  });

  it('what is meant is not found again', () => {
    const smf = readSmf(untidyFile());
    const [first, ...others] = stockOf(smf).oddities;
    const brief = withDirectives(EMPTY_BRIEF, [{ kind: 'meant', oddity: first!.id, meant: true }]);
    expect(stockOf(smf, brief).oddities).toEqual(others);
  });
});

/** A line with an uneven beat, so that equal ticks mean something. */
const loose: Stroke[] = Array.from({ length: 24 }, (_, index) => {
  const on = index * 480 + ((index * 37) % 23) + 1;
  return [on, on + 400, 60 + ((index * 5) % 12)];
});
const shifted = (by: number, ticks: number, velocity: number): Stroke[] =>
  loose.map(([on, off, key]) => [on + ticks, off + ticks, key + by, velocity]);

describe('doubled strands', () => {
  const doublesOf = (...tracks: ReturnType<typeof madeTrack>[]) => stockOf(madeFile(...tracks)).doubles;

  it('are found in unison and at the octave, at other velocities', () => {
    const [unison] = doublesOf(madeTrack('Vln', 0, loose), madeTrack('Synth', 1, shifted(0, 0, 33)));
    expect(unison).toMatchObject({ strand: '1/t2c2', of: '1/t1c1', shift: 0, whole: true, copied: true });
    const [octave] = doublesOf(madeTrack('Vln', 0, loose), madeTrack('Synth', 1, shifted(-12, 0, 99)));
    expect(octave).toMatchObject({ shift: -12, whole: true });
  });

  it('are found played in apart in time, and called copies only for the same instrument', () => {
    const later = shifted(0, 12, 80);
    expect(doublesOf(madeTrack('Violin', 0, loose), madeTrack('Vlns 2', 1, later))[0]).toMatchObject({
      copied: true,
    });
    expect(doublesOf(madeTrack('Violin', 0, loose), madeTrack('Flute', 1, later))[0]).toMatchObject({
      copied: false,
    });
    expect(doublesOf(madeTrack('Violin', 0, loose), madeTrack('Flute', 1, shifted(0, 60, 80)))).toEqual([]);
  });

  it('are found in passages', () => {
    const half = loose.map(
      (stroke, index): Stroke => (index < 12 ? stroke : [stroke[0], stroke[1], stroke[2] + 7]),
    );
    const [found] = doublesOf(madeTrack('Violin', 0, loose), madeTrack('Flute', 1, half));
    expect(found).toMatchObject({ whole: false, passages: [{ from: 1, to: 3, notes: 12 }] });
  });

  it('two lines that only share a few notes do not double', () => {
    const other = loose.map(([on, off, key], index): Stroke => [on, off, index % 5 === 0 ? key : key + 3]);
    expect(doublesOf(madeTrack('Violin', 0, loose), madeTrack('Flute', 1, other))).toEqual([]);
  });
});

describe('an echo', () => {
  const melody = Array.from({ length: 40 }, (_, at): Stroke => {
    const on = at * 480 + (at % 3 === 2 ? 240 : 0);
    return [on, on + 300, 60 + ((at * 7) % 12)];
  });
  const later = (ticks: number): Stroke[] =>
    melody.map(([on, off, key]) => [on + ticks, off + ticks, key, 50]);
  const echoesOf = (answer: readonly Stroke[]) =>
    findEchoes(readPerformance(madeFile(madeTrack('Sax', 0, melody), madeTrack('Sax echo', 1, answer))));

  it('is found with its delay, and left out by one action', () => {
    // 144 ticks at 120 quarter notes a minute are 150 ms.
    const [echo, ...others] = echoesOf(later(144));
    expect(others).toEqual([]);
    expect(echo).toMatchObject({ strand: '1/t2c2', of: '1/t1c1', share: 1 });
    expect(echo!.later).toBeCloseTo(0.15, 2);
    const smf = madeFile(madeTrack('Sax', 0, melody), madeTrack('Sax echo', 1, later(144)));
    const raw = deskOf(smf);
    const found = findOddities(raw.performance, raw.decisions).find((each) => each.kind === 'echo')!;
    expect(found.what).toContain('150 ms later');
    const mended = deskOf(smf, ...found.mend.directives);
    expect(findOddities(mended.performance, mended.decisions).filter((each) => each.kind === 'echo')).toEqual(
      [],
    );
  });

  it('is neither a double in unison, nor a canon, nor another melody', () => {
    expect(echoesOf(later(4))).toEqual([]);
    expect(echoesOf(later(1920))).toEqual([]);
    expect(
      echoesOf(melody.map(([on, off, key], at) => [on + 144, off + 144, at % 3 === 0 ? key : key + 2])),
    ).toEqual([]);
  });
});

describe('a file from a notation program', () => {
  const control = (tick: number, controller: number, value: number): SmfEvent => ({
    kind: 'control',
    tick,
    channel: 0,
    controller,
    value,
  });
  const program = (tick: number): SmfEvent => ({ kind: 'program', tick, channel: 0, program: 40 });
  /** 64 eighths in f, then in p; at bar 5 the mixer is set up again. */
  const written = (loose = 0): Stroke[] =>
    Array.from({ length: 64 }, (_, at): Stroke => {
      const on = at * 240 + (at > 0 ? (at % 5) * loose : 0);
      return [on, on + 228, 60 + (at % 7), at < 32 ? 96 : 49];
    });
  const setUp = [0, 7680].flatMap((tick) => [program(tick), control(tick, 7, 100), control(tick, 10, 64)]);
  const file = madeFile(madeTrack('Violin', 0, written(), setUp));

  it('is recognised, and one action cleans it: velocities and tempos stay', () => {
    const found = stockOf(file).oddities.find(({ kind }) => kind === 'notation');
    expect(found).toMatchObject({ strand: null, count: 4, harm: null });
    expect(found!.what).toContain(
      'velocity changes 1 time in 64 notes, and 4 mixer events set the faders, 2 of them again',
    );
    const after = deskOf(file, ...found!.mend.directives);
    const [strand] = after.performance.strands;
    expect(strand!.shaping.map(({ event }) => event.kind)).toEqual(['program']);
    expect(strand!.notes.map(({ velocity }) => velocity)).toEqual(
      written().map(([, , , velocity]) => velocity),
    );
    expect(takeStock(file, after.performance, after.decisions).oddities).toEqual([]);
  });

  it('is not seen in what was played, has no mixer, or changes velocity all the time', () => {
    const kinds = (smf: Smf) => stockOf(smf).oddities.map(({ kind }) => kind);
    expect(kinds(madeFile(madeTrack('Violin', 0, written(7), setUp)))).not.toContain('notation');
    expect(kinds(madeFile(madeTrack('Violin', 0, written(), [program(0)])))).not.toContain('notation');
    const lively = written().map(([on, off, key], at): Stroke => [on, off, key, 60 + ((at * 37) % 60)]);
    expect(kinds(madeFile(madeTrack('Violin', 0, lively, setUp)))).not.toContain('notation');
  });
});

describe('techniques of one section', () => {
  const bars = (from: number, to: number, key = 50): Stroke[] =>
    Array.from({ length: (to - from) * 4 }, (_, at): Stroke => {
      const on = from * 1920 + at * 480;
      return [on, on + 440, key + (at % 4)];
    });
  const kinds = (smf: Smf) => stockOf(smf).oddities.filter(({ kind }) => kind === 'technique');

  it('on strands of their own are offered as one part', () => {
    const smf = madeFile(
      madeTrack('Celli sus', 0, [...bars(0, 4), ...bars(6, 8)]),
      madeTrack('Celli pizz', 1, bars(4, 6)),
    );
    const [found, ...others] = kinds(smf);
    expect(others).toEqual([]);
    expect(found).toMatchObject({ strand: '1/t2c2', count: 8, harm: { takes: 'sounds' } });
    expect(found!.mend.directives).toEqual([{ kind: 'join', strand: '1/t2c2', into: '1/t1c1' }]);
  });

  it('are not, where both play together, or are other players', () => {
    const both = madeFile(madeTrack('Celli sus', 0, bars(0, 8)), madeTrack('Celli pizz', 1, bars(2, 6, 40)));
    expect(kinds(both)).toEqual([]);
    const others = madeFile(
      madeTrack('Vlns 1 sus', 0, bars(0, 4, 60)),
      madeTrack('Vlns 2 pizz', 1, bars(4, 6, 60)),
    );
    expect(kinds(others)).toEqual([]);
  });
});

describe('single oddities', () => {
  const line: Stroke[] = [60, 62, 64, 65, 67, 69, 71, 72].map((key, at) => [at * 480, at * 480 + 450, key]);
  const program = (tick: number, number: number, channel = 0): SmfEvent => ({
    kind: 'program',
    tick,
    channel,
    program: number,
  });
  const signature: SmfEvent = { kind: 'keySignature', tick: 0, fifths: 0, minor: false };

  it('a pitched name on the percussion channel', () => {
    expect(odd(madeFile(madeTrack('Flute', 9, line)))).toEqual([{ kind: 'channel', strand: '1/t1c10' }]);
  });

  it('but no kit that is named for what was played before', () => {
    const beat = Array.from(
      { length: 32 },
      (_, at): Stroke => [at * 240, at * 240 + 60, [36, 42, 38, 42][at % 4]!],
    );
    expect(odd(madeFile(madeTrack('Piano', 9, beat)))).toEqual([]);
  });

  it('no drums where a program with pitch was chosen', () => {
    expect(odd(madeFile(madeTrack('Whistle', 7, line, [program(0, 78, 7)])))).toEqual([]);
    expect(odd(madeFile(madeTrack('Snare', 7, line)))).toContainEqual({ kind: 'channel', strand: '1/t1c8' });
  });

  it('a program by default, out of range, or other than beside it; none that may have been chosen', () => {
    const low = line.map(([on, off, key]): Stroke => [on, off, key - 30]);
    const named = (name: string, number: number, strokes = line) =>
      odd(madeFile(madeTrack(name, 0, strokes, [program(0, number)]))).map(({ kind }) => kind);
    expect(named('Oboe', 0)).toEqual(['program']);
    expect(named('Tuba', 73, low)).toEqual(['program']);
    expect(named('Oboe', 71)).toEqual([]);
    expect(named('Piano', 25)).toEqual([]);
    const horns = madeFile(
      madeTrack('Horn 1', 0, line, [program(0, 60)]),
      madeTrack(
        'Horn 2',
        1,
        line.map(([on, off, key]): Stroke => [on, off, key - 4]),
        [program(0, 66, 1)],
      ),
    );
    expect(odd(horns)).toEqual([{ kind: 'program', strand: '1/t2c2' }]);
  });

  it('specks that are rare; what comes often is played', () => {
    const touched = (every: number) =>
      Array.from({ length: 60 }, (_, at): Stroke => {
        const on = at * 480;
        return [on, on + (at % every === 7 ? 20 : 400), 60 + (at % 5)];
      });
    const kinds = (every: number) =>
      odd(madeFile(madeTrack('Violin', 0, touched(every)))).map(({ kind }) => kind);
    expect(kinds(60)).toContain('specks');
    expect(kinds(10)).not.toContain('specks');
  });

  it('two programs on one channel', () => {
    const smf = madeFile(
      madeTrack('Flute', 0, line, [program(0, 73)]),
      madeTrack(
        'Cello',
        0,
        line.map(([on, off, key]): Stroke => [on, off, key - 11]),
        [program(0, 42)],
      ),
    );
    expect(odd(smf)).toEqual([{ kind: 'shared-channel', strand: '1/t2c1' }]);
  });

  it('programs that change in mid-track part into strands', () => {
    const smf = madeFile(madeTrack('Violin', 0, line, [program(0, 40), program(1920, 45)]));
    const { oddities } = stockOf(smf);
    expect(oddities[0]).toMatchObject({ kind: 'program-changes', count: 1 });
    // Not together with others, unseen: it makes parts.
    expect(isInBulk(oddities[0]!)).toBe(false);
    expect(harmWords(oddities[0]!.harm!)).toBe('Mending makes 2 parts of one.');
    expect(deskOf(smf, ...oddities[0]!.mend.directives).performance.strands).toHaveLength(2);
  });

  it('a program that no note sounds with is dropped, not split off', () => {
    const smf = madeFile(madeTrack('Violin', 0, line, [program(0, 40), program(460, 45), program(470, 40)]));
    const [found] = stockOf(smf).oddities;
    expect(found!.mend.directives).toEqual([
      { kind: 'programs', strand: '1/t1c1', use: 'number', program: 41 },
    ]);
    const after = deskOf(smf, ...found!.mend.directives);
    expect(after.performance.strands[0]!.shaping).toHaveLength(1);
    expect(takeStock(smf, after.performance, after.decisions).oddities).toEqual([]);
  });

  it('a meter that cuts a bar short, with its place', () => {
    const head = {
      events: [
        { kind: 'timeSignature', tick: 1200, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
      ] as SmfEvent[],
    };
    expect(stockOf(madeFile(head, madeTrack('Flute', 0, line))).oddities).toEqual([
      expect.objectContaining({ kind: 'meter', place: expect.objectContaining({ tick: 1200, bar: 2 }) }),
    ]);
  });

  it('a signature of C over music in E flat', () => {
    const flat: Stroke[] = [63, 65, 67, 68, 70, 72, 74, 75, 70, 67, 63].map((key, at) => [
      at * 480,
      at * 480 + 480,
      key,
    ]);
    const [found] = stockOf(madeFile({ events: [signature] }, madeTrack('Flute', 0, flat))).oddities;
    expect(found).toMatchObject({
      kind: 'key',
      mend: { directives: [{ kind: 'key', fifths: -3, minor: false }] },
    });
    expect(odd(madeFile({ events: [signature] }, madeTrack('Flute', 0, line)))).toEqual([]);
  });

  it('a drawn ritardando is no tempo jump', () => {
    const tempos = [0, 3840, 4320, 4800, 5280, 5760].map(
      (tick, index): SmfEvent => ({ kind: 'tempo', tick, microsPerQuarter: 500_000 + 20_000 * index }),
    );
    expect(odd(madeFile({ events: tempos }, madeTrack('Flute', 0, line)))).toEqual([]);
  });

  it('empty bars before the music', () => {
    const late = line.map(([on, off, key]): Stroke => [on + 7680, off + 7680, key]);
    expect(odd(madeFile(madeTrack('Flute', 0, late)))).toEqual([{ kind: 'silence', strand: null }]);
  });

  it('lists lanes with span, first value and repeats', () => {
    const bend = (tick: number, value: number): SmfEvent => ({ kind: 'pitchBend', tick, channel: 0, value });
    const { controllers } = stockOf(
      madeFile(madeTrack('Flute', 0, line, [bend(0, 8192), bend(480, 9000), bend(960, 9000)])),
    );
    expect(controllers).toEqual([
      expect.objectContaining({
        lane: 'pitch-bend',
        count: 3,
        first: 8192,
        lowest: 8192,
        highest: 9000,
        repeats: 1,
      }),
    ]);
    expect(controllers[0]!.to).toMatchObject({ tick: 960, bar: 1, beat: 3 });
  });
});

describe('keys that an instrument does not have', () => {
  it('are named where they command, however many they are', () => {
    const music = Array.from({ length: 64 }, (_, at): Stroke => [at * 480, at * 480 + 400, 48 + (at % 12)]);
    const switches = Array.from(
      { length: 40 },
      (_, at): Stroke => [at * 480 + 440, at * 480 + 470, 12 + (at % 3), 100],
    );
    const strokes = [...music, ...switches].sort((a, b) => a[0] - b[0]);
    const [found, ...others] = stockOf(madeFile(madeTrack('Cello', 0, strokes))).oddities.filter(
      ({ kind }) => kind === 'key-switches',
    );
    expect(others).toEqual([]);
    expect(found).toMatchObject({ count: 40, mend: { directives: [{ keys: [12, 13, 14] }] } });
  });
});

describe('a piece whose beats go in threes', () => {
  const Q = 480;
  /** Beats of strokes at some shares of them. */
  const beats = (count: number, ...places: number[]) =>
    Array.from({ length: count }, (_, beat) =>
      places.map((place, at): Stroke => {
        const on = Math.round((beat + place) * Q);
        return [on, on + 120, 60 + ((beat + at * 2) % 9)];
      }),
    ).flat();
  const found = (strokes: Stroke[]) =>
    stockOf(madeFile(madeTrack('Flute', 0, strokes))).oddities.find(({ kind }) => kind === 'threes');

  it('is offered a compound meter, which spares every triplet', () => {
    const file = madeFile(madeTrack('Flute', 0, beats(32, 0, 1 / 3, 2 / 3)));
    const offer = found(beats(32, 0, 1 / 3, 2 / 3));
    expect(offer).toMatchObject({ mend: { label: 'Write it in 12/8' } });
    const brief = withDirectives(EMPTY_BRIEF, offer!.mend.directives);
    const { score } = transcribeNow(layOutFile(file, brief).performance, brief);
    expect(score.bars[1]!.meter).toEqual({ numerator: 12, denominator: 8 });
    const items = score.parts[0]!.bars.flatMap(({ voices }) => voices.flatMap((line) => line.items));
    expect(items.filter((item) => item.kind === 'chord' && item.tuplet)).toEqual([]);
    expect(items.filter(({ kind }) => kind === 'chord')).toHaveLength(96);
    // It sounds as it did.
    expect(stockOf(file, brief).clock.seconds).toBeCloseTo(stockOf(file).clock.seconds, 1);
  });

  it('is not what swings, nor what goes in twos as well', () => {
    expect(found(beats(32, 0, 2 / 3))).toBeUndefined();
    expect(found([...beats(32, 0, 1 / 3, 2 / 3), ...beats(12, 0, 1 / 2)])).toBeUndefined();
    expect(found(beats(32, 0, 1 / 2))).toBeUndefined();
  });
});

describe('strands that one player plays', () => {
  const Q = 480;
  const line = (key: number, late = 0): Stroke[] =>
    Array.from({ length: 24 }, (_, at) => [at * Q + late, at * Q + 400, key + ((at * 2) % 5)]);
  const guitars = (...strokes: Stroke[][]) =>
    madeFile(
      ...strokes.map((own, at) =>
        madeTrack(`Guitar ${at + 1}`, at, own, [{ kind: 'program', tick: 0, channel: at, program: 25 }]),
      ),
    );
  const found = (smf: Smf) => stockOf(smf).oddities.find(({ kind }) => kind === 'one-player');

  it('are offered as one part, where they strike together', () => {
    const file = guitars(line(52), line(57, 5), line(62, 3), line(67, 8));
    const offer = found(file);
    expect(offer).toMatchObject({ count: 4, strand: '1/t1c1' });
    const brief = withDirectives(EMPTY_BRIEF, offer!.mend.directives);
    expect(routeStrands(layOutFile(file, brief).performance, decide(brief))).toHaveLength(1);
    expect(stockOf(file, brief).oddities.some(({ kind }) => kind === 'one-player')).toBe(false);
  });

  it('are not two that play a duet, nor those of sections', () => {
    expect(found(guitars(line(52), line(57)))).toBeUndefined();
    expect(found(guitars(line(52), line(57, 240), line(62, 120)))).toBeUndefined();
    const violins = [0, 1, 2].map((at) => madeTrack(`Violin ${at + 1}`, at, line(60 + 4 * at)));
    expect(found(madeFile(...violins))).toBeUndefined();
  });
});
