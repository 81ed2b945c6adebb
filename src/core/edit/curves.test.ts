import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deskOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import type { PlainDirective } from '../decisions/kinds';
import { DEFAULT_HAND_OVER } from '../decisions/kinds/hand-over';
import { deliverMidi } from '../deliver';
import { makeClock } from '../model/clock';
import type { SmfEvent } from '../sources/smf/events';
import { readSmf } from '../sources/smf/read';
import {
  type CurvePoint,
  fromVelocities,
  scaled,
  simplified,
  snapped,
  valueAt,
  withLine,
  withMoved,
  withoutPoint,
  withPoint,
} from './curves';

const point = (tick: number, value: number): CurvePoint => ({ tick, value });
const clock = makeClock({ ticksPerQuarter: 480, tempos: [], meters: [], upbeat: 0, firstBar: 1 });
const points = fc
  .uniqueArray(fc.record({ tick: fc.nat(20_000), value: fc.nat(127) }), {
    selector: ({ tick }) => tick,
    maxLength: 40,
  })
  .map((all) => all.sort((a, b) => a.tick - b.tick));
const isInOrder = (all: readonly CurvePoint[]) =>
  all.every(({ tick }, index) => index === 0 || tick > all[index - 1]!.tick);

describe('a curve', () => {
  it('is put in, moved and taken out point by point, and stays in order', () => {
    const one = withPoint([point(0, 10), point(960, 90)], point(480, 40));
    expect(one).toEqual([point(0, 10), point(480, 40), point(960, 90)]);
    expect(withPoint(one, point(480, 50))[1]).toEqual(point(480, 50));
    expect(withMoved(one, 480, point(1200, 20)).at(-1)).toEqual(point(1200, 20));
    expect(withoutPoint(one, 480)).toEqual([point(0, 10), point(960, 90)]);
    fc.assert(
      fc.property(points, fc.nat(20_000), fc.nat(127), (all, tick, value) => {
        expect(isInOrder(withPoint(all, point(tick, value)))).toBe(true);
        expect(withoutPoint(withPoint(all, point(tick, value)), tick)).toEqual(withoutPoint(all, tick));
      }),
    );
  });

  it('keeps of a line drawn by hand what its shape needs', () => {
    const ramp = Array.from({ length: 101 }, (_, at) => point(at * 10, at));
    expect(simplified(ramp)).toEqual([point(0, 0), point(1000, 100)]);
    const peak = [...ramp, ...Array.from({ length: 100 }, (_, at) => point(1010 + at * 10, 99 - at))];
    expect(simplified(peak)).toHaveLength(3);
    fc.assert(
      fc.property(points, (all) => {
        const kept = simplified(all);
        for (const { tick, value } of all)
          expect(Math.abs(valueAt(kept, tick)! - value)).toBeLessThanOrEqual(2);
      }),
    );
  });

  it('has a line in place of what was in its span, and the rest as before', () => {
    const before = [point(0, 10), point(480, 20), point(960, 30), point(1920, 40)];
    expect(withLine(before, [point(400, 100), point(1000, 120)])).toEqual([
      point(0, 10),
      point(400, 100),
      point(1000, 120),
      point(1920, 40),
    ]);
    expect(withLine(before, [])).toEqual(before);
  });

  it('is scaled within its lane', () => {
    expect(scaled([point(0, 100), point(1, 10)], 150, -10, 127)).toEqual([point(0, 127), point(1, 5)]);
  });

  it('snaps to bar lines and markers that are near', () => {
    expect(snapped(clock, [], 1900, 40)).toBe(1920);
    expect(snapped(clock, [], 1500, 40)).toBe(1500);
    expect(snapped(clock, [{ tick: 1490 }], 1500, 40)).toBe(1490);
  });

  it('begins with how loud each bar is', () => {
    const notes = [
      { on: 0, velocity: 40 },
      { on: 480, velocity: 60 },
      { on: 1920, velocity: 100 },
    ];
    expect(fromVelocities(notes, clock)).toEqual([point(0, 50), point(1920, 100)]);
  });
});

describe('a drawn curve', () => {
  const strokes: Stroke[] = [
    [0, 470, 60],
    [480, 950, 62],
    [1920, 2400, 64],
  ];
  const control = (tick: number, value: number): SmfEvent => ({
    kind: 'control',
    tick,
    channel: 0,
    controller: 1,
    value,
  });
  const file = madeFile(madeTrack('Cello', 0, strokes, [control(0, 64), control(700, 5), control(3000, 80)]));
  const valuesOf = (...directives: PlainDirective[]) =>
    deskOf(file, ...directives).performance.strands[0]!.shaping.flatMap(({ event }) =>
      event.kind === 'control' ? [[event.tick, event.value]] : [],
    );
  const drawn = (all: CurvePoint[], strand?: '1/t1c1'): PlainDirective => ({
    kind: 'curve',
    ...(strand && { strand }),
    lane: 'cc1',
    points: all,
  });

  it('replaces its lane from the first point to the last, in steps along its lines', () => {
    const values = valuesOf(drawn([point(480, 0), point(1440, 4)]));
    expect(values).toEqual([
      [0, 64],
      [480, 0],
      [600, 1],
      [840, 2],
      [1080, 3],
      [1320, 4],
      [3000, 80],
    ]);
  });

  it('of a strand goes before that of all, and no points take it back', () => {
    const all = drawn([point(0, 10), point(3000, 10)]);
    expect(valuesOf(all)).toEqual([[0, 10]]);
    expect(valuesOf(all, drawn([point(0, 20), point(3000, 20)], '1/t1c1'))).toEqual([[0, 20]]);
    expect(valuesOf(drawn([point(0, 20)]), drawn([]))).toEqual([
      [0, 64],
      [700, 5],
      [3000, 80],
    ]);
  });

  it('goes out in a plain file, though its lane is a mixer’s, and is thinned as asked', () => {
    const expression: PlainDirective = {
      kind: 'curve',
      lane: 'cc11',
      points: [point(0, 0), point(1920, 120)],
    };
    const sent = (thin: number) => {
      const choice: PlainDirective = { kind: 'hand-over', ...DEFAULT_HAND_OVER, thin };
      const smf = readSmf(deliverMidi(deskOf(file, expression, choice)));
      return smf.tracks[1]!.events.flatMap((event) =>
        event.kind === 'control' && event.controller === 11 ? [event] : [],
      );
    };
    expect(sent(0).length).toBe(97);
    // 2 s at 120 a minute.
    const thin = sent(100);
    expect(thin.length).toBeLessThanOrEqual(21);
    expect(thin.at(-1)!.value).toBe(120);
  });
});
