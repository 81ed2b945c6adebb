import type { ShapingEvent } from './performance';

/** One kind of shaping event: `cc0`–`cc127`, `pitch-bend`, `channel-pressure`, `key-pressure`; `program` is none. */
export type Lane = string;

// biome-ignore format: a table
/** Controller names (MIDI 1.0, table of control change messages, and RP-023 for 91–95). */
const NAMES: Record<number, string> = {
  0: 'Bank MSB', 1: 'Modulation', 2: 'Breath', 4: 'Foot', 5: 'Portamento time', 6: 'Data entry', 7: 'Volume',
  8: 'Balance', 10: 'Pan', 11: 'Expression', 12: 'Effect 1', 13: 'Effect 2', 32: 'Bank LSB', 38: 'Data entry LSB',
  64: 'Sustain pedal', 65: 'Portamento', 66: 'Sostenuto', 67: 'Soft pedal', 68: 'Legato', 69: 'Hold 2',
  70: 'Variation', 71: 'Timbre', 72: 'Release time', 73: 'Attack time', 74: 'Brightness', 75: 'Decay time',
  76: 'Vibrato rate', 77: 'Vibrato depth', 78: 'Vibrato delay', 84: 'Portamento control', 91: 'Reverb send',
  92: 'Tremolo depth', 93: 'Chorus send', 94: 'Detune depth', 95: 'Phaser depth', 96: 'Data increment',
  97: 'Data decrement', 98: 'NRPN LSB', 99: 'NRPN MSB', 100: 'RPN LSB', 101: 'RPN MSB', 120: 'All sound off',
  121: 'Reset controllers', 122: 'Local control', 123: 'All notes off', 124: 'Omni off', 125: 'Omni on',
  126: 'Mono', 127: 'Poly',
};

/** Controllers that set a mixer: volume, balance, pan, expression and the effect sends. */
const MIXER = [7, 8, 10, 11, 91, 92, 93, 94, 95] as const;

/** The lanes that fight the mixer of whoever receives them (common practice). */
export const MIXER_LANES: readonly Lane[] = MIXER.map((controller) => `cc${controller}`);

/** The value that does nothing (General MIDI Level 1 and RP-015 resets): others have none. */
const NEUTRAL: Record<Lane, number> = {
  cc1: 0,
  cc7: 100,
  cc8: 64,
  cc10: 64,
  cc11: 127,
  cc64: 0,
  cc66: 0,
  cc67: 0,
  cc91: 40,
  cc93: 0,
  'pitch-bend': 8192,
  'channel-pressure': 0,
};

/** The lane of a shaping event; null for a program change. */
export function laneOf(event: ShapingEvent): Lane | null {
  switch (event.kind) {
    case 'control':
      return `cc${event.controller}`;
    case 'pitchBend':
      return 'pitch-bend';
    case 'channelPressure':
      return 'channel-pressure';
    case 'keyPressure':
      return 'key-pressure';
    case 'program':
      return null;
  }
}

/** The value of an event in its lane. */
export function laneValue(event: ShapingEvent): number {
  switch (event.kind) {
    case 'control':
    case 'pitchBend':
      return event.value;
    case 'channelPressure':
    case 'keyPressure':
      return event.pressure;
    case 'program':
      return event.program;
  }
}

/** The same event with its lane's neutral value, or null where the lane has none. */
export function neutralised(event: ShapingEvent): ShapingEvent | null {
  const value = NEUTRAL[laneOf(event) ?? ''];
  if (value === undefined) return null;
  if (event.kind === 'control' || event.kind === 'pitchBend') return { ...event, value };
  return event.kind === 'channelPressure' ? { ...event, pressure: value } : null;
}

/** A lane's name for people, such as `Volume (7)`. */
export function laneName(lane: Lane): string {
  const controller = controllerOf(lane);
  if (controller !== null)
    return NAMES[controller] ? `${NAMES[controller]} (${controller})` : `Controller ${controller}`;
  return { 'pitch-bend': 'Pitch bend', 'channel-pressure': 'Channel pressure' }[lane] ?? 'Key pressure';
}

/** The controller number of a lane; null for the others. */
export const controllerOf = (lane: Lane): number | null =>
  lane.startsWith('cc') ? Number(lane.slice(2)) : null;

/** Whether a lane is meant by a pattern: the lane itself, or a range such as `cc20-31`. */
export function fitsLane(pattern: string, lane: Lane): boolean {
  const range = /^cc(\d+)-(\d+)$/.exec(pattern);
  const controller = controllerOf(lane);
  if (!range || controller === null) return pattern === lane;
  return controller >= Number(range[1]) && controller <= Number(range[2]);
}

/** Whether an event chooses a program or a bank. */
export const choosesProgram = (event: { kind: string; controller?: number }): boolean =>
  event.kind === 'program' ||
  (event.kind === 'control' && (event.controller === 0 || event.controller === 32));
