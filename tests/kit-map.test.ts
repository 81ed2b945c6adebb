import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { KIT } from '@/core/instruments/kit';
import {
  BadKitError,
  GENERAL_MIDI_KIT,
  kitMapToCsv,
  parseKitMap,
  proposeShift,
  shiftedKit,
  translateByName,
} from '@/core/instruments/kit-map';
import { makeClock } from '@/core/model/clock';
import type { PlayedNote } from '@/core/model/performance';

const clock = makeClock({ ticksPerQuarter: 480 });
const note = (on: number, key: number): PlayedNote => ({
  id: `1/t1c10/${on}`,
  on,
  off: on + 60,
  key,
  velocity: 90,
});

/** Eight bars of kick on 1 and 3, snare on 2 and 4, hi-hat in eighths. */
const rock = (shift: number): PlayedNote[] =>
  Array.from({ length: 8 }, (_, bar) => [
    ...[0, 2].map((beat) => note(bar * 1920 + beat * 480, 36 + shift)),
    ...[1, 3].map((beat) => note(bar * 1920 + beat * 480, 38 + shift)),
    ...Array.from({ length: 8 }, (_, eighth) => note(bar * 1920 + eighth * 240, 42 + shift)),
  ]).flat();

describe('the percussion key map', () => {
  it('has the 47 sounds of General MIDI Level 1, keys 35 to 81', () => {
    expect(KIT.map((sound) => sound.key)).toEqual(Array.from({ length: 47 }, (_, at) => at + 35));
  });
});

describe('a proposed shift', () => {
  it.each([-24, -12, -5, -1, 2, 7, 12, 24])('undoes a shift of %i', (shift) => {
    expect(proposeShift(rock(shift), clock)?.shift).toBe(-shift);
  });

  it('leaves alone what makes sense, or never would', () => {
    expect(proposeShift(rock(0), clock)).toBeNull();
    const random = Array.from({ length: 64 }, (_, at) => note(at * 240 + 100, 60 + ((at * 7) % 12)));
    expect(proposeShift(random, clock)).toBeNull();
  });

  it('leaves a kit alone that claps and clicks the backbeats, and cymbals by themselves', () => {
    const claps = rock(0).map((stroke) => (stroke.key === 38 ? { ...stroke, key: 37 } : stroke));
    expect(
      proposeShift([...claps, ...claps.map((stroke) => ({ ...stroke, key: stroke.key + 2 }))], clock),
    ).toBeNull();
    const cymbals = rock(0).flatMap((stroke) =>
      stroke.key === 36 ? [{ ...stroke, key: 53 }] : stroke.key === 38 ? [{ ...stroke, key: 55 }] : [],
    );
    expect(proposeShift(cymbals, clock)).toBeNull();
  });

  it('keeps keys that would leave the keyboard', () => {
    expect(shiftedKit([note(0, 2), note(0, 60)], -12)).toEqual([{ from: 60, to: 48 }]);
  });
});

describe('kit maps', () => {
  it('are read from JSON and CSV, and written as CSV', () => {
    const map = parseKitMap('Key,Name\n24,Kick\n26,"Snare, soft"\n', 'mine');
    expect(map).toEqual({
      format: 'dragoman-kit',
      version: 1,
      name: 'mine',
      sounds: [
        { key: 24, name: 'Kick' },
        { key: 26, name: 'Snare, soft' },
      ],
    });
    expect(parseKitMap(JSON.stringify(map), '')).toEqual(map);
    expect(parseKitMap(kitMapToCsv(map), 'mine')).toEqual(map);
    expect(parseKitMap(JSON.stringify(GENERAL_MIDI_KIT), '')).toEqual(GENERAL_MIDI_KIT);
  });

  it.each([
    ['{"sounds":', 'This is not JSON.'],
    ['key,name\n300,Gong', 'This is not a kit map: it needs keys 0–127, each with a name.'],
    ['hello', 'This is not a kit map: it needs keys 0–127, each with a name.'],
    ['key,name\n36,Kick\n36,Snare', 'Key 36 stands in the map twice.'],
  ])('%j is refused', (text, why) => {
    expect(() => parseKitMap(text, 'x')).toThrow(new BadKitError(why));
  });

  it('translate by name, and say what has no counterpart', () => {
    const map = parseKitMap(
      'key,name\n24,Kick\n26,Snare Drum\n30,HiHat Closed\n31,Cowbell\n99,Air raid siren',
      'x',
    );
    expect(translateByName(map, GENERAL_MIDI_KIT)).toEqual({
      keys: [
        { from: 24, to: 36 },
        { from: 26, to: 38 },
        { from: 30, to: 42 },
        { from: 31, to: 56 },
      ],
      missing: ['Air raid siren'],
    });
  });

  it('the document shows a map that is one', () => {
    const doc = readFileSync(new URL('../docs/kits.md', import.meta.url), 'utf8');
    const [, example] = /```json\n([\s\S]*?)```/.exec(doc)!;
    expect(parseKitMap(example!, '').sounds.length).toBeGreaterThan(2);
  });
});
