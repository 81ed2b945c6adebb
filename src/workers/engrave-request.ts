import 'reflect-metadata';
import { IsBoolean, IsNumber, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';

/** `width` in pixels, `scale` in percent of the engraver's own size. */
export class EngraveRequest {
  @IsString() @MaxLength(200_000_000) document!: string;
  @IsNumber() @Min(50) @Max(20_000) width!: number;
  @IsNumber() @Min(5) @Max(400) scale!: number;
  /** Equal time takes equal room, as far as notes allow; else as usual in print. */
  @IsOptional() @IsBoolean() even?: boolean;
}
