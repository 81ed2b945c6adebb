import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import {
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
  Min,
  validateSync,
} from 'class-validator';
import { CONVERTED } from '../hand-over';

/** What a file of a batch is made into. */
export const WANTED = [...CONVERTED, 'packet'] as const;
export type Wanted = (typeof WANTED)[number];

/** What is asked for one file. Paths as the operating system takes them. */
export class FileOrder {
  @IsString() @MaxLength(10_000) path!: string;
  @IsIn(WANTED) to!: Wanted;
  /** Where it goes, without the extension. */
  @IsString() @MaxLength(10_000) stem!: string;
  /** A folder for what is not whole yet. */
  @IsString() @MaxLength(10_000) scratch!: string;
  /** A brief as data; checked as such where it is followed. */
  @IsObject() brief!: object;
}

const STATES = ['made', 'refused', 'failed'] as const;

/** What became of one file: a line of the journal, and of the report. */
export class Outcome {
  /** Its path from the folder, with slashes. */
  @IsString() @MaxLength(10_000) file!: string;
  /** Digest of its bytes and of what was asked: another file or another order is another task. */
  @IsString() @MaxLength(100) task!: string;
  /** Refused for what it is, or failed through a fault of this program. */
  @IsIn(STATES) state!: (typeof STATES)[number];
  /** Why it was not made; empty where it was. */
  @IsString() @MaxLength(100_000) why!: string;
  /** What was made, from the folder of what is made, with slashes; empty where nothing was. */
  @IsString() @MaxLength(10_000) target!: string;
  @IsInt() @Min(0) bytes!: number;
  /** Notes of the source, those that stand in the score as they were played, and otherwise by decision; 0 where it was not made. */
  @IsInt() @Min(0) notes!: number;
  @IsInt() @Min(0) agree!: number;
  @IsInt() @Min(0) meant!: number;
  /** Findings that cannot stay, and that want a look. */
  @IsInt() @Min(0) wrong!: number;
  @IsInt() @Min(0) doubtful!: number;
  /** What the brief asks for and this file cannot give, and letters that a PDF lacks, a sentence each. */
  @IsOptional() @IsArray() @IsString({ each: true }) left?: string[];
  @IsNumber() @Min(0) seconds!: number;
}

/** What one file of a batch came to, as the thread tells it that did the work. */
export type Made = Omit<Outcome, 'file' | 'task' | 'seconds'>;

/** Data of a class, or null where it is not. */
export function checked<T extends object>(type: new () => T, data: unknown): T | null {
  if (typeof data !== 'object' || data === null || Array.isArray(data)) return null;
  const instance = plainToInstance(type, data);
  return validateSync(instance, { forbidUnknownValues: true }).length === 0 ? instance : null;
}
