import { ArrayMaxSize, Equals, IsArray, IsIn, IsInt, IsNumber, Max, Min } from 'class-validator';
import { Directive, jobKind, LAST_TICK, MayBeAbsent } from '../kind';

/** An eighth, a quarter, a dotted quarter, a half. */
export const BEAT_UNITS = [0.5, 1, 1.5, 2] as const;
export type BeatUnit = (typeof BEAT_UNITS)[number];

/** More beats than this are not taken. */
export const MOST_BEATS = 50_000;
/** Beats can be followed from so many on. */
const LEAST_BEATS = 4;

/**
 * Lays bars and beats along the music where the file's own are no use: ticks of
 * successive beats, in the source's own time; an empty list goes back to the file's.
 */
export class Beats extends Directive {
  @Equals('beats') kind = 'beats' as const;
  /** To the hundredth of a tick. */
  @IsArray()
  @ArrayMaxSize(MOST_BEATS)
  @IsNumber({}, { each: true })
  @Min(0, { each: true })
  @Max(LAST_TICK, { each: true })
  ticks!: number[];
  /** Beats a bar. */
  @IsInt() @Min(1) @Max(12) perBar!: number;
  /** Index of the first beat that begins a bar. */
  @IsInt() @Min(0) @Max(11) first!: number;
  /** Indices of all beats that begin bars, where bars differ in length; instead of `first`. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_BEATS)
  @IsInt({ each: true })
  @Min(0, { each: true })
  bars?: number[];
  /** What a beat is written as, in quarter notes; 1 where absent. */
  @MayBeAbsent() @IsIn(BEAT_UNITS) unit?: BeatUnit;
}

export type BeatsChoice = Omit<Beats, 'kind'>;

/** Beats that are heard, where the file's say nothing of the music or this goes across them. */
export type HeardBeats = BeatsChoice & { heard: 'loose' | 'across' | 'recorded' };

/** Beats that are followed; as they are heard where nobody decided so. */
export type BeatsInForce = BeatsChoice | HeardBeats;

export const areHeard = (beats: BeatsInForce | null | undefined): beats is HeardBeats =>
  Boolean(beats && 'heard' in beats);

/** The decision to follow beats. */
export const followed = ({ ticks, perBar, first, bars, unit }: BeatsInForce): Omit<Beats, never> => ({
  kind: 'beats',
  ticks,
  perBar,
  first,
  ...(bars && { bars }),
  ...(unit && { unit }),
});

/** What floating point may leave of a hundredth; large ticks leave more. */
const HAIR = 1e-2;

const ascend = (values: readonly number[]): boolean =>
  values.every((value, index) => index === 0 || value > values[index - 1]!);

export const beats = jobKind({
  type: Beats,
  field: 'beats',
  readBy: ['clock', 'stock'],
  /** Beats that bars and tempo follow instead of the file's; null for the file's, undefined for what is heard. */
  initial: (): BeatsInForce | null | undefined => undefined,
  add: (_: BeatsInForce | null | undefined, directive: Beats): BeatsInForce | null =>
    directive.ticks.length === 0 ? null : directive,
  check: ({ ticks, bars }) => {
    if (ticks.length > 0 && ticks.length < LEAST_BEATS)
      return `ticks must be none or at least ${LEAST_BEATS}`;
    if (ticks.some((tick) => Math.abs(tick * 100 - Math.round(tick * 100)) > HAIR))
      return 'ticks must be told to the hundredth';
    if (!ascend(ticks)) return 'ticks must ascend';
    if (bars && !ascend(bars)) return 'bars must ascend';
    return null;
  },
  words: ({ ticks }) =>
    ticks.length === 0
      ? 'Beats as the file has them'
      : `Bars laid along ${ticks.length.toLocaleString('en')} beats`,
  doc: {
    fields:
      '`ticks` (of successive beats in the source, ascending, to the hundredth; empty for the file’s own), `perBar`, `first` (index of the first beat that begins a bar); optional `bars` (indices of all beats that begin bars, ascending, where they differ in length), optional `unit` (what a beat is written as, in quarter notes: 0.5, 1, 1.5 or 2)',
    meaning:
      'lays bars and tempo along the music; everything stays where it sounds. Where nothing is decided and the file’s beats say nothing of the music, those that are heard are followed',
  },
});
