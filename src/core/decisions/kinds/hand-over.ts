import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { STRAND_ID, type StrandId } from '../../model/ids';
import { Directive, jobKind, MayBeAbsent } from '../kind';

export const FORMS = ['plain', 'full', 'clock', 'loops'] as const;
export const HAND_OVER_PROGRAMS = ['source', 'none', 'general-midi'] as const;
export const CHANNELS = ['source', 'each', 'one'] as const;

/** Where notes stand: as played, as written, or at their written places with the lengths that were played. */
export const NOTE_TIMES = ['played', 'written', 'places'] as const;
export type NoteTimes = (typeof NOTE_TIMES)[number];

export const LEADS = ['kept', 'taken'] as const;

/** What of a part may have a track of its own. */
export const APART = ['techniques', 'players', 'hands'] as const;

/** The key that makes a sampled instrument play a technique; the one without a name is the ordinary way. */
export class KeySwitchFor {
  @IsString() @MaxLength(80) technique!: string;
  @IsInt() @Min(0) @Max(127) key!: number;
}

/** How a Standard MIDI File is handed over. */
export class HandOver extends Directive {
  @Equals('hand-over') kind = 'hand-over' as const;
  @IsIn(FORMS) form!: (typeof FORMS)[number];
  @IsIn([0, 1]) type!: 0 | 1;
  /** Ticks a quarter note; absent for the source's. */
  @MayBeAbsent() @IsInt() @Min(1) @Max(32_767) division?: number;
  @IsIn(HAND_OVER_PROGRAMS) programs!: (typeof HAND_OVER_PROGRAMS)[number];
  @IsIn(CHANNELS) channels!: (typeof CHANNELS)[number];
  @IsInt() @Min(0) @Max(32) leadInBars!: number;
  /** Adds a track that clicks every beat. */
  @IsBoolean() click!: boolean;
  /** For `loops`: bars a loop, or 0 for the sections between markers. */
  @IsInt() @Min(0) @Max(999) loopBars!: number;
  /** Absent for as played. */
  @MayBeAbsent() @IsIn(NOTE_TIMES) times?: NoteTimes;
  /** How far notes go from where they were played, in per cent; absent for all the way. */
  @MayBeAbsent() @IsInt() @Min(0) @Max(100) strength?: number;
  /** Whether strands stay as far ahead of the beat as they sound; absent for yes as played, and no as written. */
  @MayBeAbsent() @IsIn(LEADS) leads?: (typeof LEADS)[number];
  /** Strands that stay as they were played all the same. */
  @MayBeAbsent() @IsArray() @ArrayMaxSize(5000) @Matches(STRAND_ID, { each: true }) asPlayed?: StrandId[];
  /** At least so many milliseconds between two events of a lane; absent for all of them. */
  @MayBeAbsent() @IsInt() @Min(0) @Max(1000) thin?: number;
  /** What has tracks of its own; absent for nothing. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(APART.length)
  @IsIn(APART, { each: true })
  apart?: (typeof APART)[number][];
  /** Every track as a file of its own, with the clock; absent for all in one. */
  @MayBeAbsent() @Equals('each') files?: 'each';
  /** Key switches for techniques that have no tracks of their own; absent for none. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => KeySwitchFor)
  switches?: KeySwitchFor[];
  /** Only the parts that these strands lead; absent for all. */
  @MayBeAbsent() @IsArray() @ArrayMaxSize(5000) @Matches(STRAND_ID, { each: true }) strands?: StrandId[];
}

export type HandOverChoice = Omit<HandOver, 'kind'>;

export const DEFAULT_HAND_OVER: HandOverChoice = {
  form: 'plain',
  type: 1,
  programs: 'none',
  channels: 'each',
  leadInBars: 0,
  click: false,
  loopBars: 0,
};

export const handOver = jobKind({
  type: HandOver,
  field: 'handOver',
  readBy: ['hand-over'],
  initial: () => DEFAULT_HAND_OVER,
  add: (_: HandOverChoice, directive: HandOver): HandOverChoice => directive,
  words: ({ form, times }) => `MIDI file: ${form}${times && times !== 'played' ? ', times as written' : ''}`,
  doc: {
    fields:
      '`form`: `plain`, `full`, `clock` or `loops`; `type`: 0 or 1; optional `division`; `programs`: `source`, `none` or `general-midi`; `channels`: `source`, `each` or `one`; `leadInBars`; `click`; `loopBars` (0: at the markers); optional `times`: `played`, `written` or `places` (written places with the lengths that were played); optional `strength` in per cent; optional `leads`: `kept` or `taken` back; optional `asPlayed`: strands that stay as played; optional `thin`: milliseconds between two events of a lane at least; optional `apart`: of `techniques`, `players` and `hands`, which then have tracks of their own; optional `files`: `each` for a file of every track; optional `switches`: [{`technique`, `key`} …] for a score’s techniques, the ordinary way without a name; optional `strands`',
    meaning: 'how a MIDI file is handed over',
  },
});
