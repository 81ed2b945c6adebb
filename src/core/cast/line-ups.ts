import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  MaxLength,
  Min,
  MinLength,
  Validate,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { IsInstrument } from '../decisions/instrument-id';
import { MayBeAbsent } from '../decisions/kind';
import type { PlainDirective } from '../decisions/kinds';
import { instrumentOf } from '../instruments/catalogue';
import { addedId, isAdded, type StrandId } from '../model/ids';
import { GROUP_SYMBOLS, type GroupSymbol, type PartGroup, regrouped } from '../model/score';
import { bracketsOf } from './brackets';
import { numbered } from './part-names';

const MOST_PARTS = 300;
const LONGEST_NAME = 200;

/** One part of a line-up. */
export class LineUpPart {
  @IsString() @MinLength(1) @MaxLength(LONGEST_NAME) name!: string;
  @Validate(IsInstrument) instrument!: string;
}

/** Parts of a line-up, by their places from 0, that belong together. */
export class LineUpGroup implements PartGroup {
  @IsInt() @Min(0) from!: number;
  @IsInt() @Min(0) to!: number;
  @IsIn(GROUP_SYMBOLS) symbol!: GroupSymbol;
  @IsBoolean() joined!: boolean;
  @MayBeAbsent() @IsString() @MaxLength(LONGEST_NAME) name?: string;
}

/** A standing set of parts in their order; an open JSON file (docs/line-ups.md). */
export class LineUp {
  @Equals('dragoman-line-up') format!: 'dragoman-line-up';
  @Equals(1) version!: 1;
  @IsString() @MinLength(1) @MaxLength(LONGEST_NAME) name!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_PARTS)
  @ValidateNested({ each: true })
  @Type(() => LineUpPart)
  parts!: LineUpPart[];
  /** Brackets and braces; over families where absent. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_PARTS)
  @ValidateNested({ each: true })
  @Type(() => LineUpGroup)
  groups?: LineUpGroup[];
}

/** A line-up of these parts. */
export const makeLineUp = (
  name: string,
  parts: readonly LineUpPart[],
  groups?: readonly PartGroup[],
): LineUp =>
  Object.assign(new LineUp(), {
    format: 'dragoman-line-up' as const,
    version: 1 as const,
    name,
    parts: parts.map((part) =>
      Object.assign(new LineUpPart(), { name: part.name, instrument: part.instrument }),
    ),
    ...(groups && { groups: groups.map((group) => Object.assign(new LineUpGroup(), group)) }),
  });

/** Parts of standing ensembles, "instrument × how many" in score order (common practice). */
const STANDING: readonly (readonly [name: string, parts: string])[] = [
  ['String quartet', 'violin*2 viola cello'],
  ['String quintet', 'violin*2 viola cello double-bass'],
  ['String orchestra', 'violin*2 viola cello double-bass'],
  ['Wind quintet', 'flute oboe clarinet-bflat horn-f bassoon'],
  ['Brass quintet', 'trumpet-bflat*2 horn-f trombone tuba'],
  ['Saxophone quartet', 'soprano-saxophone alto-saxophone tenor-saxophone baritone-saxophone'],
  ['Guitar quartet', 'classical-guitar*4'],
  ['Choir SATB', 'soprano alto tenor bass-voice'],
  ['Choir SATB with piano', 'soprano alto tenor bass-voice piano'],
  [
    'Chamber orchestra',
    'flute*2 oboe*2 clarinet-bflat*2 bassoon*2 horn-f*2 trumpet-bflat*2 timpani violin*2 viola cello double-bass',
  ],
  [
    'Symphony orchestra',
    'piccolo flute*2 oboe*2 english-horn clarinet-bflat*2 bass-clarinet bassoon*2 contrabassoon horn-f*4 trumpet-bflat*3 trombone*2 bass-trombone tuba timpani percussion*3 harp piano violin*2 viola cello double-bass',
  ],
  [
    'Concert band',
    'piccolo flute*2 oboe bassoon clarinet-eflat clarinet-bflat*3 alto-clarinet bass-clarinet alto-saxophone*2 tenor-saxophone baritone-saxophone trumpet-bflat*3 horn-f*4 trombone*2 bass-trombone euphonium tuba double-bass timpani percussion*3',
  ],
  [
    'Big band',
    'alto-saxophone*2 tenor-saxophone*2 baritone-saxophone trumpet-bflat*4 trombone*3 bass-trombone electric-guitar piano double-bass drum-set',
  ],
  [
    'Brass band',
    'soprano-cornet cornet*4 flugelhorn alto-horn*3 baritone-horn-tc*2 trombone-tc*2 bass-trombone euphonium-tc*2 eflat-bass bflat-bass percussion*2',
  ],
  ['Piano trio', 'violin cello piano'],
  ['Jazz combo', 'alto-saxophone trumpet-bflat piano double-bass drum-set'],
  ['Pop band', 'voice electric-guitar*2 piano bass-guitar drum-set'],
];

/** Line-ups that everybody has. */
export const LINE_UPS: readonly LineUp[] = STANDING.map(([name, text]) =>
  makeLineUp(
    name,
    text.split(' ').flatMap((word) => {
      const [instrument = '', times = '1'] = word.split('*');
      const own = instrumentOf(instrument);
      const count = Number(times);
      return Array.from({ length: count }, (_, index) => ({
        instrument,
        name: numbered(own.name, own, count === 1 ? null : [index + 1]),
      }));
    }),
  ),
);

/** A part of the job, as a line-up is laid over it. */
export interface FilledBy {
  strand: StrandId;
  name: string;
  instrument: string;
  /** Mean sounding key of its notes; null where it rests. */
  middle: number | null;
}

/** Which part takes which place of a line-up, and what that decides. */
export interface Laying {
  /** By the places of the line-up: the part of the job, null where none fits. */
  places: (FilledBy | null)[];
  /** Parts of the job that the line-up has no place for; they come after it. */
  over: FilledBy[];
  directives: PlainDirective[];
}

/** What it costs that a part takes a place: the same name is best, then the instrument, then one of its kind. */
const SAME_NAME = 0;
const SAME_INSTRUMENT = 10;
const SAME_KIND = 20;
const ELSE = 100;
/** For each semitone that its middle lies outside what the place is comfortable with. */
const BEYOND = 4;
/** What costs more than this stays without a place. */
const FITS = 60;

/** What a standard sound is a kind of: clarinets of all keys are one, and so are saxophones. */
const kindOf = (sound: string): string =>
  sound
    .split('.')
    .slice(0, sound.startsWith('wind.') ? 3 : 2)
    .join('.');

function costOf(part: FilledBy, { name, instrument }: LineUpPart): number {
  const [own, wanted] = [instrumentOf(part.instrument), instrumentOf(instrument)];
  if (own.unpitched !== wanted.unpitched) return ELSE;
  const [low, high] = wanted.comfortable;
  const middle = part.middle ?? low;
  const beyond = wanted.unpitched ? 0 : BEYOND * Math.max(0, low - middle, middle - high);
  if (own.id === wanted.id) return part.name === name ? SAME_NAME : SAME_INSTRUMENT;
  return kindOf(own.sound) === kindOf(wanted.sound) ? SAME_KIND + beyond : ELSE;
}

/** A part that was added and still rests takes a place only when none that sounds does. */
const RESTING = 1000;

const isResting = ({ strand, middle }: FilledBy): boolean => middle === null && isAdded(strand);

/**
 * Lays a line-up over the parts of a job: each place takes the part that fits
 * it best, those of one instrument in their order; names, instruments, order
 * and brackets follow. Nothing is left out: what has no place comes after the
 * others; only parts that were added and rest go.
 *
 * @param keepsEmpty places that no part takes become parts that rest
 */
export function layLineUp(
  { parts: wanted, groups }: LineUp,
  parts: readonly FilledBy[],
  keepsEmpty = false,
): Laying {
  const pairs = wanted
    .flatMap((place, at) => parts.map((part, index) => ({ at, index, cost: costOf(part, place) })))
    .filter(({ cost }) => cost <= FITS)
    .map(({ at, index, cost }) => ({
      at,
      index,
      cost: cost + Math.abs(at - index) / 1000 + (isResting(parts[index]!) ? RESTING : 0),
    }))
    .sort((a, b) => a.cost - b.cost);
  const placeOf = new Map<number, number>();
  const places = wanted.map((): FilledBy | null => null);
  for (const { at, index } of pairs) {
    if (places[at] || placeOf.has(index)) continue;
    places[at] = parts[index]!;
    placeOf.set(index, at);
  }
  const left = parts.filter((_, index) => !placeOf.has(index));
  const over = left.filter((part) => !isResting(part));
  const directives = left
    .filter(isResting)
    .map(({ strand }): PlainDirective => ({ kind: 'part', strand, instrument: null }));
  const taken = new Set(parts.map(({ strand }) => strand));
  const leaders = wanted.map(({ name, instrument }, at): StrandId | null => {
    const part = places[at];
    if (!part && !keepsEmpty) return null;
    const strand = part?.strand ?? newPartId(taken);
    if (!part) directives.push({ kind: 'part', strand, instrument });
    else if (part.instrument !== instrument) directives.push({ kind: 'cast', strand, instrument });
    if (part?.name !== name) directives.push({ kind: 'name', strand, name });
    return strand;
  });
  const present = leaders.filter((leader) => leader !== null);
  directives.push({ kind: 'order', strands: [...present, ...over.map(({ strand }) => strand)] });
  if (groups)
    directives.push({
      kind: 'brackets',
      groups: bracketsOf(
        present.map((leader) => ({ leader })),
        regrouped(groups, leaders, present),
      ),
    });
  return { places, over, directives };
}

/** An id for one part more. */
export function newPartId(taken: Set<StrandId>): StrandId {
  let number = 1;
  while (taken.has(addedId(number))) number++;
  taken.add(addedId(number));
  return addedId(number);
}

/** A line-up as a file. */
export const lineUpText = (lineUp: LineUp): string => `${JSON.stringify(lineUp, null, 2)}\n`;

/** Reads a line-up's file. @throws Error with one sentence for people where it is none */
export function readLineUp(text: string): LineUp {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new Error('This is no line-up: it is not JSON.');
  }
  const lineUp = plainToInstance(LineUp, data);
  const [error] = lineUp instanceof LineUp ? validateSync(lineUp) : [];
  if (!(lineUp instanceof LineUp) || error)
    throw new Error(`This is no line-up${error ? `: its ${error.property} cannot be read` : ''}.`);
  const beyond = lineUp.groups?.find(({ from, to }) => from > to || to >= lineUp.parts.length);
  if (beyond) throw new Error('This is no line-up: one of its groups is over parts that it does not have.');
  return lineUp;
}
