import { isCompound } from '../model/meter';
import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsInt,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
  validateSync,
} from 'class-validator';
import Papa from 'papaparse';
import { barAt, type Clock } from '../model/clock';
import type { PlayedNote } from '../model/performance';
import { KIT } from './kit';

class MapSound {
  @IsInt() @Min(0) @Max(127) key!: number;
  @IsString() @MaxLength(80) name!: string;
}

/** Which sound lies on which key of a drum kit; an open JSON file (docs/kits.md). */
export class KitMap {
  @Equals('dragoman-kit') format!: 'dragoman-kit';
  @Equals(1) version!: 1;
  @IsString() @MaxLength(80) name!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(128)
  @ValidateNested({ each: true })
  @Type(() => MapSound)
  sounds!: MapSound[];
}

export interface KeyMove {
  from: number;
  to: number;
}

/** Thrown for a file that is no kit map; the message is one sentence for people. */
export class BadKitError extends Error {
  override name = 'BadKitError';
}

export const GENERAL_MIDI_KIT: KitMap = {
  format: 'dragoman-kit',
  version: 1,
  name: 'General MIDI',
  sounds: KIT.map(({ key, name }) => ({ key, name })),
};

/**
 * Reads a kit map from JSON, or from CSV with the columns key and name.
 * @param fallbackName the map's name where the file has none
 * @throws BadKitError naming the first thing that is wrong
 */
export function parseKitMap(text: string, fallbackName: string): KitMap {
  const data = text.trimStart().startsWith('{') ? fromJson(text) : fromCsv(text, fallbackName);
  const map = plainToInstance(KitMap, data);
  const [error] = validateSync(map, { whitelist: true });
  if (error) throw new BadKitError('This is not a kit map: it needs keys 0–127, each with a name.');
  const keys = map.sounds.map((sound) => sound.key);
  const twice = keys.find((key, index) => keys.indexOf(key) !== index);
  if (twice !== undefined) throw new BadKitError(`Key ${twice} stands in the map twice.`);
  return JSON.parse(JSON.stringify(map)) as KitMap;
}

function fromJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new BadKitError('This is not JSON.');
  }
}

function fromCsv(text: string, name: string): unknown {
  const { data } = Papa.parse<Record<string, string>>(text.trim(), {
    header: true,
    transformHeader: (header) => header.trim().toLowerCase(),
    skipEmptyLines: true,
  });
  const sounds = data.map((row) => ({ key: Number(row.key || Number.NaN), name: (row.name ?? '').trim() }));
  return { format: 'dragoman-kit', version: 1, name, sounds };
}

export const kitMapToCsv = (map: KitMap): string =>
  Papa.unparse(map.sounds.map(({ key, name }) => ({ key, name })));

const plainName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();

/** Words that mean the same sound in drum maps (common practice), as General MIDI names it. */
const SYNONYMS: Record<string, string> = {
  kick: 'bass drum 1',
  'kick drum': 'bass drum 1',
  'bass drum': 'bass drum 1',
  bd: 'bass drum 1',
  'kick 2': 'acoustic bass drum',
  snare: 'acoustic snare',
  'snare drum': 'acoustic snare',
  sd: 'acoustic snare',
  'cross stick': 'side stick',
  rim: 'side stick',
  rimshot: 'side stick',
  clap: 'hand clap',
  'hi hat': 'closed hi hat',
  'hihat closed': 'closed hi hat',
  'hi hat closed': 'closed hi hat',
  'closed hat': 'closed hi hat',
  'hihat open': 'open hi hat',
  'hi hat open': 'open hi hat',
  'open hat': 'open hi hat',
  'hihat pedal': 'pedal hi hat',
  'hi hat pedal': 'pedal hi hat',
  'hi hat foot': 'pedal hi hat',
  crash: 'crash cymbal 1',
  'crash 1': 'crash cymbal 1',
  'crash 2': 'crash cymbal 2',
  ride: 'ride cymbal 1',
  'ride 1': 'ride cymbal 1',
  'ride 2': 'ride cymbal 2',
  china: 'chinese cymbal',
  splash: 'splash cymbal',
  'tom 1': 'high tom',
  'tom 2': 'hi mid tom',
  'tom 3': 'low mid tom',
  'tom 4': 'low tom',
  'floor tom': 'low floor tom',
};

const meaning = (name: string): string => SYNONYMS[plainName(name)] ?? plainName(name);

/** Moves keys of one map to the keys with the same sound in another, by name; and the sounds that it lacks. */
export function translateByName(from: KitMap, to: KitMap): { keys: KeyMove[]; missing: string[] } {
  const target = new Map(to.sounds.map((sound) => [meaning(sound.name), sound.key]));
  const keys: KeyMove[] = [];
  const missing: string[] = [];
  for (const { key, name } of from.sounds) {
    const found = target.get(meaning(name));
    if (found === undefined) missing.push(name);
    else if (found !== key) keys.push({ from: key, to: found });
  }
  return { keys, missing };
}

/** The moves that shift every key in use; keys that would leave 0–127 stay. */
export function shiftedKit(notes: readonly PlayedNote[], shift: number): KeyMove[] {
  return [...new Set(notes.map((note) => note.key))]
    .sort((a, b) => a - b)
    .filter((key) => key + shift >= 0 && key + shift <= 127)
    .map((key) => ({ from: key, to: key + shift }));
}

const KICKS = new Set([35, 36]);
const SNARES = new Set([38, 40]);
const TIMEKEEPERS = new Set([42, 44, 46, 51, 59]);
/** A shift is offered from this plausibility on, when it is this many times as plausible as none. */
const PLAUSIBLE = 0.45;
const BETTER = 1.6;
/** From this share of bars on, kicks on the downbeat are no accident. */
const KIT_BARS = 0.2;
const FARTHEST = 36;

export interface ShiftProposal {
  shift: number;
  why: string;
}

/**
 * The shift under which a drum pattern makes sense as General MIDI: a kick on
 * most downbeats, a snare on backbeats, a hi-hat or ride keeping time (common
 * practice of popular music). Null where none is clearly better than none.
 */
export function proposeShift(notes: readonly PlayedNote[], clock: Clock): ShiftProposal | null {
  const places = notes.map((note) => ({ key: note.key, ...placeInBar(note.on, clock) }));
  const bars = new Set(places.map((place) => place.bar)).size;
  const score = (shift: number) => {
    const down = new Set<number>();
    const back = new Set<string>();
    let kicks = 0;
    let kicksDown = 0;
    let snares = 0;
    let snaresBack = 0;
    let time = 0;
    for (const { key, bar, beat, backbeat } of places) {
      const sound = key + shift;
      if (KICKS.has(sound)) {
        kicks++;
        if (beat === 1) {
          kicksDown++;
          down.add(bar);
        }
      } else if (SNARES.has(sound)) {
        snares++;
        if (backbeat) {
          snaresBack++;
          back.add(`${bar} ${beat}`);
        }
      } else if (TIMEKEEPERS.has(sound)) time++;
    }
    const share = (count: number, all: number) => (all === 0 ? 0 : count / all);
    const value =
      0.3 * share(down.size, bars) +
      0.3 * Math.min(1, share(back.size, bars)) +
      0.1 * share(kicksDown, kicks) +
      0.1 * share(snaresBack, snares) +
      0.2 * Math.min(1, 2 * share(time, places.length));
    // A kick on downbeats below a steady hi-hat or ride is a kit already, whatever else it strikes.
    return { value, keepsTime: time > 0, isKit: time > 0 && share(down.size, bars) >= KIT_BARS };
  };
  if (isPlainKit(notes)) return null;
  const asItIs = score(0);
  let best = 0;
  let highest = 0;
  for (let shift = -FARTHEST; shift <= FARTHEST; shift++) {
    const { value, keepsTime } = score(shift);
    if (keepsTime && value > highest + 1e-9) {
      best = shift;
      highest = value;
    }
  }
  if (best === 0 || asItIs.isKit || highest < PLAUSIBLE || highest < asItIs.value * BETTER) return null;
  const amount = `${Math.abs(best)} ${best > 0 ? 'up' : 'down'}`;
  return { shift: best, why: `Shifted ${amount}, kick and snare fall on downbeats and backbeats.` };
}

/** A kit has these sounds, each on its General MIDI key, so often (share of strokes). */
const PLAIN_SHARE = 0.04;
const PLAIN_KNOWN = 0.9;

/**
 * Whether strokes make sense as they are: nearly all on keys that General MIDI
 * names, with a kick, and a snare or what keeps time, each more than a chance
 * hit. Then where they fall is no argument: bars may be stored a beat off.
 */
function isPlainKit(notes: readonly PlayedNote[]): boolean {
  const share = (fits: (key: number) => boolean) =>
    notes.filter(({ key }) => fits(key)).length / Math.max(1, notes.length);
  const known = share((key) => key >= 35 && key <= 81);
  const kicks = share((key) => KICKS.has(key));
  const snares = share((key) => SNARES.has(key));
  const time = share((key) => TIMEKEEPERS.has(key));
  return known >= PLAIN_KNOWN && kicks >= PLAIN_SHARE && snares >= PLAIN_SHARE && time >= PLAIN_SHARE;
}

/** The bar, the beat (a whole number only within a sixteenth of it), and whether it is a backbeat. */
function placeInBar(tick: number, clock: Clock) {
  const slack = clock.ticksPerQuarter / 8;
  const bar = barAt(clock, tick + slack);
  const beatTicks = (clock.ticksPerQuarter * 4) / bar.meter.denominator;
  const unit = isCompound(bar.meter) && bar.meter.numerator > 3 ? beatTicks * 3 : beatTicks;
  const nearest = Math.round((tick - bar.start) / unit);
  const isOn = Math.abs(tick - bar.start - nearest * unit) <= slack;
  const beat = isOn ? nearest + 1 : 0;
  return { bar: bar.index, beat, backbeat: beat > 1 && beat % 2 === 0 };
}
