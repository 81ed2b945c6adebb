import { describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import type { SmfEvent } from '@/core/sources/smf/events';
import { transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

/** Half notes of a saxophone, up a scale; 120 to the minute, so 960 ticks are a second. */
const KEYS = [60, 62, 64, 65, 67, 69, 71, 72];
const strokes = KEYS.map((key, at): Stroke => [960 * at, 960 * at + 955, key]);

/** Bends of the bend wheel: ticks and semitones, where it reaches two. */
const bend = (points: readonly (readonly [tick: number, semitones: number])[], reach = 2): SmfEvent[] =>
  points.map(([tick, semitones]) => ({
    kind: 'pitchBend',
    tick,
    channel: 0,
    value: Math.min(16_383, Math.round(8192 + (8192 * semitones) / reach)),
  }));
const ramp = (from: number, to: number, a: number, b: number, steps = 12) =>
  Array.from(
    { length: steps + 1 },
    (_, at) => [Math.round(from + ((to - from) * at) / steps), a + ((b - a) * at) / steps] as const,
  );
const read = (bends: SmfEvent[], ...directives: PlainDirective[]) => {
  const desk = deskOf(madeFile(madeTrack('Alto Sax', 0, strokes, bends)), ...directives);
  return transcribeNow(desk.performance, desk.brief);
};
const heard = (bends: SmfEvent[]) =>
  read(bends).told!.offers[0]!.flatMap(({ kind, mark, from }) =>
    kind === 'bends' ? [[mark, from / (2 * 1_862_340_480)]] : [],
  );

describe('bends of a line', () => {
  it('are scoops, plops, falls and doits, each at its note', () => {
    expect(heard(bend([...ramp(955, 1100, -1.5, 0)]))).toEqual([['scoop', 1]]);
    expect(heard(bend([...ramp(1920, 2100, 1.5, 0)]))).toEqual([['plop', 2]]);
    expect(heard(bend([...ramp(3500, 3834, 0, -2), [3839, 0]]))).toEqual([['fall', 3]]);
    expect(heard(bend([...ramp(2540, 2874, 0, 1.8), [2879, 0]]))).toEqual([['doit', 2]]);
  });

  it('are slides where they arrive at the next note', () => {
    expect(heard(bend([...ramp(1700, 1914, 0, 2), [1919, 0]]))).toEqual([['slide', 1]]);
  });

  it('are none for vibrato, for a note that is bent all along, and where nothing bends', () => {
    const vibrato = Array.from({ length: 60 }, (_, at) => [16 * at, 0.4 * Math.sin(at)] as const);
    expect(heard(bend(vibrato))).toEqual([]);
    const wide = Array.from({ length: 60 }, (_, at) => [16 * at, 1.2 * Math.sin(at)] as const);
    expect(heard(bend(wide))).toEqual([]);
    expect(
      heard(
        bend([
          [950, 1],
          [1915, 0],
        ]),
      ),
    ).toEqual([]);
    expect(heard([])).toEqual([]);
  });

  it('reach as far as the file says (registered parameter 0)', () => {
    const wide: SmfEvent[] = [
      { kind: 'control', tick: 0, channel: 0, controller: 101, value: 0 },
      { kind: 'control', tick: 0, channel: 0, controller: 100, value: 0 },
      { kind: 'control', tick: 0, channel: 0, controller: 6, value: 12 },
    ];
    // The same wheel: a sixth of a semitone where it reaches two, a whole one where it reaches twelve.
    const small = bend(ramp(955, 1100, -0.17, 0));
    expect(heard(small)).toEqual([]);
    expect(heard([...wide, ...small])).toEqual([['scoop', 1]]);
  });

  it('stand in the score where they are chosen, and go out', () => {
    const bends = bend([
      ...ramp(955, 1100, -1.5, 0),
      ...ramp(1700, 1914, 0, 2),
      [1919, 0],
      ...ramp(3500, 3834, 0, -2),
      [3839, 0],
    ]);
    const { score } = read(bends, { kind: 'marks', what: 'bends', use: 'shown' });
    const document = writeMusicXml(score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(readClosed(parseXml(document)).faults).toEqual([]);
    expect(document.match(/<scoop/g)).toHaveLength(1);
    expect(document.match(/<falloff/g)).toHaveLength(1);
    expect(document.match(/<slide [^>]*type="start"/g)).toHaveLength(1);
  });
});
