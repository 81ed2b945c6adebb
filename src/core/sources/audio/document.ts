import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  Equals,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  Max,
  Min,
  registerDecorator,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { gunzipSync, gzipSync, strFromU8, strToU8 } from 'fflate';
import { crc32 } from '../../basics/zip';
import { type MaybeNote, RULES } from '../../recording/heard';
import type { Mix } from '../../recording/mix';
import { MIX_KINDS } from '../../recording/mix/chords';
import { BadSourceError } from '../refused';
import type { Heard } from './listen';

/** What a document begins with, before its packed text. */
const MARK = strToU8('dragoman-heard 1\n');
/** More may-be notes nobody has heard in any recording that is let in. */
const MOST = 400_000;
/** Nothing unpacks to more; bytes. */
const LARGEST = 200_000_000;

/** Seconds on and off, key, velocity, cents, log-odds; of many notes also what each rule adds. */
type Row = number[];
const LINE_ROW = 6;
const MANY_ROW = LINE_ROW + RULES.length;

/** Rows of so many numbers, each of a note that can be. */
function areRows(value: unknown, length: number): value is Row[] {
  return (
    Array.isArray(value) &&
    value.length <= MOST &&
    value.every((row: unknown, index) => {
      if (!Array.isArray(row) || row.length !== length || !row.every(Number.isFinite)) return false;
      const [on, off, key, velocity] = row as [number, number, number, number];
      const before = (value as Row[])[index - 1]?.[0] ?? 0;
      return (
        on >= before &&
        off > on &&
        off < 1e5 &&
        Number.isInteger(key) &&
        key >= 0 &&
        key <= 127 &&
        velocity >= 1 &&
        velocity <= 127
      );
    })
  );
}

const Passes =
  (name: string, validate: (value: unknown) => boolean) => (object: object, propertyName: string) =>
    registerDecorator({ name, target: object.constructor, propertyName, validator: { validate } });

const AreRows = (length: number) => Passes('areRows', (value) => areRows(value, length));

class Facts {
  @IsNumber() @Min(0) @Max(1e5) seconds!: number;
  @IsNumber() @Min(0) peak!: number;
  @IsNumber() @Min(0) @Max(1) clipped!: number;
  @IsOptional() @IsInt() @Min(1) lost?: number;
  @IsNumber() @Min(0) silentBefore!: number;
  @IsNumber() @Min(0) silentAfter!: number;
}

/** Seconds on and off, root, number of the kind, confidence. */
const CHORD_ROW = 5;
/** More beats or chords no recording that is let in has. */
const MOST_BEATS = 20_000;

const isAscending = (values: readonly unknown[]): boolean =>
  values.every(
    (value, at) =>
      typeof value === 'number' && value >= 0 && (at === 0 || value > (values[at - 1] as number)),
  );

/** Chords one after the other that can be. */
const areChords = (value: unknown): boolean =>
  Array.isArray(value) &&
  value.length <= MOST_BEATS &&
  value.every((row: unknown, index) => {
    if (!Array.isArray(row) || row.length !== CHORD_ROW || !row.every(Number.isFinite)) return false;
    const [on, off, root, kind, confidence] = row as [number, number, number, number, number];
    const before = (value as Row[])[index - 1]?.[1] ?? 0;
    return (
      on >= before - 1e-3 &&
      off > on &&
      Number.isInteger(root) &&
      root >= 0 &&
      root <= 11 &&
      MIX_KINDS[kind] !== undefined &&
      confidence >= 0 &&
      confidence <= 1
    );
  });

class MixDocument {
  @Passes('areBeats', (value) => Array.isArray(value) && value.length <= MOST_BEATS && isAscending(value))
  beats!: number[];
  @IsInt() @Min(1) @Max(12) perBar!: number;
  @IsInt() @Min(0) @Max(11) first!: number;
  @Passes('areChords', areChords) chords!: Row[];
  @AreRows(LINE_ROW) tune!: Row[];
  @AreRows(LINE_ROW) bass!: Row[];
}

class HeardDocument {
  @Equals('dragoman-heard') format!: 'dragoman-heard';
  @IsObject() @ValidateNested() @Type(() => Facts) facts!: Facts;
  @IsNumber() @Min(-50) @Max(50) tuning!: number;
  @IsIn(['line', 'many']) guess!: Heard['guess'];
  @AreRows(LINE_ROW) line!: Row[];
  @AreRows(MANY_ROW) many!: Row[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => MixDocument) mix?: MixDocument;
}

/** Whether bytes are what was heard in a recording, by what they begin with. */
export const isHeard = (bytes: Uint8Array): boolean => MARK.every((byte, at) => bytes[at] === byte);

const rounded = (value: number, places: number) => Math.round(value * 10 ** places) / 10 ** places;

function rowOf({ on, off, key, velocity, cents, says, rules }: MaybeNote): Row {
  // A tenth of a millisecond, below any tick.
  const begins = rounded(on, 4);
  const row = [
    begins,
    Math.max(begins + 1e-4, rounded(off, 4)),
    key,
    velocity,
    rounded(cents, 1),
    rounded(says, 3),
  ];
  return rules ? [...row, ...RULES.map((rule) => rounded(rules[rule], 3))] : row;
}

function noteOf([on, off, key, velocity, cents, says, ...rules]: Row): MaybeNote {
  const [ghosts, ringing, doubled, neighbours, faint] = rules as [number, number, number, number, number];
  return {
    on: on!,
    off: off!,
    key: key!,
    velocity: velocity!,
    cents: cents!,
    says: says!,
    ...(rules.length > 0 && { rules: { ghosts, ringing, doubled, neighbours, faint } }),
  };
}

const mixRows = ({ beats, perBar, first, chords, tune, bass }: Mix) => ({
  beats: beats.map((at) => rounded(at, 4)),
  perBar,
  first,
  chords: chords.map(({ on, off, root, kind, confidence }) => [
    rounded(on, 4),
    rounded(off, 4),
    root,
    MIX_KINDS.indexOf(kind),
    rounded(confidence, 3),
  ]),
  tune: tune.map(rowOf),
  bass: bass.map(rowOf),
});

const mixOf = ({ beats, perBar, first, chords, tune, bass }: MixDocument): Mix => ({
  beats,
  perBar,
  first,
  chords: chords.map((row) => {
    const [on, off, root, kind, confidence] = row as [number, number, number, number, number];
    return { on, off, root, kind: MIX_KINDS[kind]!, confidence };
  }),
  tune: tune.map(noteOf),
  bass: bass.map(noteOf),
});

/** What was heard as a document: the same bytes for the same. */
export function writeHeard({ facts, tuning, guess, line, many, mix }: Heard): Uint8Array {
  const text = JSON.stringify({
    format: 'dragoman-heard',
    facts,
    tuning: rounded(tuning, 1),
    guess,
    line: line.map(rowOf),
    many: many.map(rowOf),
    ...(mix && { mix: mixRows(mix) }),
  });
  const packed = gzipSync(strToU8(text), { mtime: 0 });
  const bytes = new Uint8Array(MARK.length + packed.length);
  bytes.set(MARK);
  bytes.set(packed, MARK.length);
  return bytes;
}

/** @throws BadSourceError with a sentence for people */
export function readHeard(bytes: Uint8Array): Heard {
  const damaged = () =>
    new BadSourceError('What was heard in this recording is damaged: let it be heard again.');
  let data: unknown;
  try {
    const packed = bytes.subarray(MARK.length);
    // Checksum and length of the text stand at the end (RFC 1952); nothing larger is unpacked.
    const size = new DataView(packed.buffer, packed.byteOffset, packed.length).getUint32(
      packed.length - 4,
      true,
    );
    if (size > LARGEST) throw damaged();
    const text = gunzipSync(packed);
    const checksum = new DataView(packed.buffer, packed.byteOffset, packed.length).getUint32(
      packed.length - 8,
      true,
    );
    if (crc32(text) !== checksum) throw damaged();
    data = JSON.parse(strFromU8(text));
  } catch {
    throw damaged();
  }
  const document = plainToInstance(HeardDocument, data);
  if (typeof data !== 'object' || data === null || validateSync(document).length > 0) throw damaged();
  const { facts, tuning, guess, line, many, mix } = document;
  return {
    facts: { ...facts },
    tuning,
    guess,
    line: line.map(noteOf),
    many: many.map(noteOf),
    mix: mix ? mixOf(mix) : null,
  };
}
