import { LAST_TICK } from '../core/decisions/kind';
import type { SourceId } from '../core/model/ids';
import { EVENT_ID, type EventId, PART_ID, type PartId, STRAND_ID, type StrandId } from '../core/model/ids';
import { SIGNS, type Sign } from '../core/model/signs';
import { NOTE_TYPES, type NoteType } from '../core/model/time';
import type { Source } from '../core/sources';
import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { BEAT_UNITS, type BeatUnit } from '../core/decisions/kinds/beats';
import { MOST_VERSES } from '../core/decisions/kinds/sign';
import type { PacketChoice, PacketExtra } from '../core/deliver/packet-choice';
import { RATES, type Rate } from '../core/deliver/smpte';
import { ANSWERS, type Answer } from '../core/edit/answers';
import { COPIED, type Copied } from '../core/edit/like-passages';
import { ARRANGEMENTS, type Arrangement } from '../core/edit/rearrange';
import { CHORD_PLACES, type ChordPlace, type NoteRule } from '../core/edit/select';
import { MOST_BARS } from '../core/model/clock';
import { type BarsEdit, MOST_NEW_BARS } from '../core/rewrite/bar-order';
import { HEARD, type Heard, isOfScore } from '../core/sound/events';
import type { BeatChange } from '../core/workbench/beat-sheet';
import type { Compared } from '../core/workbench/compare';
import type { NotesEdit } from '../core/workbench/note-edits';
import { STEMS_BY, type StemsBy } from '../core/workbench/stems';
import { checkMessage } from './check-message';

/** What is said of a source beside its bytes. */
class SourceMessage {
  @Matches(/^[1-9]\d{0,3}$/) id!: SourceId;
  @IsInt() @Min(1) version!: number;
  @IsString() @MaxLength(1000) name!: string;
}

/**
 * A source at the worker's door. Its bytes are not walked through by the checks: there may be millions.
 * @throws TypeError naming the first thing that is wrong
 */
export function checkSource(data: unknown): Source {
  const { bytes, ...of } = (data ?? {}) as { bytes?: unknown };
  if (!(bytes instanceof Uint8Array)) throw new TypeError('The source has no bytes.');
  return { ...checkMessage(SourceMessage, of), bytes };
}

/** One source of the job. */
export class SourceRequest {
  @Matches(/^[1-9]\d{0,3}$/) source!: SourceId;
}

/** One version of a source of the job. */
export class VersionRequest extends SourceRequest {
  @IsInt() @Min(1) version!: number;
}

/** One note of a source. */
export class NoteRequest {
  @Matches(EVENT_ID) note!: EventId;
}

/** So many notes can be chosen at once. */
const MOST_CHOSEN = 200_000;

/** Some notes of a source. */
export class NotesRequest {
  @IsArray() @ArrayMaxSize(MOST_CHOSEN) @Matches(EVENT_ID, { each: true }) notes!: EventId[];
}

/** From one note to another. */
export class BetweenRequest {
  @Matches(EVENT_ID) from!: EventId;
  @Matches(EVENT_ID) to!: EventId;
}

/** What notes have to be like, and where to look for them. */
export class FindRequest implements NoteRule {
  @IsArray() @ArrayMaxSize(5000) @Matches(PART_ID, { each: true }) parts!: PartId[];
  /** Bars, indices; `to` exclusive. */
  @IsInt() @Min(0) from!: number;
  @IsInt() @Min(1) to!: number;
  @IsOptional() @IsIn(NOTE_TYPES) shorter?: NoteType;
  @IsOptional() @IsIn(NOTE_TYPES) longer?: NoteType;
  @IsOptional() @IsIn(['on', 'off']) beat?: 'on' | 'off';
  @IsOptional() @IsIn(['above', 'below']) ledger?: 'above' | 'below';
  @IsOptional() @IsInt() @Min(0) @Max(127) lowest?: number;
  @IsOptional() @IsInt() @Min(0) @Max(127) highest?: number;
  @IsOptional() @IsInt() @Min(1) @Max(127) softest?: number;
  @IsOptional() @IsInt() @Min(1) @Max(127) loudest?: number;
  @IsOptional() @IsIn(CHORD_PLACES) chord?: ChordPlace;
  @IsOptional() @IsIn([1, 2]) voice?: 1 | 2;
  @IsOptional() @IsBoolean() grace?: boolean;
  @IsOptional() @IsIn([true]) outOfRange?: true;
  @IsOptional() @IsIn(SIGNS) sign?: Sign;
  @IsOptional() @IsBoolean() has?: boolean;
}

/** Something to do to chosen notes. */
export class EditNotesRequest extends NotesRequest {
  @IsIn(['arrange', 'velocity', 'nudge', 'join', 'strike-again', 'copy', 'add']) edit!: NotesEdit['edit'];
  @IsOptional() @IsIn(ARRANGEMENTS) arrangement?: Arrangement;
  /** The page and what sounds, or the page alone. */
  @IsOptional() @IsBoolean() both?: boolean;
  /** A velocity, or by how much it changes. */
  @IsOptional() @IsInt() @Min(1) @Max(127) velocity?: number;
  @IsOptional() @IsInt() @Min(-127) @Max(127) by?: number;
  /** Milliseconds by which they sound later, and end later; of a note that is added its ticks. */
  @IsOptional() @IsNumber() @Min(-10_000) @Max(LAST_TICK) on?: number;
  @IsOptional() @IsNumber() @Min(-10_000) @Max(LAST_TICK) off?: number;
  @IsOptional() @IsInt() @Min(0) @Max(127) key?: number;
  /** A strand to copy to, and how many ticks later. */
  @IsOptional() @Matches(STRAND_ID) strand?: StrandId;
  @IsOptional() @IsInt() later?: number;
  @IsOptional() @IsBoolean() instead?: boolean;
}

/**
 * A checked request as an edit.
 * @throws TypeError when what the edit needs is not there
 */
export function toNotesEdit(request: EditNotesRequest): NotesEdit {
  const { edit, arrangement, both = false, velocity, by, strand } = request;
  const { on = 0, off = 0, later = 0, instead = false } = request;
  switch (edit) {
    case 'arrange':
      if (!arrangement) throw new TypeError('The edit has no arrangement.');
      return { edit, arrangement, both };
    case 'velocity':
      return { edit, ...(velocity !== undefined && { to: velocity }), ...(by !== undefined && { by }) };
    case 'nudge':
      return { edit, on: Math.min(on, MOST_NUDGED), off: Math.min(off, MOST_NUDGED) };
    case 'add':
      if (!strand || request.key === undefined) throw new TypeError('The note has no strand, or no key.');
      return { edit, strand, on, off, key: request.key };
    case 'copy':
      return { edit, ...(strand && { to: strand }), later, instead };
    case 'join':
    case 'strike-again':
      return { edit };
  }
}

/** Milliseconds: nobody moves a sound farther. */
const MOST_NUDGED = 10_000;

/** A passage whose like is looked for, and what of it is copied. */
export class LikePassagesRequest extends NotesRequest {
  @IsArray() @IsIn(COPIED, { each: true }) what!: Copied[];
}

/** A line of notes with words under it: those of a part from one note on, or under some alone; of a verse, from 1. */
export class LyricsLineRequest extends NotesRequest {
  @Matches(PART_ID) part!: PartId;
  @IsInt() @Min(1) @Max(MOST_VERSES) verse!: number;
  @IsBoolean() slurs!: boolean;
}

/** Words that are to be laid under such a line. */
export class LyricsRequest extends LyricsLineRequest {
  @IsString() @MaxLength(100_000) text!: string;
  /** Its lines begin where the tune breathes. */
  @IsBoolean() fit!: boolean;
}

export class PartRequest {
  @Matches(PART_ID) part!: PartId;
}

/** Some parts, and the bars from `from` up to but not including `to` (indices). */
export class WindowRequest {
  @IsArray() @ArrayMaxSize(5000) @Matches(PART_ID, { each: true }) parts!: PartId[];
  @IsInt() @Min(0) from!: number;
  @IsInt() @Min(1) to!: number;
  /** In concert pitch. */
  @IsOptional() @IsBoolean() concert?: boolean;
  /** As on paper: what all parts rest through is one rest. */
  @IsOptional() @IsBoolean() paper?: boolean;
}

/** `width` of a system in staff spaces. */
export class SystemsRequest {
  @IsArray() @ArrayMaxSize(5000) @Matches(PART_ID, { each: true }) parts!: PartId[];
  @IsNumber() @Min(10) @Max(2000) width!: number;
  /** Only those from this bar on. */
  @IsOptional() @IsInt() @Min(0) from?: number;
  /** In concert pitch. */
  @IsOptional() @IsBoolean() concert?: boolean;
  /** As on paper: what all parts rest through is one rest. */
  @IsOptional() @IsBoolean() paper?: boolean;
}

/** Some parts over some bars, for the Interlinear. */
export class InterlinearRequest extends WindowRequest {
  /** As the rhythm would be without any decision about it. */
  @IsOptional() @IsBoolean() found?: boolean;
}

/** What to do with the rhythm of chosen notes; `like` is a part to follow. */
export class RearrangeRequest {
  @IsArray() @ArrayMaxSize(20_000) @Matches(EVENT_ID, { each: true }) notes!: EventId[];
  @IsIn(ARRANGEMENTS) arrangement!: Arrangement;
  @IsOptional() @Matches(PART_ID) like?: PartId;
}

/** What can be done with beats: the edits of core, finding them, and going back to the file's. */
export const BEAT_EDITS = [
  'move',
  'add',
  'remove',
  'bar',
  'count',
  'tap',
  'halve',
  'double',
  'pulse',
  'unit',
  'find',
  'file',
] as const;

/** A change of the beats; seconds of the source, `index` counts beats from 0. */
export class EditBeatsRequest {
  @IsIn(BEAT_EDITS) edit!: (typeof BEAT_EDITS)[number];
  @IsOptional() @IsInt() @Min(0) index?: number;
  @IsOptional() @IsNumber() @Min(0) @Max(1e6) seconds?: number;
  @IsOptional() @IsInt() @Min(1) @Max(12) perBar?: number;
  @IsOptional() @IsIn(BEAT_UNITS) unit?: BeatUnit;
  @IsOptional() @IsInt() @Min(1) @Max(12) every?: number;
  @IsOptional() @IsInt() @Min(1) @Max(12) places?: number;
  @IsOptional() @IsArray() @ArrayMaxSize(50_000) @IsNumber({}, { each: true }) taps?: number[];
}

/**
 * A checked request as a change.
 * @throws TypeError when what the edit needs is not there
 */
export function toBeatChange({ edit, ...given }: EditBeatsRequest): BeatChange {
  const need = <K extends keyof typeof given>(name: K): NonNullable<(typeof given)[K]> => {
    const value = given[name];
    if (value === undefined) throw new TypeError(`The edit has no ${name}.`);
    return value;
  };
  switch (edit) {
    case 'move':
      return { edit, index: need('index'), seconds: need('seconds') };
    case 'add':
      return { edit, seconds: need('seconds') };
    case 'remove':
    case 'bar':
      return { edit, index: need('index') };
    case 'count':
      return { edit, index: need('index'), perBar: need('perBar') };
    case 'tap':
      return { edit, taps: need('taps'), perBar: need('perBar') };
    case 'pulse':
      return { edit, every: need('every'), places: need('places') };
    case 'unit':
      return { edit, unit: need('unit') };
    case 'halve':
    case 'double':
    case 'find':
    case 'file':
      return { edit };
  }
}

const BAR_EDITS = ['insert', 'remove', 'copy', 'move'] as const;

/** What is done with whole bars; indices from 0, `to` the first that is no longer meant. */
export class EditBarsRequest {
  @IsIn(BAR_EDITS) what!: (typeof BAR_EDITS)[number];
  @IsOptional() @IsInt() @Min(0) @Max(MOST_BARS) at?: number;
  @IsOptional() @IsInt() @Min(0) @Max(MOST_BARS) from?: number;
  @IsOptional() @IsInt() @Min(1) @Max(MOST_BARS) to?: number;
  @IsOptional() @IsInt() @Min(1) @Max(MOST_NEW_BARS) count?: number;
}

/**
 * A checked request as an edit.
 * @throws TypeError when what the edit needs is not there
 */
export function toBarsEdit({ what, at, from, to, count }: EditBarsRequest): BarsEdit {
  if (what === 'insert' && at !== undefined && count !== undefined) return { what, at, count };
  if (from !== undefined && to !== undefined) {
    if (what === 'remove') return { what, from, to };
    if (what !== 'insert' && at !== undefined) return { what, from, to, at };
  }
  throw new TypeError('The edit does not say which bars.');
}

/** One of the readings of a job: its score, or a version of a source. */
class ComparedMessage {
  @IsIn(['score', 'source']) kind!: 'score' | 'source';
  @IsOptional() @Matches(/^[1-9]\d{0,3}$/) source?: SourceId;
  @IsOptional() @IsInt() @Min(1) version?: number;
}

/** Two readings to lay over each other. */
export class CompareRequest {
  @IsObject() @ValidateNested() @Type(() => ComparedMessage) one!: ComparedMessage;
  @IsObject() @ValidateNested() @Type(() => ComparedMessage) two!: ComparedMessage;
}

/** One of two readings to be heard. */
export class ComparedSoundRequest extends CompareRequest {
  @IsIn([0, 1]) index!: 0 | 1;
}

/** What is to become of differences of two readings. */
export class AnswerRequest extends CompareRequest {
  @IsArray()
  @ArrayMaxSize(MOST_CHOSEN)
  @IsString({ each: true })
  @MaxLength(200, { each: true })
  rows!: string[];
  @IsIn(ANSWERS) answer!: Answer;
}

/** A line of a reading and a bar of it, both as indices. */
class LinePlace {
  @IsInt() @Min(0) line!: number;
  @IsInt() @Min(0) bar!: number;
}

/** A place in one or both of two readings. */
export class ComparedBarsRequest extends CompareRequest {
  @IsOptional() @IsObject() @ValidateNested() @Type(() => LinePlace) atOne?: LinePlace;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => LinePlace) atTwo?: LinePlace;
}

/**
 * A checked message as a reading.
 * @throws TypeError where a source is not named
 */
function toCompared({ kind, source, version }: ComparedMessage): Compared {
  if (kind === 'score') return { kind };
  if (!source || !version) throw new TypeError('The source is not named.');
  return { kind, source, version };
}

/** A checked request as two readings. */
export const toBothCompared = ({ one, two }: CompareRequest): [Compared, Compared] => [
  toCompared(one),
  toCompared(two),
];

export class DeliveryRequest {
  @IsIn(['musicxml', 'mxl']) format!: 'musicxml' | 'mxl';
  /** Some parts; absent for all. */
  @IsOptional() @IsArray() @ArrayMaxSize(5000) @Matches(PART_ID, { each: true }) parts?: PartId[];
  /** Each part as a file of its own, in a zip. */
  @IsOptional() @IsBoolean() each?: boolean;
}

/** Frames a second of a bar table, and where it starts. */
export class BarTableRequest {
  @IsIn(RATES) rate!: Rate;
  /** Time code at which the piece starts. */
  @Matches(/^\d{2}:\d{2}:\d{2}[:;]\d{2}$/) start!: string;
}

/** What goes into a packet, and what it is called. */
export class PacketRequest extends BarTableRequest implements PacketChoice {
  @IsString() @MaxLength(200) name!: string;
  @IsIn(['musicxml', 'mxl']) format!: 'musicxml' | 'mxl';
  @IsBoolean() score!: boolean;
  @IsBoolean() parts!: boolean;
  @IsBoolean() scorePdf!: boolean;
  @IsBoolean() partsPdf!: boolean;
  @IsBoolean() midiPlayed!: boolean;
  @IsBoolean() midiWritten!: boolean;
  @IsBoolean() bars!: boolean;
  @IsBoolean() proof!: boolean;
  @IsBoolean() brief!: boolean;
  @IsBoolean() recording!: boolean;
  @IsBoolean() stems!: boolean;
  @IsBoolean() rendered!: boolean;
}

/** What is said of pages and sound beside their bytes. */
class ExtraMessage {
  @IsIn(['score-pdf', 'part-pdf', 'recording', 'stem', 'rendered']) kind!: PacketExtra['kind'];
  @IsString() @MaxLength(300) name!: string;
}

/**
 * Pages and sound for a packet, their bytes not walked through.
 * @throws TypeError naming the first thing that is wrong
 */
export function checkExtras(data: unknown): PacketExtra[] {
  if (!Array.isArray(data) || data.length > 6000) throw new TypeError('These are no pages and sounds.');
  return data.map((each: unknown) => {
    const { bytes, ...of } = (each ?? {}) as { bytes?: unknown };
    if (!(bytes instanceof Uint8Array)) throw new TypeError('A page or sound has no bytes.');
    return { ...checkMessage(ExtraMessage, of), bytes };
  });
}

export class StemsRequest {
  @IsIn(HEARD) heard!: Heard;
  @IsIn(STEMS_BY) by!: StemsBy;
}

export class TimelineRequest {
  @IsIn(HEARD) heard!: Heard;
  /** Whether it is the score that is heard. */
  get ofScore(): boolean {
    return isOfScore(this.heard);
  }
}
