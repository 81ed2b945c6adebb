import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { IsInt, IsNumber, IsString, MaxLength, Min, validateSync } from 'class-validator';

/** One job as it is listed. Times are milliseconds since 1970. */
export class JobRow {
  @IsString() @MaxLength(64) id!: string;
  @IsString() @MaxLength(300) title!: string;
  @IsString() @MaxLength(300) sourceName!: string;
  @IsInt() @Min(0) sourceBytes!: number;
  @IsInt() @Min(0) strands!: number;
  @IsInt() @Min(0) notes!: number;
  @IsNumber() createdAt!: number;
  @IsNumber() changedAt!: number;
}

/** A source, byte for byte as it came. */
export interface SourceRow {
  id: string;
  jobId: string;
  name: string;
  bytes: Uint8Array;
}

/** The user's own sound bank. */
export interface BankRow {
  id: 'own';
  name: string;
  bytes: Uint8Array;
}

/** A job's decisions: the briefs before, the one in force, and those undone. */
export interface HistoryRow {
  jobId: string;
  past: unknown[];
  present: unknown;
  future: unknown[];
}

/** The row if it is one, else null: what a browser gives back is checked like any other input. */
export function checkJobRow(data: unknown): JobRow | null {
  const row = plainToInstance(JobRow, data);
  return typeof row === 'object' && row !== null && validateSync(row).length === 0 ? row : null;
}
