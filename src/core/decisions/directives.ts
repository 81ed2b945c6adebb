import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  Validate,
  ValidateNested,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
} from 'class-validator';
import { isInstrumentId } from '../instruments/catalogue';
import { SWUNG_VALUES, type SwungValue } from '../model/score';

/** A strand, or a piece of one that was split. */
const STRAND = /^t\d{1,5}c\d{1,2}(s\d{1,3})*$/;
/** The same, or a whole track. */
const STRAND_OR_TRACK = /^t\d{1,5}(c\d{1,2}(s\d{1,3})*)?$/;
/** A note of the source: its strand and its place in the track. */
const NOTE = /^t\d{1,5}c\d{1,2}-\d{1,9}$/;
/** A moment in quarter notes, a whole number or a fraction. */
const MOMENT = /^\d{1,14}(\/[1-9]\d{0,6})?$/;
/** A kind of event: one controller or a range of them, bends or pressure. */
const LANE = /^(cc\d{1,3}(-\d{1,3})?|pitch-bend|channel-pressure|key-pressure)$/;

@ValidatorConstraint({ name: 'isInstrument' })
class IsInstrument implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && isInstrumentId(value);
  }
  defaultMessage(): string {
    return 'instrument is not in the catalogue';
  }
}

export const SMALLEST = ['quarter', 'eighth', '16th', '32nd'] as const;
export type Smallest = (typeof SMALLEST)[number];

/** One decision. Later directives win over earlier ones about the same thing. */
export abstract class Directive {
  abstract readonly kind: string;
}

/** Leaves a strand out of the score and of every hand-over, or takes it back in; also a track without notes. */
export class LeaveOut extends Directive {
  @Equals('leave-out') kind = 'leave-out' as const;
  @Matches(STRAND_OR_TRACK) strand!: string;
  @IsBoolean() out!: boolean;
}

/** Gives the part of a strand its name. */
export class NamePart extends Directive {
  @Equals('name') kind = 'name' as const;
  @Matches(STRAND) strand!: string;
  @IsString() @MaxLength(120) name!: string;
}

/** Casts a strand's part on an instrument of the catalogue. */
export class Cast extends Directive {
  @Equals('cast') kind = 'cast' as const;
  @Matches(STRAND) strand!: string;
  @Validate(IsInstrument) instrument!: string;
}

/** Sets the number of staves. */
export class Staves extends Directive {
  @Equals('staves') kind = 'staves' as const;
  @Matches(STRAND) strand!: string;
  @IsIn([1, 2]) staves!: 1 | 2;
}

/** Puts a strand into the part of another one, or with `into: null` into a part of its own. */
export class Join extends Directive {
  @Equals('join') kind = 'join' as const;
  @Matches(STRAND) strand!: string;
  @IsOptional() @Matches(STRAND) into!: string | null;
}

/** Sets what a strand's rhythm is read with; without `strand` it holds for all, with ticks for a passage. */
export class Grid extends Directive {
  @Equals('grid') kind = 'grid' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsIn(SMALLEST) smallest!: Smallest;
  @IsBoolean() triplets!: boolean;
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** Sets how far a strand's part sounds ahead of the beat; `milliseconds: null` goes back to what was found. */
export class Lead extends Directive {
  @Equals('lead') kind = 'lead' as const;
  @Matches(STRAND) strand!: string;
  @IsOptional() @IsNumber() @Min(-500) @Max(500) milliseconds!: number | null;
}

export const SWING_USES = ['found', 'straight', 'swung'] as const;

/** Reads eighths or 16ths as swung, or all as straight, over the whole piece or a passage; `found` goes back to what was found. */
export class SwingChoice extends Directive {
  @Equals('swing') kind = 'swing' as const;
  @IsIn(SWING_USES) use!: (typeof SWING_USES)[number];
  /** For `swung`: what comes in pairs of long and short; eighths where nothing is said. */
  @IsOptional() @IsIn(SWUNG_VALUES) value?: SwungValue;
  /** For `swung`: where in its pair the second one sounds. */
  @IsOptional() @IsNumber() @Min(0.5) @Max(0.8) ratio?: number;
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** Groups the bars of an irregular meter, over the whole piece or a passage; no groups go back to what was found. */
export class ChooseGroups extends Directive {
  @Equals('groups') kind = 'groups' as const;
  /** Of the meter, in whose units the groups are; they add up to it. */
  @IsInt() @Min(5) @Max(13) numerator!: number;
  @IsIn([2, 4, 8, 16, 32]) denominator!: number;
  @IsArray() @ArrayMaxSize(6) @IsIn([2, 3], { each: true }) groups!: number[];
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** How readily gaps are closed: 0 keeps every one, 1 as heard, more closes more. */
export class Lengths extends Directive {
  @Equals('lengths') kind = 'lengths' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsNumber() @Min(0) @Max(4) closing!: number;
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** How many voices a staff may have at most. */
export class Voices extends Directive {
  @Equals('voices') kind = 'voices' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsIn([1, 2]) most!: 1 | 2;
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** Says where one note is written. Moments in quarter notes from the start, as `13` or `40/3`; null goes back to the reading. */
export class Place extends Directive {
  @Equals('place') kind = 'place' as const;
  @Matches(NOTE) note!: string;
  @IsOptional() @Matches(MOMENT) start?: string | null;
  @IsOptional() @Matches(MOMENT) end?: string | null;
  /** A grace note before what stands at `start`. */
  @IsOptional() @IsBoolean() grace?: boolean;
}

/** Sets the concert key of the whole piece; `fifths: null` goes back to the source's. */
export class ChooseKey extends Directive {
  @Equals('key') kind = 'key' as const;
  @IsOptional() @IsInt() @Min(-7) @Max(7) fifths!: number | null;
  @IsBoolean() minor!: boolean;
}

/** Sets the number of the first full bar and the length of the upbeat in quarter notes. */
export class SetClock extends Directive {
  @Equals('clock') kind = 'clock' as const;
  @IsOptional() @IsInt() @Min(-999) @Max(9999) firstBar?: number;
  @IsOptional() @IsNumber() @Min(0) @Max(64) upbeatQuarters?: number;
}

/** Sets the order of the parts by the strands that lead them; parts not named follow in score order. */
export class Order extends Directive {
  @Equals('order') kind = 'order' as const;
  @IsArray() @ArrayMaxSize(5000) @Matches(STRAND, { each: true }) strands!: string[];
}

/** Sets the title. */
export class Title extends Directive {
  @Equals('title') kind = 'title' as const;
  @IsString() @MaxLength(200) title!: string;
}

/** Cuts a strand in pieces; the first keeps the strand's id, the others add `s2`, `s3` … `by: null` undoes it. */
export class Split extends Directive {
  @Equals('split') kind = 'split' as const;
  @Matches(STRAND) strand!: string;
  @IsOptional() @IsIn(['pitch', 'program', 'key-switch', 'passage']) by!:
    | 'pitch'
    | 'program'
    | 'key-switch'
    | 'passage'
    | null;
  /** For `pitch`: the lowest MIDI key of the upper piece. */
  @IsOptional() @IsInt() @Min(1) @Max(127) key?: number;
  /** For `key-switch`: the keys that command; they are taken out. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(128)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(127, { each: true })
  keys?: number[];
  /** For `passage`: onsets from this tick, and before that one, make the second piece. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

/** Takes keys out of a strand because they are commands, not music. */
export class KeySwitches extends Directive {
  @Equals('key-switches') kind = 'key-switches' as const;
  @Matches(STRAND) strand!: string;
  @IsArray()
  @ArrayMaxSize(128)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(127, { each: true })
  keys!: number[];
}

/** Ends notes that the source never ends at the next attack, at the latest at the end of their bar. */
export class CloseHanging extends Directive {
  @Equals('hanging') kind = 'hanging' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsBoolean() close!: boolean;
}

/** Ends a note where its own key is struck again, and joins strikes of one key at once. */
export class MendStacked extends Directive {
  @Equals('stacked') kind = 'stacked' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsBoolean() mend!: boolean;
}

/** Leaves out notes shorter than so many milliseconds; 0 keeps all. */
export class Specks extends Directive {
  @Equals('specks') kind = 'specks' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsNumber() @Min(0) @Max(500) under!: number;
}

export const CONTROLLER_USES = ['keep', 'remove', 'first', 'neutral'] as const;

/** What becomes of controllers, bends and pressures: kept, removed, only the first kept, or one neutral value. */
export class Controllers extends Directive {
  @Equals('controllers') kind = 'controllers' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsArray() @ArrayMinSize(1) @ArrayMaxSize(140) @Matches(LANE, { each: true }) lanes!: string[];
  @IsIn(CONTROLLER_USES) use!: (typeof CONTROLLER_USES)[number];
  /** Only from this tick, and before that one. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  @IsOptional() @IsInt() @Min(0) to?: number;
}

export const PROGRAM_USES = ['source', 'first', 'none', 'instrument', 'number'] as const;

/** Which program and bank a strand is handed over with. */
export class Programs extends Directive {
  @Equals('programs') kind = 'programs' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsIn(PROGRAM_USES) use!: (typeof PROGRAM_USES)[number];
  /** For `number`: 1–128. */
  @IsOptional() @IsInt() @Min(1) @Max(128) program?: number;
  /** For `number`: MSB × 128 + LSB. */
  @IsOptional() @IsInt() @Min(0) @Max(16_383) bank?: number;
}

/** Velocities: scaled by a percentage, then drawn towards one value by a percentage. */
export class Velocities extends Directive {
  @Equals('velocities') kind = 'velocities' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsNumber() @Min(1) @Max(400) scale!: number;
  @IsInt() @Min(1) @Max(127) level!: number;
  @IsNumber() @Min(0) @Max(100) strength!: number;
}

class KeyMove {
  @IsInt() @Min(0) @Max(127) from!: number;
  @IsInt() @Min(0) @Max(127) to!: number;
}

/** Moves the keys of a percussion strand to where another kit has those sounds. */
export class Kit extends Directive {
  @Equals('kit') kind = 'kit' as const;
  @Matches(STRAND) strand!: string;
  @IsArray() @ArrayMaxSize(128) @ValidateNested({ each: true }) @Type(() => KeyMove) keys!: KeyMove[];
}

/** Moves a strand to another channel, 1–16. */
export class SetChannel extends Directive {
  @Equals('channel') kind = 'channel' as const;
  @Matches(STRAND) strand!: string;
  @IsInt() @Min(1) @Max(16) channel!: number;
}

/** Keeps a tempo or meter change, drops it or moves it to the nearest bar line. */
export class ClockEvent extends Directive {
  @Equals('clock-event') kind = 'clock-event' as const;
  @IsIn(['tempo', 'meter']) what!: 'tempo' | 'meter';
  @IsInt() @Min(0) tick!: number;
  @IsIn(['keep', 'to-bar', 'drop']) mend!: 'keep' | 'to-bar' | 'drop';
}

/** An eighth, a quarter, a dotted quarter, a half. */
export const BEAT_UNITS = [0.5, 1, 1.5, 2] as const;
export type BeatUnit = (typeof BEAT_UNITS)[number];

/** More beats than this are not taken. */
export const MOST_BEATS = 50_000;

/**
 * Lays bars and beats along the music where the file's own are no use: ticks of
 * successive beats, in the source's own time; an empty list goes back to the file's.
 */
export class Beats extends Directive {
  @Equals('beats') kind = 'beats' as const;
  /** To the hundredth of a tick. */
  @IsArray()
  @ArrayMaxSize(MOST_BEATS)
  @IsNumber({ maxDecimalPlaces: 2 }, { each: true })
  @Min(0, { each: true })
  ticks!: number[];
  /** Beats a bar. */
  @IsInt() @Min(1) @Max(12) perBar!: number;
  /** Index of the first beat that begins a bar. */
  @IsInt() @Min(0) @Max(11) first!: number;
  /** Indices of all beats that begin bars, where bars differ in length; instead of `first`. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_BEATS)
  @IsInt({ each: true })
  @Min(0, { each: true })
  bars?: number[];
  /** What a beat is written as, in quarter notes; 1 where absent. */
  @IsOptional() @IsIn(BEAT_UNITS) unit?: BeatUnit;
}

/** Sets one meter, and the upbeat before it, for the whole piece; `numerator: null` goes back to the source's. */
export class ChooseMeter extends Directive {
  @Equals('meter') kind = 'meter' as const;
  @IsOptional() @IsInt() @Min(1) @Max(32) numerator!: number | null;
  @IsIn([1, 2, 4, 8, 16, 32]) denominator!: number;
  @IsNumber() @Min(0) @Max(64) upbeatQuarters!: number;
}

/** Takes off whole empty bars before the first note. */
export class Silence extends Directive {
  @Equals('silence') kind = 'silence' as const;
  @IsBoolean() trim!: boolean;
}

/** Gives strands that stand on the grid a gentle life: time in milliseconds, velocity in steps, 0 for none. */
export class Vary extends Directive {
  @Equals('vary') kind = 'vary' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsNumber() @Min(0) @Max(60) time!: number;
  @IsNumber() @Min(0) @Max(40) velocity!: number;
  @IsInt() @Min(0) @Max(4_294_967_295) seed!: number;
}

/** Says that something odd is meant as it is, by the id that stock-taking gives it. */
export class Meant extends Directive {
  @Equals('meant') kind = 'meant' as const;
  @IsString() @MaxLength(80) oddity!: string;
  @IsBoolean() meant!: boolean;
}

export const FORMS = ['plain', 'full', 'clock', 'loops'] as const;
export const HAND_OVER_PROGRAMS = ['source', 'none', 'general-midi'] as const;
export const CHANNELS = ['source', 'each', 'one'] as const;

/** How a Standard MIDI File is handed over. */
export class HandOver extends Directive {
  @Equals('hand-over') kind = 'hand-over' as const;
  @IsIn(FORMS) form!: (typeof FORMS)[number];
  @IsIn([0, 1]) type!: 0 | 1;
  /** Ticks a quarter note; absent for the source's. */
  @IsOptional() @IsInt() @Min(1) @Max(32_767) division?: number;
  @IsIn(HAND_OVER_PROGRAMS) programs!: (typeof HAND_OVER_PROGRAMS)[number];
  @IsIn(CHANNELS) channels!: (typeof CHANNELS)[number];
  @IsInt() @Min(0) @Max(32) leadInBars!: number;
  /** Adds a track that clicks every beat. */
  @IsBoolean() click!: boolean;
  /** For `loops`: bars a loop, or 0 for the sections between markers. */
  @IsInt() @Min(0) @Max(999) loopBars!: number;
  /** Only the parts that these strands lead; absent for all. */
  @IsOptional() @IsArray() @ArrayMaxSize(5000) @Matches(STRAND, { each: true }) strands?: string[];
}

export const DIRECTIVES = {
  'leave-out': LeaveOut,
  name: NamePart,
  cast: Cast,
  staves: Staves,
  join: Join,
  grid: Grid,
  lead: Lead,
  swing: SwingChoice,
  groups: ChooseGroups,
  lengths: Lengths,
  voices: Voices,
  place: Place,
  key: ChooseKey,
  clock: SetClock,
  order: Order,
  title: Title,
  split: Split,
  'key-switches': KeySwitches,
  hanging: CloseHanging,
  stacked: MendStacked,
  specks: Specks,
  controllers: Controllers,
  programs: Programs,
  velocities: Velocities,
  kit: Kit,
  channel: SetChannel,
  'clock-event': ClockEvent,
  beats: Beats,
  meter: ChooseMeter,
  silence: Silence,
  vary: Vary,
  meant: Meant,
  'hand-over': HandOver,
} as const;

export type AnyDirective = InstanceType<(typeof DIRECTIVES)[keyof typeof DIRECTIVES]>;

/** A directive as plain data, as it is stored and passed about. */
export type PlainDirective = { [K in AnyDirective as K['kind']]: Omit<K, never> }[AnyDirective['kind']];
