import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  Min,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { strToU8, unzipSync, type Zippable, zipSync } from 'fflate';
import type { SourceId } from '../core/model/ids';
import { database } from './database';
import { hashOf } from './jobs';
import { withRoom } from './room';
import { checkJobRow, checkRecordingRow, JobRow, type RecordingRow } from './rows';

class KeptSource {
  @Matches(/^[1-9]\d{0,3}$/) source!: SourceId;
  @IsInt() @Min(1) version!: number;
  @IsString() @MaxLength(300) name!: string;
  @IsNumber() addedAt!: number;
  /** Its place in the zip. */
  @IsString() @MaxLength(200) file!: string;
}

class KeptRecording {
  @IsString() @MaxLength(300) name!: string;
  @IsString() @MaxLength(100) type!: string;
  @IsNumber() @Min(0) seconds!: number;
  @IsNumber() addedAt!: number;
  /** Its place in the zip. */
  @IsString() @MaxLength(200) file!: string;
}

class KeptStep {
  @IsInt() @Min(0) index!: number;
  @IsArray() removed!: [number, unknown][];
  @IsArray() added!: unknown[];
  @IsNumber() at!: number;
}

class KeptJob {
  @ValidateNested() @Type(() => JobRow) job!: JobRow;
  @IsArray()
  @ArrayMaxSize(10_000)
  @ValidateNested({ each: true })
  @Type(() => KeptSource)
  sources!: KeptSource[];
  @IsObject() brief!: object;
  @IsInt() @Min(0) position!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => KeptStep) steps!: KeptStep[];
  @IsOptional() @ValidateNested() @Type(() => KeptRecording) recording?: KeptRecording;
}

/** The list in a backup of what it holds. */
class Manifest {
  @Equals('dragoman-jobs') format!: string;
  @Equals(1) version!: number;
  @IsArray() @ArrayMaxSize(10_000) @ValidateNested({ each: true }) @Type(() => KeptJob) jobs!: KeptJob[];
}

/** Thrown for a file that is no backup; the message is one sentence for people. */
export class BadBackupError extends Error {
  override name = 'BadBackupError';
}

const MANIFEST = 'jobs.json';
/** More than this is no backup but a bomb; bytes unpacked. */
const MOST_BYTES = 2_000_000_000;

/** All jobs with sources, decisions, histories and listening references, as one zip. */
export async function packBackup(): Promise<Uint8Array> {
  const files: Zippable = {};
  const jobs: KeptJob[] = [];
  for (const row of await database.jobs.toArray()) {
    const job = checkJobRow(row);
    const brief = job && (await database.briefs.get(job.id));
    if (!job || !brief) continue;
    const sources = await database.sources.where('jobId').equals(job.id).toArray();
    const steps = await database.steps.where('jobId').equals(job.id).sortBy('index');
    const recording = checkRecordingRow(await database.recordings.get(job.id));
    const kept = recording && (await packRecording(recording, files));
    jobs.push({
      job,
      sources: sources.map(({ source, version, name, addedAt, bytes }) => {
        const file = `sources/${job.id}/${source}-${version}`;
        files[file] = bytes;
        return { source, version, name, addedAt, file };
      }),
      brief: Object(brief.brief),
      position: brief.position,
      steps: steps.map(({ index, removed, added, at }) => ({ index, removed, added, at })),
      ...(kept && { recording: kept }),
    });
  }
  const manifest: Manifest = { format: 'dragoman-jobs', version: 1, jobs };
  files[MANIFEST] = strToU8(JSON.stringify(manifest));
  return zipSync(files);
}

async function packRecording(row: RecordingRow, files: Zippable): Promise<KeptRecording> {
  const { jobId, name, seconds, addedAt } = row;
  const file = `recordings/${jobId}`;
  // Sound hardly packs any further.
  files[file] = [new Uint8Array(await row.file.arrayBuffer()), { level: 0 }];
  return { name, type: row.file.type, seconds, addedAt, file };
}

/**
 * Puts the jobs of a backup on the shelf; those that are there already stay as they are.
 * @returns how many came in, and how many were there
 * @throws BadBackupError when the file is none; nothing is taken in then
 */
export async function unpackBackup(bytes: Uint8Array): Promise<{ added: number; known: number }> {
  const files = unzipped(bytes);
  const manifest = manifestOf(files[MANIFEST]);
  for (const { job, sources, recording } of manifest.jobs) {
    for (const { file } of sources)
      if (!Object.hasOwn(files, file))
        throw new BadBackupError(`The backup is damaged: a source of “${job.title}” is missing.`);
    if (recording && !Object.hasOwn(files, recording.file))
      throw new BadBackupError(`The backup is damaged: the recording of “${job.title}” is missing.`);
  }
  const hashes = new Map<string, string>();
  for (const { sources } of manifest.jobs)
    for (const { file } of sources) hashes.set(file, await hashOf(files[file]!));
  let added = 0;
  const { jobs, sources, briefs, steps, recordings } = database;
  await withRoom(() =>
    database.transaction('rw', jobs, sources, briefs, steps, recordings, async () => {
      for (const kept of manifest.jobs) {
        const { id } = kept.job;
        if (await jobs.get(id)) continue;
        await jobs.add({ ...kept.job });
        await briefs.add({ jobId: id, brief: kept.brief, position: kept.position });
        await steps.bulkAdd(kept.steps.map((step) => ({ ...step, jobId: id })));
        for (const { file, ...source } of kept.sources)
          await sources.add({
            ...source,
            id: crypto.randomUUID(),
            jobId: id,
            bytes: files[file]!,
            hash: hashes.get(file)!,
          });
        if (kept.recording) {
          const { file, type, ...recording } = kept.recording;
          const sound = new Blob([files[file]! as BlobPart], { type });
          // Its outline is drawn anew where it is first wanted.
          await recordings.add({ ...recording, jobId: id, file: sound, heard: null });
        }
        added++;
      }
    }),
  );
  return { added, known: manifest.jobs.length - added };
}

function unzipped(bytes: Uint8Array): Record<string, Uint8Array> {
  let total = 0;
  try {
    return unzipSync(bytes, {
      filter: ({ originalSize }) => {
        total += originalSize;
        if (total > MOST_BYTES) throw new BadBackupError('The backup unpacks to more than 2 GB.');
        return true;
      },
    });
  } catch (error) {
    if (error instanceof BadBackupError) throw error;
    throw new BadBackupError('This is no backup: it is not a zip that can be read.');
  }
}

function manifestOf(bytes: Uint8Array | undefined): Manifest {
  if (!bytes) throw new BadBackupError(`This is no backup: it has no ${MANIFEST}.`);
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new BadBackupError('The backup is damaged: its list of jobs cannot be read.');
  }
  const manifest = plainToInstance(Manifest, data);
  if (typeof manifest !== 'object' || manifest === null || Array.isArray(manifest))
    throw new BadBackupError('The backup is damaged: its list of jobs cannot be read.');
  const [error] = validateSync(manifest);
  if (error) throw new BadBackupError('The backup is damaged: its list of jobs is not whole.');
  return manifest;
}
