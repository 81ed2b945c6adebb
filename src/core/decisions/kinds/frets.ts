import {
  ArrayMaxSize,
  ArrayMinSize,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  Max,
  Min,
} from 'class-validator';
import { MayBeAbsent, OfStrand, strandKind } from '../kind';

/** Whether a part of a fretted instrument is read from a staff, from tablature, or from both. */
export const FRETTED = ['staff', 'both', 'tab'] as const;

/** How a part of a fretted instrument is written. */
export class Frets extends OfStrand {
  @Equals('frets') kind = 'frets' as const;
  @IsIn(FRETTED) show!: (typeof FRETTED)[number];
  /** Sounding MIDI keys of the open strings, from the last to the first; the instrument's own where absent. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMinSize(3)
  @ArrayMaxSize(9)
  @IsInt({ each: true })
  @Min(0, { each: true })
  @Max(127, { each: true })
  tuning?: number[];
  /** The fret of the capo. */
  @MayBeAbsent() @IsInt() @Min(0) @Max(12) capo?: number;
  /** Whether the tablature has stems; where absent it has where it is read alone (common practice). */
  @MayBeAbsent() @IsBoolean() stems?: boolean;
}

export type FretsChoice = Pick<Frets, 'show' | 'tuning' | 'capo' | 'stems'>;

const WORDS = { staff: 'read from a staff', both: 'staff and tablature', tab: 'tablature' };

export const frets = strandKind({
  type: Frets,
  field: 'frets',
  readBy: ['score'],
  add: (_: FretsChoice | undefined, { show, tuning, capo, stems }: Frets): FretsChoice => ({
    show,
    ...(tuning && { tuning }),
    ...(capo && { capo }),
    ...(stems !== undefined && { stems }),
  }),
  words: ({ show, tuning, capo }) =>
    `${WORDS[show]}${tuning ? ', its own tuning' : ''}${capo ? `, capo ${capo}` : ''}`,
  doc: {
    fields:
      '`strand`, `show`: `staff`, `both` or `tab`; optional `tuning` (sounding keys from the last string to the first), `capo` (0–12), `stems`: true or false',
    meaning:
      'whether a part of a fretted instrument is read from a staff, from tablature or from both, and how it is tuned',
  },
});
