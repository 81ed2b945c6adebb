import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  Max,
  Min,
  ValidateNested,
} from 'class-validator';
import { ALL_PLAYED, CURVE_CONTROLLERS, DYNAMICS, type PerformSettings } from '../../perform/settings';
import { Directive, jobKind, MayBeAbsent } from '../kind';

/** How a curve carries dynamics: by which controllers, and its values for the softest and the loudest. */
export class CurveForm {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(CURVE_CONTROLLERS.length)
  @IsIn(CURVE_CONTROLLERS, { each: true })
  controllers!: PerformSettings['curve']['controllers'];
  @IsInt() @Min(0) @Max(127) low!: number;
  @IsInt() @Min(0) @Max(127) high!: number;
}

/** How a score is played; what is absent is played out as usual. */
export class Perform extends Directive implements Partial<PerformSettings> {
  @Equals('perform') kind = 'perform' as const;
  @MayBeAbsent() @IsBoolean() repeats?: boolean;
  @MayBeAbsent() @IsIn(DYNAMICS) dynamics?: PerformSettings['dynamics'];
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => CurveForm) curve?: CurveForm;
  @MayBeAbsent() @IsBoolean() articulation?: boolean;
  @MayBeAbsent() @IsBoolean() graces?: boolean;
  @MayBeAbsent() @IsBoolean() fermatas?: boolean;
  @MayBeAbsent() @IsBoolean() ornaments?: boolean;
  @MayBeAbsent() @IsBoolean() glides?: boolean;
  @MayBeAbsent() @IsBoolean() gradual?: boolean;
  @MayBeAbsent() @IsBoolean() swing?: boolean;
  @MayBeAbsent() @IsBoolean() pedal?: boolean;
  @MayBeAbsent() @IsInt() @Min(0) @Max(500) slurOverlap?: number;
}

export const perform = jobKind({
  type: Perform,
  field: 'perform',
  readBy: ['source'],
  initial: (): PerformSettings => ALL_PLAYED,
  // What is not said is as it is while nothing is decided.
  add: (_: PerformSettings, { kind: _kind, ...settings }: Perform): PerformSettings => ({
    ...ALL_PLAYED,
    ...settings,
  }),
  words: ({ repeats = ALL_PLAYED.repeats, dynamics = ALL_PLAYED.dynamics }) =>
    `Score played ${repeats ? 'with repeats' : 'straight through'}, dynamics as ${{ velocity: 'velocity', both: 'velocity and curve', curve: 'a curve', none: 'nothing' }[dynamics]}`,
  doc: {
    fields:
      '`repeats`, `articulation`, `graces`, `fermatas`, `ornaments`, `glides`, `gradual`, `swing`, `pedal`: whether they are played out; `dynamics`: `velocity`, `both`, `curve` or `none`; `curve`: {`controllers`: of 1 and 11, `low`, `high`}; `slurOverlap` in milliseconds; each may be absent',
    meaning: 'how a score is played; all is played out, dynamics as velocity, as long as nothing is decided',
  },
});
