import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
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
  validateSync,
} from 'class-validator';
import type { SourceId } from '../core/model/ids';
import type { Levels, SoundFacts } from '../core/recording/levels';

/** How a job stood when it was last checked, with its decisions as they are now. */
export class JobState {
  /** The build that worked it out. */
  @IsString() @MaxLength(200) engine!: string;
  @IsInt() @Min(0) parts!: number;
  @IsInt() @Min(0) bars!: number;
  @IsNumber() @Min(0) seconds!: number;
  /** Notes of the source, and how many of them stand in the score as played or are otherwise by decision. */
  @IsInt() @Min(0) notes!: number;
  @IsInt() @Min(0) settled!: number;
  /** What wants a look. */
  @IsInt() @Min(0) open!: number;
}

/** One job as it is listed. Times are milliseconds since 1970. */
export class JobRow {
  @IsString() @MaxLength(64) id!: string;
  @IsString() @MaxLength(300) title!: string;
  /** Of the first source. */
  @IsString() @MaxLength(300) sourceName!: string;
  @IsInt() @Min(0) sourceBytes!: number;
  @IsInt() @Min(0) strands!: number;
  @IsInt() @Min(0) notes!: number;
  @IsNumber() createdAt!: number;
  @IsNumber() changedAt!: number;
  /** Absent where it is not known: not checked since something was decided. */
  @IsOptional() @IsObject() @ValidateNested() @Type(() => JobState) state?: JobState;
}

/** One version of a source, byte for byte as it came. */
export interface SourceRow {
  id: string;
  jobId: string;
  /** Its number in the job. */
  source: SourceId;
  version: number;
  name: string;
  bytes: Uint8Array;
  /** SHA-256 of the bytes, in hexadecimal digits. */
  hash: string;
  addedAt: number;
}

/** What a source says of itself without its bytes. */
export type SourceEntry = Omit<SourceRow, 'bytes'> & { size: number };

/** The user's own sound bank. */
export interface BankRow {
  id: 'own';
  name: string;
  bytes: Uint8Array;
  /** SHA-256 of the bytes, in hexadecimal digits; earlier versions did not keep it. */
  hash?: string;
}

/** The listening reference of a job, byte for byte as it came. */
export interface RecordingRow {
  jobId: string;
  name: string;
  /** Kept as a file: a recording is played from where it lies, and may be too long for memory. */
  file: Blob;
  /** SHA-256 of the file, in hexadecimal digits; empty for one that is too long, and earlier versions did not keep it. */
  hash?: string;
  /** As the browser decodes it. */
  seconds: number;
  /** What there is to say and to draw of it; null where it is too long to be looked through. */
  heard: { facts: SoundFacts; levels: Levels } | null;
  addedAt: number;
}

/** The brief in force, and how many of the job's steps it holds. */
export interface BriefRow {
  jobId: string;
  brief: unknown;
  /** Steps taken so far; those at and after it were undone. */
  position: number;
  /** The last notes of decisions (`unkept.ts`) that are kept. */
  notes?: readonly unknown[];
}

/** One step of a job's history as what it changed: directives taken out of the list, then others put at its end. */
export class StepRow {
  @IsString() jobId!: string;
  @IsInt() @Min(0) index!: number;
  /** Places in the list before the step, ascending, with what stood there. */
  removed!: [place: number, directive: unknown][];
  added!: unknown[];
  @IsNumber() at!: number;
}

/** A result that was worked out, so that the job shows it at once when it is opened again. */
export interface ResultRow {
  jobId: string;
  /** What it was made of: sources, brief and engine. */
  of: string;
  value: unknown;
  /** What tells damage in it, as `digestOf` has it. */
  digest?: string;
  at: number;
}

/** An engraved system, so that it is there at once when its job is opened again. */
export interface PictureRow {
  /** A hash of what it was made of. */
  name: string;
  svg: string;
  /** What tells damage in it: its SHA-256. */
  hash: string;
  at: number;
}

/** The row if it is one, else null: what a browser gives back is checked like any other input. */
export function checkJobRow(data: unknown): JobRow | null {
  const row = plainToInstance(JobRow, data);
  return typeof row === 'object' && row !== null && validateSync(row).length === 0 ? row : null;
}

class SourceRowCheck {
  @IsString() id!: string;
  @IsString() jobId!: string;
  @Matches(/^[1-9]\d{0,3}$/) source!: string;
  @IsInt() @Min(1) version!: number;
  @IsString() name!: string;
  @Matches(/^[0-9a-f]{64}$/) hash!: string;
  @IsNumber() addedAt!: number;
}

/** Whether a row of the sources is one; its bytes are checked by whoever reads them. */
export function isSourceRow(row: SourceRow): boolean {
  const { bytes, ...others } = row;
  return bytes instanceof Uint8Array && validateSync(plainToInstance(SourceRowCheck, others)).length === 0;
}

class FactsCheck {
  @IsNumber() @Min(0) seconds!: number;
  @IsNumber() @Min(0) @Max(1) peak!: number;
  @IsNumber() @Min(0) @Max(1) clipped!: number;
  @IsOptional() @IsInt() @Min(1) lost?: number;
  @IsNumber() @Min(0) silentBefore!: number;
  @IsNumber() @Min(0) silentAfter!: number;
}

class RecordingRowCheck {
  @IsString() jobId!: string;
  @IsString() name!: string;
  @IsOptional() @Matches(/^([0-9a-f]{64})?$/) hash?: string;
  @IsNumber() @Min(0) seconds!: number;
  @IsNumber() addedAt!: number;
}

/** The row if it is one, else null; an outline that is damaged is none. */
export function checkRecordingRow(row: RecordingRow | undefined): RecordingRow | null {
  if (!row) return null;
  const { file, heard, ...others } = row;
  if (!(file instanceof Blob) || validateSync(plainToInstance(RecordingRowCheck, others)).length > 0)
    return null;
  const isWhole =
    heard?.levels?.low instanceof Int8Array &&
    heard.levels.high instanceof Int8Array &&
    heard.levels.loud instanceof Uint8Array &&
    validateSync(plainToInstance(FactsCheck, heard.facts)).length === 0;
  return { ...row, heard: isWhole ? heard : null };
}
