import { plainToInstance } from 'class-transformer';
import { type ValidationError, validateSync } from 'class-validator';
import { FIRST_SOURCE } from '../model/ids';
import type { Directive, Kind } from './kind';
import { KINDS, type PlainDirective } from './kinds';

/** All decisions about a job, in the order in which they were taken (docs/brief.md). */
export interface Brief {
  format: 'dragoman-brief';
  version: 2;
  directives: readonly PlainDirective[];
}

export const EMPTY_BRIEF: Brief = { format: 'dragoman-brief', version: 2, directives: [] };

/** More decisions than this are no brief: each of 100,000 notes may have been placed by hand. */
export const MOST_DIRECTIVES = 100_000;

/** Thrown for data that is no brief; the message is one sentence for people. */
export class BadBriefError extends Error {
  override name = 'BadBriefError';
}

/**
 * Checks that `data` (parsed JSON) is a brief.
 * @throws BadBriefError naming the first thing that is wrong
 */
export function parseBrief(data: unknown): Brief {
  const directives = readFrame(data);
  return {
    ...EMPTY_BRIEF,
    directives: directives.map((each, index) => {
      const read = readDirective(each);
      if ('wrong' in read) throw new BadBriefError(`Directive ${index + 1} ${read.wrong}.`);
      return read.directive;
    }),
  };
}

/** A brief as far as it can be read, and a sentence for each directive that cannot. */
export interface SalvagedBrief {
  brief: Brief;
  refused: string[];
  /** Places in the list of those that can be read. */
  places: number[];
}

/**
 * Reads what can be read of a brief that was kept: one bad directive must not
 * cost all others. A generator that yields now and then, since checking
 * thousands takes time.
 */
export function* salvageBrief(data: unknown): Generator<undefined, SalvagedBrief> {
  let frame: readonly unknown[];
  try {
    frame = readFrame(data);
  } catch (error) {
    if (!(error instanceof BadBriefError)) throw error;
    return { brief: EMPTY_BRIEF, refused: [error.message], places: [] };
  }
  const refused: string[] = [];
  const directives: PlainDirective[] = [];
  const places: number[] = [];
  for (const [index, each] of frame.entries()) {
    const read = readAgain(each);
    if ('wrong' in read) refused.push(`Decision ${index + 1} ${read.wrong}.`);
    else {
      directives.push(read.directive);
      places.push(index);
    }
    if (index % 100 === 99) yield;
  }
  return { brief: { ...EMPTY_BRIEF, directives }, refused, places };
}

/** The directives of a brief, of version 1 as this version names things. */
function readFrame(data: unknown): readonly unknown[] {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    throw new BadBriefError('This is not a brief.');
  const { format, version, directives, ...others } = data as Record<string, unknown>;
  if (format !== EMPTY_BRIEF.format)
    throw new BadBriefError('The brief is not valid: its format is not dragoman-brief.');
  if (version !== 1 && version !== 2)
    throw new BadBriefError('The brief is not valid: its version is neither 1 nor 2.');
  if (!Array.isArray(directives))
    throw new BadBriefError('The brief is not valid: it has no list of directives.');
  const [unknown] = Object.keys(others);
  if (unknown !== undefined)
    throw new BadBriefError(`The brief is not valid: nothing is known of “${unknown.slice(0, 40)}”.`);
  if (directives.length > MOST_DIRECTIVES)
    throw new BadBriefError(
      `The brief has ${directives.length.toLocaleString('en')} directives; ${MOST_DIRECTIVES.toLocaleString('en')} are the most that can be read.`,
    );
  return version === 1 ? directives.map(withSource) : directives;
}

/** Directives that were found to be right, by their text: a history asks about the same ones again and again. */
const known = new Map<string, { directive: PlainDirective }>();
const MOST_KNOWN = 2 * MOST_DIRECTIVES;

function readAgain(data: unknown): ReturnType<typeof readDirective> {
  const text = JSON.stringify(data) ?? '';
  // What JSON cannot tell apart from null is looked at each time.
  if (text.includes('null')) return readDirective(data);
  const found = known.get(text);
  if (found) return found;
  const read = readDirective(data);
  if ('directive' in read) {
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(text, read);
  }
  return read;
}

/** Checks one directive by itself. @returns it as plain data, or how a sentence about it ends */
function readDirective(data: unknown): { directive: PlainDirective } | { wrong: string } {
  const name = (data as { kind?: unknown } | null | undefined)?.kind;
  if (typeof name !== 'string' || !Object.hasOwn(KINDS, name)) return { wrong: 'has no known kind' };
  const kind = KINDS[name as keyof typeof KINDS] as unknown as Kind<Directive, string, 'job', unknown>;
  const checked = plainToInstance(kind.type, data);
  const [error] = validateSync(checked, { whitelist: true, forbidNonWhitelisted: true });
  const wrong = error ? reasonOf(error) : (kind.check?.(checked) ?? null);
  if (wrong !== null) return { wrong: `(${name}) is not valid: ${wrong}` };
  // What was checked is the data itself, with its fields in their order: a step of undo compares them.
  return { directive: JSON.parse(JSON.stringify(data)) as PlainDirective };
}

/** The first reason that a validation gives, however deep it lies. */
function reasonOf(error: ValidationError): string {
  const [child] = error.children ?? [];
  return child ? reasonOf(child) : (Object.values(error.constraints ?? {})[0] ?? 'it is not well formed');
}

const OLD_STRAND = /^t\d{1,5}(c\d{1,2}(s\d{1,3})*)?$/;
const OLD_NOTE = /^(t\d{1,5}c\d{1,2})-(\d{1,9})$/;

/** A brief of version 1 as one of this version, unchecked; anything else as it is. */
export function upgradeBrief(data: unknown): unknown {
  if (typeof data !== 'object' || data === null) return data;
  const { version, directives } = data as Record<string, unknown>;
  if (version !== 1 || !Array.isArray(directives)) return data;
  return { ...data, version: EMPTY_BRIEF.version, directives: directives.map(withSource) };
}

/** A directive of version 1, whose ids did not say of which source: there was only one. */
function withSource(directive: unknown): unknown {
  if (typeof directive !== 'object' || directive === null) return directive;
  const named = (id: unknown) =>
    typeof id === 'string' && OLD_STRAND.test(id) ? `${FIRST_SOURCE}/${id}` : id;
  const fields = Object.entries(directive).map(([field, value]): [string, unknown] => {
    if (field === 'strand' || field === 'into') return [field, named(value)];
    if (field === 'strands' && Array.isArray(value)) return [field, value.map(named)];
    if (field === 'note' && typeof value === 'string')
      return [field, value.replace(OLD_NOTE, `${FIRST_SOURCE}/$1/$2`)];
    if (field === 'oddity' && typeof value === 'string')
      return [field, value.replace(/\bt\d{1,5}(c\d{1,2}(s\d{1,3})*)?\b/g, `${FIRST_SOURCE}/$&`)];
    return [field, value];
  });
  return Object.fromEntries(fields);
}
