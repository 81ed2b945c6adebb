import { Equals, IsBoolean, IsIn } from 'class-validator';
import { inPassage, OfStrandOverPassage, strandPassageKind } from '../kind';

export const SMALLEST = ['quarter', 'eighth', '16th', '32nd'] as const;
export type Smallest = (typeof SMALLEST)[number];

export interface GridChoice {
  smallest: Smallest;
  triplets: boolean;
}

export const DEFAULT_GRID: GridChoice = { smallest: '32nd', triplets: true };

/** Sets what a strand's rhythm is read with; without `strand` it holds for all, with ticks for a passage. */
export class Grid extends OfStrandOverPassage {
  @Equals('grid') kind = 'grid' as const;
  @IsIn(SMALLEST) smallest!: Smallest;
  @IsBoolean() triplets!: boolean;
}

export const grid = strandPassageKind({
  type: Grid,
  field: 'grids',
  readBy: ['rhythm'],
  words: (directive) =>
    `${directive.smallest} as smallest value${directive.triplets ? '' : ', no tuplets'}${inPassage(directive)}`,
  doc: {
    fields:
      '`smallest`: `quarter`, `eighth`, `16th` or `32nd`; `triplets` (any tuplets); optional `strand`; optional `from`, `to` (ticks)',
    meaning:
      'what rhythm is read with, for one strand or all, everywhere or in a passage; the last that covers a bar’s first tick decides',
  },
});
