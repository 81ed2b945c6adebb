import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  Validate,
  ValidateNested,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
  validateSync,
} from 'class-validator';
import { isInstrumentId } from '../instruments/catalogue';

const STRAND = /^t\d{1,5}c\d{1,2}$/;

@ValidatorConstraint({ name: 'isInstrument' })
class IsInstrument implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && isInstrumentId(value);
  }
  defaultMessage(): string {
    return 'instrument is not in the catalogue';
  }
}

export const SMALLEST = ['quarter', 'eighth', '16th', '32nd'] as const;
export type Smallest = (typeof SMALLEST)[number];

/** One decision. Later directives win over earlier ones about the same thing. */
export abstract class Directive {
  abstract readonly kind: string;
}

/** Leaves a strand out of the score, or takes it back in. */
export class LeaveOut extends Directive {
  @Equals('leave-out') kind = 'leave-out' as const;
  @Matches(STRAND) strand!: string;
  @IsBoolean() out!: boolean;
}

/** Gives the part of a strand its name. */
export class NamePart extends Directive {
  @Equals('name') kind = 'name' as const;
  @Matches(STRAND) strand!: string;
  @IsString() @MaxLength(120) name!: string;
}

/** Casts a strand's part on an instrument of the catalogue. */
export class Cast extends Directive {
  @Equals('cast') kind = 'cast' as const;
  @Matches(STRAND) strand!: string;
  @Validate(IsInstrument) instrument!: string;
}

/** Sets the number of staves. */
export class Staves extends Directive {
  @Equals('staves') kind = 'staves' as const;
  @Matches(STRAND) strand!: string;
  @IsIn([1, 2]) staves!: 1 | 2;
}

/** Writes a strand into the part of another one, or with `into: null` into a part of its own. */
export class Join extends Directive {
  @Equals('join') kind = 'join' as const;
  @Matches(STRAND) strand!: string;
  @IsOptional() @Matches(STRAND) into!: string | null;
}

/** Sets what a strand's rhythm is read with; without `strand` it holds for all. */
export class Grid extends Directive {
  @Equals('grid') kind = 'grid' as const;
  @IsOptional() @Matches(STRAND) strand?: string;
  @IsIn(SMALLEST) smallest!: Smallest;
  @IsBoolean() triplets!: boolean;
}

/** Sets the concert key of the whole piece; `fifths: null` goes back to the source's. */
export class ChooseKey extends Directive {
  @Equals('key') kind = 'key' as const;
  @IsOptional() @IsInt() @Min(-7) @Max(7) fifths!: number | null;
  @IsBoolean() minor!: boolean;
}

/** Sets the number of the first full bar and the length of the upbeat in quarter notes. */
export class SetClock extends Directive {
  @Equals('clock') kind = 'clock' as const;
  @IsOptional() @IsInt() @Min(-999) @Max(9999) firstBar?: number;
  @IsOptional() @IsNumber() @Min(0) @Max(64) upbeatQuarters?: number;
}

/** Sets the order of the parts by the strands that lead them; parts not named follow in score order. */
export class Order extends Directive {
  @Equals('order') kind = 'order' as const;
  @IsArray() @ArrayMaxSize(5000) @Matches(STRAND, { each: true }) strands!: string[];
}

/** Sets the title. */
export class Title extends Directive {
  @Equals('title') kind = 'title' as const;
  @IsString() @MaxLength(200) title!: string;
}

export type AnyDirective =
  | LeaveOut
  | NamePart
  | Cast
  | Staves
  | Join
  | Grid
  | ChooseKey
  | SetClock
  | Order
  | Title;

/** A directive as plain data, as it is stored and passed about. */
export type PlainDirective = { [K in AnyDirective as K['kind']]: Omit<K, never> }[AnyDirective['kind']];

const SUBTYPES = [
  { value: LeaveOut, name: 'leave-out' },
  { value: NamePart, name: 'name' },
  { value: Cast, name: 'cast' },
  { value: Staves, name: 'staves' },
  { value: Join, name: 'join' },
  { value: Grid, name: 'grid' },
  { value: ChooseKey, name: 'key' },
  { value: SetClock, name: 'clock' },
  { value: Order, name: 'order' },
  { value: Title, name: 'title' },
];

/** The file form of a brief (docs/brief.md). */
class BriefFile {
  @Equals('dragoman-brief') format!: string;
  @Equals(1) version!: number;
  @IsArray()
  @ArrayMaxSize(100_000)
  @ValidateNested({ each: true })
  @Type(() => Directive as never, {
    discriminator: { property: 'kind', subTypes: SUBTYPES },
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
      if (!SUBTYPES.some((subtype) => subtype.name === kind))
        throw new BadBriefError(`Directive ${index + 1} of the brief has no known kind.`);
    });
  const file = plainToInstance(BriefFile, data);
  const [error] = validateSync(file, { whitelist: true, forbidNonWhitelisted: true });
  if (error) {
    const inner = error.children?.[0];
    const place = inner ? `Directive ${Number(inner.property) + 1}` : 'The brief';
    const leaf = inner?.children?.[0] ?? inner ?? error;
    const reason = Object.values(leaf.constraints ?? {})[0] ?? 'it is not well formed';
    throw new BadBriefError(`${place} is not valid: ${reason}.`);
  }
  return JSON.parse(JSON.stringify(file)) as Brief;
}
