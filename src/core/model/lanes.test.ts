import { describe, expect, it } from 'vitest';
import { controllerOf, fitsLane, laneName, laneOf, laneValue, MIXER_LANES, neutralised } from './lanes';
import type { ShapingEvent } from './performance';

const control = (controller: number, value: number): ShapingEvent => ({
  kind: 'control',
  tick: 0,
  channel: 0,
  controller,
  value,
});
const bend: ShapingEvent = { kind: 'pitchBend', tick: 0, channel: 0, value: 9000 };
const pressure: ShapingEvent = { kind: 'channelPressure', tick: 0, channel: 0, pressure: 40 };
const keyPressure: ShapingEvent = { kind: 'keyPressure', tick: 0, channel: 0, key: 60, pressure: 41 };
const program: ShapingEvent = { kind: 'program', tick: 0, channel: 0, program: 7 };

describe('lanes', () => {
  it('are told from events', () => {
    expect([control(7, 1), bend, pressure, keyPressure, program].map(laneOf)).toEqual([
      'cc7',
      'pitch-bend',
      'channel-pressure',
      'key-pressure',
      null,
    ]);
    expect([control(7, 1), bend, pressure, keyPressure, program].map(laneValue)).toEqual([
      1, 9000, 40, 41, 7,
    ]);
  });

  /** Names from the MIDI 1.0 control change table. */
  it.each([
    ['cc1', 'Modulation (1)'],
    ['cc7', 'Volume (7)'],
    ['cc10', 'Pan (10)'],
    ['cc11', 'Expression (11)'],
    ['cc64', 'Sustain pedal (64)'],
    ['cc91', 'Reverb send (91)'],
    ['cc3', 'Controller 3'],
    ['pitch-bend', 'Pitch bend'],
    ['key-pressure', 'Key pressure'],
  ])('%s is called %s', (lane, name) => {
    expect(laneName(lane)).toBe(name);
  });

  it('fit themselves and ranges of controllers', () => {
    expect(fitsLane('cc7', 'cc7')).toBe(true);
    expect(fitsLane('cc7', 'cc70')).toBe(false);
    expect(fitsLane('cc20-31', 'cc20')).toBe(true);
    expect(fitsLane('cc20-31', 'cc32')).toBe(false);
    expect(fitsLane('cc0-127', 'pitch-bend')).toBe(false);
    expect(controllerOf('pitch-bend')).toBeNull();
  });

  it('have the neutral values of a reset', () => {
    expect(neutralised(control(7, 1))).toEqual(control(7, 100));
    expect(neutralised(control(10, 0))).toEqual(control(10, 64));
    expect(neutralised(bend)).toEqual({ ...bend, value: 8192 });
    expect(neutralised(pressure)).toEqual({ ...pressure, pressure: 0 });
    expect(neutralised(control(22, 5))).toBeNull();
  });

  it('of a mixer are those that people strip', () => {
    for (const lane of ['cc7', 'cc10', 'cc11', 'cc91', 'cc93']) expect(MIXER_LANES).toContain(lane);
    for (const lane of ['cc1', 'cc64', 'pitch-bend']) expect(MIXER_LANES).not.toContain(lane);
  });
});
