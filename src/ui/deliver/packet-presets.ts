import 'reflect-metadata';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
  MinLength,
  ValidateNested,
  validateSync,
} from 'class-validator';
import { type PacketChoice, WHOLE_PACKET } from '../../core/deliver/packet-choice';
import { RATES, type Rate } from '../../core/deliver/smpte';
import { readSetting, writeSetting } from '../../store/jobs';

/** Kept between jobs, so that the next packet is like the last. */
const KEPT_AS = 'packets';
export const MOST_PRESETS = 50;

/** A choice as it was kept; what an older one does not speak of is as first offered. */
class KeptChoice implements Partial<PacketChoice> {
  @IsOptional() @IsIn(['musicxml', 'mxl']) format?: PacketChoice['format'];
  @IsOptional() @IsBoolean() score?: boolean;
  @IsOptional() @IsBoolean() parts?: boolean;
  @IsOptional() @IsBoolean() scorePdf?: boolean;
  @IsOptional() @IsBoolean() partsPdf?: boolean;
  @IsOptional() @IsBoolean() midiPlayed?: boolean;
  @IsOptional() @IsBoolean() midiWritten?: boolean;
  @IsOptional() @IsBoolean() bars?: boolean;
  @IsOptional() @IsIn(RATES) rate?: Rate;
  @IsOptional() @IsString() @MaxLength(11) start?: string;
  @IsOptional() @IsBoolean() proof?: boolean;
  @IsOptional() @IsBoolean() brief?: boolean;
  @IsOptional() @IsBoolean() recording?: boolean;
  @IsOptional() @IsBoolean() stems?: boolean;
  @IsOptional() @IsBoolean() rendered?: boolean;
}

class KeptPreset {
  @IsString() @MinLength(1) @MaxLength(60) name!: string;
  @IsObject() @ValidateNested() @Type(() => KeptChoice) choice!: KeptChoice;
}

class Kept {
  @IsObject() @ValidateNested() @Type(() => KeptChoice) last!: KeptChoice;
  @IsArray()
  @ArrayMaxSize(MOST_PRESETS)
  @ValidateNested({ each: true })
  @Type(() => KeptPreset)
  presets!: KeptPreset[];
}

/** A choice of what goes into packets, under a name. */
export interface Preset {
  name: string;
  choice: PacketChoice;
}

/** What was chosen last, and what was kept under a name. */
export interface PacketChoices {
  last: PacketChoice;
  presets: Preset[];
}

export const NO_PRESETS: PacketChoices = { last: WHOLE_PACKET, presets: [] };

const whole = (choice: KeptChoice): PacketChoice => ({ ...WHOLE_PACKET, ...choice });

/** Reads them from text; what is damaged is as first offered. */
export function parseChoices(text: string | undefined): PacketChoices {
  try {
    const kept = plainToInstance(Kept, JSON.parse(text ?? 'null'));
    if (!(kept instanceof Kept) || validateSync(kept, { whitelist: true }).length > 0) return NO_PRESETS;
    return {
      last: whole(kept.last),
      presets: kept.presets.map(({ name, choice }) => ({ name, choice: whole(choice) })),
    };
  } catch {
    return NO_PRESETS;
  }
}

export const readChoices = async (): Promise<PacketChoices> => parseChoices(await readSetting(KEPT_AS));

export const writeChoices = (choices: PacketChoices): Promise<void> =>
  writeSetting(KEPT_AS, JSON.stringify(choices));
