import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  ValidateNested,
  type ValidationError,
  validateSync,
} from 'class-validator';
import { DIRECTIVES, Directive, type PlainDirective } from './directives';

/** The file form of a brief (docs/brief.md). */
class BriefFile {
  @Equals('dragoman-brief') format!: string;
  @Equals(1) version!: number;
  @IsArray()
  @ArrayMaxSize(100_000)
  @ValidateNested({ each: true })
  @Type(() => Directive as never, {
    discriminator: {
      property: 'kind',
      subTypes: Object.entries(DIRECTIVES).map(([name, value]) => ({ name, value })),
    },
    keepDiscriminatorProperty: true,
  })
  directives!: PlainDirective[];
}

/** All decisions about a job, in the order in which they were taken. */
export interface Brief {
  format: 'dragoman-brief';
  version: 1;
  directives: readonly PlainDirective[];
}

export const EMPTY_BRIEF: Brief = { format: 'dragoman-brief', version: 1, directives: [] };

/** Thrown for data that is no brief; the message is one sentence for people. */
export class BadBriefError extends Error {
  override name = 'BadBriefError';
}

/**
 * Checks that `data` (parsed JSON) is a brief.
 * @throws BadBriefError naming the first thing that is wrong
 */
export function parseBrief(data: unknown): Brief {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    throw new BadBriefError('This is not a brief.');
  const directives = (data as { directives?: unknown }).directives;
  if (Array.isArray(directives))
    directives.forEach((directive: unknown, index) => {
      const kind = (directive as { kind?: unknown } | null)?.kind;
      if (typeof kind !== 'string' || !Object.hasOwn(DIRECTIVES, kind))
        throw new BadBriefError(`Directive ${index + 1} of the brief has no known kind.`);
    });
  const file = plainToInstance(BriefFile, data);
  const [error] = validateSync(file, { whitelist: true, forbidNonWhitelisted: true });
  if (error) {
    const inner = error.children?.[0];
    const place = inner ? `Directive ${Number(inner.property) + 1}` : 'The brief';
    throw new BadBriefError(`${place} is not valid: ${reasonOf(error)}.`);
  }
  return JSON.parse(JSON.stringify(file)) as Brief;
}

/** The first reason that a validation gives, however deep it lies. */
function reasonOf(error: ValidationError): string {
  const [child] = error.children ?? [];
  return child ? reasonOf(child) : (Object.values(error.constraints ?? {})[0] ?? 'it is not well formed');
}
