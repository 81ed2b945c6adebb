import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
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
import { strToU8 } from 'fflate';
import { BadZipError, packZip, unpackZip } from '../core/basics/zip';
import type { SourceId } from '../core/model/ids';
import { database } from './database';
import { findSources, hashOf, mendSource } from './jobs';
import { bytesOfRecording } from './recordings';
import { withRoom } from './room';
import { checkJobRow, checkRecordingRow, JobRow, type RecordingRow } from './rows';
import { findStems, MOST_STEMS } from './stems';

class KeptSource {
  @Matches(/^[1-9]\d{0,3}$/) source!: SourceId;
  @IsInt() @Min(1) version!: number;
  @IsString() @MaxLength(300) name!: string;
  @IsNumber() addedAt!: number;
  /** Its place in the zip. */
  @IsString() @MaxLength(200) file!: string;
  /** SHA-256 of its bytes, in hexadecimal digits; backups of before do not say it. */
  @IsOptional() @Matches(/^[0-9a-f]{64}$/) hash?: string;
}

class KeptRecording {
  @IsString() @MaxLength(300) name!: string;
  @IsString() @MaxLength(100) type!: string;
  @IsNumber() @Min(0) seconds!: number;
  @IsNumber() addedAt!: number;
  /** SHA-256 of its bytes, in hexadecimal digits, where it is known. */
  @IsOptional() @Matches(/^[0-9a-f]{64}$/) hash?: string;
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
  @IsObject() @ValidateNested() @Type(() => JobRow) job!: JobRow;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(10_000)
  @ValidateNested({ each: true })
  @Type(() => KeptSource)
  sources!: KeptSource[];
  @IsObject() brief!: object;
  @IsInt() @Min(0) position!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => KeptStep) steps!: KeptStep[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => KeptRecording) recording?: KeptRecording;
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_STEMS)
  @ValidateNested({ each: true })
  @Type(() => KeptRecording)
  stems?: KeptRecording[];
}

/** The list in a backup of what it holds. */
class Manifest {
  @Equals('dragoman-jobs') format!: string;
  @IsInt() @Min(1) version!: number;
  /** Each is checked by itself: one that is damaged does not keep the others out. */
  @IsArray() @ArrayMaxSize(10_000) jobs!: unknown[];
}

/** Thrown for a file that is no backup; the message is one sentence for people. */
export class BadBackupError extends Error {
  override name = 'BadBackupError';
}

const MANIFEST = 'jobs.json';
/** The newest form of the list that is known here. */
const NEWEST = 1;
/** With more than this no sound is added to a backup, which is made in memory; bytes. */
const MOST_SOUND = 1_000_000_000;
/** More than this is no backup but a bomb; bytes unpacked. */
const MOST_BYTES = 2_000_000_000;

/** A backup, and what could not go into it: a sentence each. */
export interface Packed {
  bytes: Uint8Array;
  jobs: number;
  leftOut: string[];
}

/**
 * All jobs with sources, decisions, histories and listening references, as one zip, which is read back before it is
 * given out. What is damaged in the browser is left out and told.
 *
 * @throws BadBackupError where what was packed does not read back as it was
 */
export async function packBackup(): Promise<Packed> {
  const files: Record<string, Uint8Array> = {};
  const jobs: KeptJob[] = [];
  const leftOut: string[] = [];
  for (const row of await withRoom(() => database.jobs.toArray())) {
    const packed = await packJob(row, files, leftOut);
    if (packed) jobs.push(packed);
  }
  const manifest: Manifest = { format: 'dragoman-jobs', version: 1, jobs };
  files[MANIFEST] = strToU8(JSON.stringify(manifest));
  // Sound hardly packs any further.
  const bytes = packZip(files, (path) => (path.startsWith(RECORDINGS) ? 0 : 6));
  const { files: back, damaged } = unpackZip(bytes, () => true);
  const isSame = Object.entries(files).every(([path, own]) => back.get(path)?.length === own.length);
  if (damaged.length > 0 || !isSame || readJobs(back).jobs.length < jobs.length)
    throw new BadBackupError('The backup does not read back as it was packed: it was not saved.');
  return { bytes, jobs: jobs.length, leftOut };
}

const SOURCES = 'sources/';
const RECORDINGS = 'recordings/';

async function packJob(
  row: unknown,
  files: Record<string, Uint8Array>,
  leftOut: string[],
): Promise<KeptJob | null> {
  const { title, id } = Object(row) as { title?: unknown; id?: unknown };
  const called = typeof title === 'string' && title ? `“${title}”` : `A job (${String(id).slice(0, 64)})`;
  const job = checkJobRow(row);
  if (!job) {
    leftOut.push(`${called} cannot be read.`);
    return null;
  }
  const { sources, damaged } = await findSources(job.id);
  for (const { name, version } of damaged)
    leftOut.push(
      `${called}: the source ${name || 'without a name'}, version ${version}, is damaged in this browser.`,
    );
  if (sources.length === 0) {
    leftOut.push(`${called} has no source that is whole.`);
    return null;
  }
  const brief = await database.briefs.get(job.id);
  const steps = await database.steps.where('jobId').equals(job.id).sortBy('index');
  if (!brief) leftOut.push(`${called}: its decisions are gone; those of its history are kept.`);
  const sound = await database.recordings.get(job.id);
  const recording = checkRecordingRow(sound);
  if (sound && !recording) leftOut.push(`${called}: its recording cannot be read.`);
  const pack = (own: RecordingRow, file: string) =>
    packRecording(own, file, files).catch((error: unknown) => {
      leftOut.push(`${called}: ${(error as Error).message}`);
      return null;
    });
  const kept = recording && (await pack(recording, `${RECORDINGS}${job.id}`));
  const stems: KeptRecording[] = [];
  for (const [index, own] of (await findStems(job.id)).entries()) {
    const packed = await pack(own, `${RECORDINGS}${job.id}/${index + 1}`);
    if (packed) stems.push(packed);
  }
  const packed: KeptJob = {
    job,
    sources: sources.map(({ source, version, name, addedAt, bytes, hash }) => {
      const file = `${SOURCES}${job.id}/${source}-${version}`;
      files[file] = bytes;
      return { source, version, name, addedAt, file, hash };
    }),
    brief: Object(brief?.brief ?? {}),
    position: brief?.position ?? steps.length,
    steps: steps.map(({ index, removed, added, at }) => ({ index, removed, added, at })),
    ...(kept && { recording: kept }),
    ...(stems.length > 0 && { stems }),
  };
  if (isWhole(plainToInstance(KeptJob, packed))) return packed;
  leftOut.push(`${called}: its history is damaged; its decisions are kept as they stand.`);
  return { ...packed, steps: [], position: 0 };
}

/** @throws Error where it is damaged, or there is no room for it in the backup */
async function packRecording(
  row: RecordingRow,
  file: string,
  files: Record<string, Uint8Array>,
): Promise<KeptRecording> {
  const { name, seconds, addedAt, hash } = row;
  const total = Object.values(files).reduce((sum, { length }) => sum + length, row.file.size);
  if (total > MOST_SOUND)
    throw new Error(`${name} is left out: with it the backup would be larger than 1 GB. Keep its file.`);
  files[file] = await bytesOfRecording(row);
  return { name, type: row.file.type, seconds, addedAt, file, ...(hash && { hash }) };
}

/** What came of a backup: how many jobs came in, how many were there, and what is damaged, a sentence each. */
export interface Unpacked {
  added: number;
  known: number;
  damaged: string[];
}

/**
 * Puts the jobs of a backup on the shelf, one by one; those that are there already stay as they are, and what is
 * damaged is left out and told.
 *
 * @throws BadBackupError when the file is none; nothing is taken in then
 */
export async function unpackBackup(bytes: Uint8Array): Promise<Unpacked> {
  const { jobs, damaged, files } = openBackup(bytes);
  let [added, known] = [0, 0];
  for (const kept of jobs) {
    const whole = await wholeOf(kept, files, damaged);
    if (!whole) continue;
    if (await putJob(whole)) added++;
    else known++;
  }
  return { added, known, damaged };
}

/** A job of a backup with the bytes that belong to it. */
interface WholeJob {
  kept: KeptJob;
  sources: { kept: KeptSource; bytes: Uint8Array; hash: string }[];
  recording: Uint8Array | null;
  stems: { kept: KeptRecording; bytes: Uint8Array }[];
}

/** A job with all that is whole of it; null where its sources are not. */
async function wholeOf(
  kept: KeptJob,
  files: ReadonlyMap<string, Uint8Array>,
  damaged: string[],
): Promise<WholeJob | null> {
  const { title } = kept.job;
  const sources: WholeJob['sources'] = [];
  for (const source of kept.sources) {
    const bytes = files.get(source.file);
    const hash = bytes && (await hashOf(bytes));
    if (!bytes || !hash || (source.hash !== undefined && source.hash !== hash)) {
      damaged.push(
        `“${title}” was not taken in: its source ${source.name} is ${bytes ? 'not what was saved' : 'missing or damaged'}.`,
      );
      return null;
    }
    sources.push({ kept: source, bytes, hash });
  }
  const soundOf = (own: KeptRecording, what: string): Uint8Array | null => {
    const bytes = files.get(own.file);
    if (!bytes)
      damaged.push(`“${title}” comes without its ${what} ${own.name}, which is missing or damaged.`);
    return bytes ?? null;
  };
  const recording = kept.recording ? soundOf(kept.recording, 'recording') : null;
  const stems = (kept.stems ?? []).flatMap((own) => {
    const bytes = soundOf(own, 'stem');
    return bytes ? [{ kept: own, bytes }] : [];
  });
  return { kept, sources, recording, stems };
}

/** @returns false where the job is there already */
function putJob({ kept, sources: own, recording: sound, stems: sounds }: WholeJob): Promise<boolean> {
  const { jobs, sources, briefs, steps, recordings, stems } = database;
  const { id } = kept.job;
  return withRoom(() =>
    database.transaction('rw', [jobs, sources, briefs, steps, recordings, stems], async () => {
      if (await jobs.get(id)) return false;
      await jobs.add({ ...kept.job });
      await briefs.put({ jobId: id, brief: kept.brief, position: kept.position });
      // What a job of the same name left behind is none of this one's.
      await steps.where('jobId').equals(id).delete();
      await sources.where('jobId').equals(id).delete();
      await steps.bulkAdd(kept.steps.map((step) => ({ ...step, jobId: id })));
      for (const { kept: entry, bytes, hash } of own) {
        const { source, version, name, addedAt } = entry;
        await sources.add({
          id: crypto.randomUUID(),
          jobId: id,
          source,
          version,
          name,
          addedAt,
          bytes,
          hash,
        });
      }
      // Outlines are drawn anew where they are first wanted.
      const rowOf = ({ file: _, type, ...others }: KeptRecording, bytes: Uint8Array): RecordingRow => ({
        ...others,
        jobId: id,
        file: new Blob([bytes as BlobPart], { type }),
        heard: null,
      });
      if (kept.recording && sound) await recordings.put(rowOf(kept.recording, sound));
      await stems.where('jobId').equals(id).delete();
      for (const each of sounds) await stems.put(rowOf(each.kept, each.bytes));
      return true;
    }),
  );
}

/**
 * Puts what is damaged of a job's sources right from a backup: what has the same hash as what came, or where that is
 * not known, what was kept under the same job, source and version.
 *
 * @returns how many were put right
 * @throws BadBackupError when the file is none
 */
export async function mendFromBackup(jobId: string, bytes: Uint8Array): Promise<number> {
  const { jobs, files } = openBackup(bytes);
  const { damaged } = await findSources(jobId);
  const known = new Map<string, Uint8Array>();
  for (const { job, sources } of jobs)
    for (const { file, source, version } of sources) {
      const own = files.get(file);
      if (!own) continue;
      known.set(await hashOf(own), own);
      known.set(`${job.id} ${source} ${version}`, own);
    }
  let mended = 0;
  for (const { id, source, version, hash } of damaged) {
    const own = known.get(hash || `${jobId} ${source} ${version}`);
    if (!own) continue;
    await mendSource(id, own, await hashOf(own));
    mended++;
  }
  return mended;
}

/** The jobs of a backup that can be read, its files, and what is damaged of it. */
function openBackup(bytes: Uint8Array) {
  let total = 0;
  try {
    const { files } = unpackZip(bytes, ({ originalSize }) => {
      total += originalSize;
      if (total > MOST_BYTES) throw new BadBackupError('The backup unpacks to more than 2 GB.');
      return true;
    });
    return { ...readJobs(files), files };
  } catch (error) {
    if (error instanceof BadZipError) throw new BadBackupError(`This is no backup: ${error.message}.`);
    throw error;
  }
}

function readJobs(files: ReadonlyMap<string, Uint8Array>): { jobs: KeptJob[]; damaged: string[] } {
  const list = files.get(MANIFEST);
  if (!list) throw new BadBackupError(`This is no backup: it has no ${MANIFEST} that is whole.`);
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(list));
  } catch {
    throw new BadBackupError('The backup is damaged: its list of jobs cannot be read.');
  }
  const manifest = plainToInstance(Manifest, data);
  if (typeof manifest !== 'object' || manifest === null || Array.isArray(manifest))
    throw new BadBackupError('The backup is damaged: its list of jobs cannot be read.');
  if (manifest.version > NEWEST) throw new BadBackupError('This backup was made by a newer Dragoman.');
  if (validateSync(manifest).length > 0)
    throw new BadBackupError('The backup is damaged: its list of jobs is not whole.');
  const jobs: KeptJob[] = [];
  const damaged: string[] = [];
  manifest.jobs.forEach((each, index) => {
    const kept = plainToInstance(KeptJob, each);
    if (isWhole(kept)) jobs.push(kept);
    else {
      const { title } = Object(Object(each).job) as { title?: unknown };
      damaged.push(
        `${typeof title === 'string' && title ? `“${title}”` : `Job ${index + 1} of the backup`} is damaged and was not taken in.`,
      );
    }
  });
  return { jobs, damaged };
}

/** Whether a job has all that it needs, and its history is one. */
const isWhole = (kept: unknown): kept is KeptJob =>
  kept instanceof KeptJob &&
  validateSync(kept).length === 0 &&
  kept.steps.every(({ index, removed }, at) => index === at && removed.every(isRemoved)) &&
  kept.position <= kept.steps.length;

const isRemoved = (entry: unknown): boolean =>
  Array.isArray(entry) && entry.length === 2 && Number.isInteger(entry[0]);
