import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  MaxLength,
  MinLength,
  Validate,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { type Decisions, decidedFor } from '../decisions/decisions';
import { IsInstrument } from '../decisions/instrument-id';
import type { PlainDirective } from '../decisions/kinds';
import { isInstrumentId } from '../instruments/catalogue';
import { wordsOf } from '../instruments/name-words';
import { SURE } from '../instruments/recognise';
import { type StrandId, wholeStrand } from '../model/ids';

/** What was decided for a strand of a name, and is offered again for strands that are called so. */
export class Precedent {
  /** The name in its words: `precedentKey`. */
  @IsString() @MinLength(1) @MaxLength(300) key!: string;
  /** As the strand was called. */
  @IsString() @MaxLength(500) name!: string;
  /** Catalogue id. */
  @IsOptional() @IsString() @MaxLength(60) instrument?: string;
  /** What its part was called. */
  @IsOptional() @IsString() @MaxLength(200) part?: string;
  /** It was left out. */
  @IsOptional() @IsBoolean() out?: boolean;
  /** It was divided over these chairs: catalogue ids, the highest first. */
  @IsOptional() @IsArray() @ArrayMaxSize(12) @Validate(IsInstrument, { each: true }) chairs?: string[];
  /** It was joined to a strand of this name, as a key. */
  @IsOptional() @IsString() @MaxLength(300) into?: string;
  /** The job in which it was decided: its id and title, and when. */
  @IsString() @MaxLength(64) jobId!: string;
  @IsString() @MaxLength(300) job!: string;
  @IsNumber() at!: number;
}

class PrecedentFile {
  @Equals('dragoman-precedents') format!: string;
  @IsInt() @Equals(1) version!: number;
  @IsArray()
  @ArrayMaxSize(20_000)
  @ValidateNested({ each: true })
  @Type(() => Precedent)
  precedents!: Precedent[];
}

/** Thrown for a file that is none of precedents; the message is one sentence for people. */
export class BadPrecedentsError extends Error {
  override name = 'BadPrecedentsError';
}

/** Names that say nothing of their strand: what was decided for one says nothing of another. */
const EMPTY = /^((track|midi|inst|instrument|channel|ch|audio|untitled|part|staff|new|copy)( |$))*\d*$/;

/** The words of a name by which strands are the same; empty for a name that says nothing. */
export function precedentKey(name: string): string {
  // Takes and copies are counted with a nought in front.
  const words = wordsOf(name).filter((word) => !/^0\d+$/.test(word) && word !== 'copy');
  const key = words.join(' ');
  return EMPTY.test(key) ? '' : key;
}

type Named = { id: StrandId; name: string };

/** What a job has decided about its strands, by their names; the last one of a name counts. */
export function precedentsOf(
  strands: readonly Named[],
  decisions: Decisions,
  { jobId, job, at }: Pick<Precedent, 'jobId' | 'job' | 'at'>,
): Precedent[] {
  const keys = new Map(strands.map(({ id, name }) => [id, precedentKey(name)]));
  const found = new Map<string, Precedent>();
  for (const { id, name } of strands) {
    const key = keys.get(id);
    // Pieces of a strand have its name; what was decided for the whole is its own.
    if (wholeStrand(id) !== id) continue;
    const { instrument, name: part, out, into, split } = decisions.strands.get(id) ?? {};
    const chairs = split?.by === 'chairs' ? split.chairs : undefined;
    const target = into ? keys.get(into) : undefined;
    if (!key || !(instrument || part || out || target || chairs)) continue;
    found.set(key, {
      key,
      name,
      ...(instrument && { instrument }),
      ...(part && { part }),
      ...(out && { out }),
      ...(chairs && { chairs }),
      ...(target && { into: target }),
      jobId,
      job,
      at,
    });
  }
  return [...found.values()];
}

/** A precedent that fits a strand, and what it would decide for it. */
export interface Offer {
  strand: StrandId;
  precedent: Precedent;
  directives: PlainDirective[];
}

/**
 * What precedents would decide for the strands of a job: for strands that are
 * called so, about which nothing of the kind is decided yet. Nothing is done
 * by itself.
 */
export function offersFor(
  strands: readonly (Named & { guess: { id: string; confidence: number } })[],
  decisions: Decisions,
  precedents: readonly Precedent[],
): Offer[] {
  const byKey = new Map(precedents.toSorted((a, b) => a.at - b.at).map((each) => [each.key, each]));
  const leads = new Map(strands.toReversed().map(({ id, name }) => [precedentKey(name), id]));
  return strands.flatMap(({ id, name, guess }): Offer[] => {
    const precedent = byKey.get(precedentKey(name));
    if (!precedent) return [];
    const decided = decidedFor(decisions, id);
    const { instrument, part, out, into, chairs } = precedent;
    if (wholeStrand(id) !== id) return [];
    const directives: PlainDirective[] = [];
    if (instrument && isInstrumentId(instrument) && !decided.instrument && settles(instrument, guess))
      directives.push({ kind: 'cast', strand: id, instrument });
    if (part && decided.name === undefined) directives.push({ kind: 'name', strand: id, name: part });
    if (out && decided.out === undefined) directives.push({ kind: 'leave-out', strand: id, out: true });
    if (chairs && decided.split === undefined)
      directives.push({ kind: 'split', strand: id, by: 'chairs', chairs });
    const lead = into ? leads.get(into) : undefined;
    if (lead && lead !== id && decided.into === undefined)
      directives.push({ kind: 'join', strand: id, into: lead });
    return directives.length > 0 ? [{ strand: id, precedent, directives }] : [];
  });
}

/** Whether an instrument says more than the guess does. */
const settles = (instrument: string, guess: { id: string; confidence: number }): boolean =>
  instrument !== guess.id || guess.confidence < SURE;

/** What tells precedents apart: a name may have one from each job. */
export const precedentId = ({ key, jobId }: Precedent): string => `${jobId} ${key}`;

/**
 * Precedents with those of one job put in the place of what it had before.
 * What it only took over from another job stays that one's, and what says the
 * same as before keeps its time.
 */
export function withJob(
  precedents: readonly Precedent[],
  jobId: string,
  own: readonly Precedent[],
): Precedent[] {
  const others = precedents.filter((each) => each.jobId !== jobId);
  const newest = new Map(others.toSorted((a, b) => a.at - b.at).map((each) => [each.key, each]));
  const before = new Map(precedents.map((each) => [precedentId(each), each]));
  return [
    ...others,
    ...own
      .filter((each) => {
        const other = newest.get(each.key);
        return !other || !saysTheSame(other, each);
      })
      .map((each) => {
        const known = before.get(precedentId(each));
        return known && saysTheSame(known, each) ? known : each;
      }),
  ];
}

const saysTheSame = (a: Precedent, b: Precedent): boolean =>
  a.key === b.key &&
  a.instrument === b.instrument &&
  a.part === b.part &&
  a.out === b.out &&
  a.into === b.into &&
  JSON.stringify(a.chairs) === JSON.stringify(b.chairs);

/** Precedents as a file. */
export const writePrecedents = (precedents: readonly Precedent[]): string =>
  JSON.stringify({ format: 'dragoman-precedents', version: 1, precedents }, null, 1);

/** Reads a file of precedents. @throws BadPrecedentsError with a sentence for people */
export function parsePrecedents(text: string): Precedent[] {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new BadPrecedentsError('This is no file of precedents: it is not JSON.');
  }
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    throw new BadPrecedentsError('This is no file of precedents.');
  const checked = plainToInstance(PrecedentFile, data);
  const [error] = validateSync(checked, { whitelist: true });
  if (error)
    throw new BadPrecedentsError(
      error.property === 'precedents'
        ? 'Some precedents in this file are damaged.'
        : `This is no file of precedents: its ${error.property} is another.`,
    );
  return checked.precedents;
}
