import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { AS_FOUND } from '@/core/decisions/kinds/clef';
import { untidyFile } from '@/core/demo/untidy';
import type { Source } from '@/core/sources';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { writeSmf } from '@/core/sources/smf/write';
import { stockOf } from '@/core/workbench/stock';
import { summarise } from '@/core/workbench/summary';
import { StaleError, Workbench } from '@/core/workbench/workbench';
import { madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';

const line = (from: number, step = 240): Stroke[] =>
  Array.from({ length: 36 }, (_, at): Stroke => {
    const on = at * step + ((at * 37) % 23);
    return [on, on + step - 40 - ((at * 13) % 50), from + ((at * 5) % 12)];
  });

const source: Source = {
  id: '1',
  version: 1,
  name: 'cue.mid',
  bytes: writeSmf(
    madeFile(
      { events: [meterAt(0, 4, 4)] },
      madeTrack('Violin', 0, line(62)),
      madeTrack('Drums', 9, line(36)),
      madeTrack('Piano', 2, [...line(48), ...line(67, 320)]),
    ),
  ),
};
const clock: Source = {
  id: '2',
  version: 1,
  name: 'clock.mid',
  bytes: writeSmf(madeFile({ events: [meterAt(0, 3, 4)] }, madeTrack('Click', 0, [[0, 480, 60]]))),
};

const strand = fc.constantFrom('1/t2c1' as const, '1/t3c10' as const, '1/t4c3' as const);
const directive = fc.oneof(
  fc.record({ kind: fc.constant('leave-out' as const), strand, out: fc.boolean() }),
  fc.record({ kind: fc.constant('name' as const), strand, name: fc.constantFrom('A', 'B') }),
  fc.record({
    kind: fc.constant('cast' as const),
    strand,
    instrument: fc.constantFrom('flute', 'horn-f', 'piano'),
  }),
  fc.record({ kind: fc.constant('join' as const), strand, into: fc.option(strand) }),
  fc.record({
    kind: fc.constant('grid' as const),
    strand,
    smallest: fc.constantFrom('eighth' as const, '16th' as const),
    triplets: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('lead' as const),
    strand,
    milliseconds: fc.option(fc.integer({ min: -50, max: 50 })),
  }),
  fc.record({
    kind: fc.constant('swing' as const),
    use: fc.constantFrom('straight' as const, 'swung' as const, 'found' as const),
  }),
  fc.record({ kind: fc.constant('lengths' as const), closing: fc.constantFrom(0, 1, 3) }),
  fc.record({
    kind: fc.constant('key' as const),
    fifths: fc.option(fc.integer({ min: -3, max: 3 })),
    minor: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('meter' as const),
    numerator: fc.option(fc.constantFrom(3, 4, 6)),
    denominator: fc.constant(4),
    upbeatQuarters: fc.constantFrom(0, 1),
  }),
  fc.record({
    kind: fc.constant('velocities' as const),
    strand,
    scale: fc.constantFrom(50, 100),
    level: fc.constant(64),
    strength: fc.constant(0),
  }),
  fc.record({
    kind: fc.constant('split' as const),
    strand,
    by: fc.constantFrom('pitch' as const, null),
    key: fc.constant(60),
  }),
  fc.record({
    kind: fc.constant('place' as const),
    note: fc.constant('1/t2c1/1' as const),
    start: fc.option(fc.constantFrom('1', '3/2', '7/3')),
  }),
  fc.record({
    kind: fc.constant('sign' as const),
    note: fc.constantFrom('1/t2c1/1' as const, '1/t4c3/3' as const),
    sign: fc.constantFrom('accent' as const, 'fermata' as const, 'beam' as const, 'ring' as const),
    put: fc.option(fc.boolean()),
  }),
  fc.record({
    kind: fc.constant('line' as const),
    note: fc.constant('1/t4c3/3' as const),
    voice: fc.option(fc.constantFrom(1 as const, 2 as const)),
    staff: fc.option(fc.constantFrom(1 as const, 2 as const)),
  }),
  fc.record({
    kind: fc.constant('played' as const),
    note: fc.constant('1/t2c1/1' as const),
    on: fc.option(fc.constantFrom(0, 500)),
    velocity: fc.option(fc.constantFrom(1, 120)),
  }),
  fc.record({
    kind: fc.constant('drum' as const),
    key: fc.constant(36),
    place: fc.option(fc.constantFrom('C5', 'G5')),
    head: fc.constantFrom('x' as const, 'normal' as const),
    foot: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('clef' as const),
    strand,
    clef: fc.constantFrom('treble' as const, 'tenor' as const, AS_FOUND),
    from: fc.constantFrom(0, 1920, 4000),
  }),
  fc.record({
    kind: fc.constant('shorthand' as const),
    strand,
    use: fc.constantFrom('bar-repeats' as const, 'slashes' as const, 'written-out' as const),
  }),
  fc.record({
    kind: fc.constant('marks' as const),
    what: fc.constantFrom('trills' as const, 'ghosts' as const, 'bends' as const, 'rehearsals' as const),
    use: fc.constantFrom('shown' as const, 'left' as const),
  }),
  fc.record({ kind: fc.constant('clock-from' as const), source: fc.option(fc.constant('2' as const)) }),
  fc.record({
    kind: fc.constant('split' as const),
    strand: fc.constant('1/t4c3' as const),
    by: fc.constant('chairs' as const),
    chairs: fc.constantFrom(['violin', 'viola'], ['horn-f', 'horn-f', 'horn-f']),
  }),
  fc.record({
    kind: fc.constant('technique' as const),
    strand,
    technique: fc.constantFrom('pizzicato', 'ordinary', null),
  }),
  fc.record({
    kind: fc.constant('order' as const),
    strands: fc.shuffledSubarray(['1/t2c1', '1/t3c10', '1/t4c3'] as const) as never,
  }),
) as fc.Arbitrary<PlainDirective>;

/** Everything that a state shows, as text. */
function everything(workbench: Workbench, revision: number, brief: Brief): string {
  const state = workbench.layOut(revision, brief);
  const stock = finished(stockOf(state));
  const written = finished(workbench.write(revision));
  return JSON.stringify([stock, summarise(written), writeMusicXml(written.transcription.score)]);
}

describe('the workbench', () => {
  it('comes to the same after any sequence of decisions as from scratch, to the bit', () => {
    fc.assert(
      fc.property(fc.array(directive, { minLength: 1, maxLength: 8 }), (directives) => {
        const workbench = new Workbench([source, clock]);
        let brief = EMPTY_BRIEF;
        let step = 0;
        let last = everything(workbench, step, brief);
        for (const each of directives) {
          brief = withDirectives(brief, [each]);
          last = everything(workbench, ++step, brief);
        }
        expect(last).toBe(everything(new Workbench([source, clock]), step, brief));
      }),
      { numRuns: 35 },
    );
  });

  it('comes to the same where a score was begun and given up, wherever that was', () => {
    const laid = () => {
      const workbench = new Workbench([source]);
      workbench.layOut(0, EMPTY_BRIEF);
      return workbench;
    };
    const steps = [...laid().write(0)].length;
    const scratch = everything(new Workbench([source]), 1, EMPTY_BRIEF);
    for (const share of [0.1, 0.35, 0.6, 0.9]) {
      const workbench = laid();
      const begun = workbench.write(0);
      for (let step = 0; step < steps * share; step++) begun.next();
      expect(everything(workbench, 1, EMPTY_BRIEF)).toBe(scratch);
    }
  });

  it('knows the sources that it was made of', () => {
    const workbench = new Workbench([source]);
    expect(workbench.isOf([{ ...source, bytes: source.bytes.slice() }])).toBe(true);
    expect(workbench.isOf([{ ...source, name: 'another.mid' }])).toBe(false);
    expect(workbench.isOf([{ ...source, bytes: source.bytes.slice(1) }])).toBe(false);
    expect(workbench.isOf([source, clock])).toBe(false);
    workbench.add(clock);
    expect(workbench.isOf([source])).toBe(false);
    expect(workbench.isOf([source, clock])).toBe(false);
  });

  it('answers for the states it keeps, whole, and refuses those that are past', () => {
    const workbench = new Workbench([source]);
    const named = (name: string) => withDirectives(EMPTY_BRIEF, [{ kind: 'name', strand: '1/t2c1', name }]);
    for (const [revision, name] of ['A', 'B', 'C', 'D', 'E'].entries()) {
      workbench.layOut(revision, named(name));
      finished(workbench.write(revision));
    }
    for (const [revision, name] of [
      [2, 'C'],
      [4, 'E'],
    ] as const) {
      const { desk, transcription } = workbench.writtenAt(revision);
      expect(desk.brief).toEqual(named(name));
      expect(transcription.score.parts.map((part) => part.name)).toContain(name);
    }
    expect(() => workbench.at(1)).toThrow(StaleError);
    expect(() => workbench.writtenAt(0)).toThrow(StaleError);
    expect(() => workbench.write(9).next()).toThrow(StaleError);
  });

  it('says how much of a part its instrument does not have, and from where', () => {
    const workbench = new Workbench([source]);
    const partsUnder = (...directives: PlainDirective[]) => {
      workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
      return summarise(finished(workbench.write(1))).parts;
    };
    const violin = (parts: ReturnType<typeof partsUnder>) =>
      parts.find(({ strands }) => strands.includes('1/t2c1'))!;
    expect(violin(partsUnder())).toMatchObject({ outOfRange: 0, firstOutOfRange: null });
    // A piccolo has nothing below D5 as it sounds.
    const below = line(62).filter(([, , key]) => key < 74).length;
    expect(violin(partsUnder({ kind: 'cast', strand: '1/t2c1', instrument: 'piccolo' }))).toMatchObject({
      outOfRange: below,
      firstOutOfRange: 0,
    });
  });

  it('can be stopped at any moment and goes on from what it has', () => {
    const untidy: Source = { ...source, bytes: untidyFile() };
    const whole = everything(new Workbench([untidy]), 1, EMPTY_BRIEF);
    const workbench = new Workbench([untidy]);
    for (const stop of [1, 7, 40, 200]) {
      workbench.layOut(1, EMPTY_BRIEF);
      const steps = workbench.write(1);
      for (let at = 0; at < stop && !steps.next().done; at++);
    }
    expect(everything(workbench, 1, EMPTY_BRIEF)).toBe(whole);
  });

  it('shows a part that stays the same as the same object when another one is decided', () => {
    const workbench = new Workbench([source]);
    workbench.layOut(1, EMPTY_BRIEF);
    const before = finished(workbench.write(1)).transcription.score;
    workbench.layOut(
      2,
      withDirectives(EMPTY_BRIEF, [{ kind: 'grid', strand: '1/t2c1', smallest: 'quarter', triplets: false }]),
    );
    const after = finished(workbench.write(2)).transcription.score;
    const bars = (score: typeof before, id: string) => score.parts.find((part) => part.id === id)!.bars;
    expect(bars(after, 'P1/t4c3')).toBe(bars(before, 'P1/t4c3'));
    expect(bars(after, 'P1/t2c1')).not.toBe(bars(before, 'P1/t2c1'));
  });

  it('takes a new source in while it stands', () => {
    const workbench = new Workbench([source]);
    const brief = withDirectives(EMPTY_BRIEF, [{ kind: 'clock-from', source: '2' }]);
    expect(workbench.layOut(1, brief).desk.performance.meters[0]).toMatchObject({ numerator: 4 });
    workbench.add(clock);
    expect(workbench.layOut(2, brief).desk.performance.meters[0]).toMatchObject({ numerator: 3 });
    workbench.add({ ...source, version: 2, bytes: untidyFile() });
    expect(workbench.layOut(3, EMPTY_BRIEF).desk.performance.strands).toHaveLength(16);
    const first = withDirectives(EMPTY_BRIEF, [{ kind: 'version', source: '1', version: 1 }]);
    expect(workbench.layOut(4, first).desk.performance.strands).toHaveLength(3);
  });

  it('says which decisions are about what the job does not have, until it has it', () => {
    const workbench = new Workbench([source]);
    const brief = withDirectives(EMPTY_BRIEF, [
      { kind: 'leads', source: '3' },
      { kind: 'version', source: '1', version: 2 },
      { kind: 'clock-from', source: '2' },
      { kind: 'name', strand: '1/t2c1', name: 'Oboe' },
      { kind: 'name', strand: '1/t9c9', name: 'Nobody' },
      { kind: 'name', strand: '1/t4c3s2', name: 'No piece' },
      { kind: 'leave-out', strand: '2/t2c1', out: true },
    ]);
    const said = (revision: number) =>
      workbench.layOut(revision, brief).desk.refusals.map(({ step, why }) => `${step}: ${why}`);
    expect(said(1)).toEqual([
      'leads: Source 3 cannot lead: the job has no such source. The first one leads.',
      'clock-from: Source 2 cannot give the clock: the job has no such source.',
      'version: Version 2 of source 1 is not in the job. The newest one counts.',
      'strand: What was decided about Track 9, channel 9 waits: there is no such strand now.',
      'strand: What was decided about Track 4, channel 3, piece 2 waits: there is no such strand now.',
      'strand: What was decided about Track 2, channel 1 waits: there is no such strand now.',
    ]);
    workbench.add(clock);
    expect(said(2).filter((each) => each.includes('ource 2') || each.includes('Track 2'))).toEqual([]);
  });
});
