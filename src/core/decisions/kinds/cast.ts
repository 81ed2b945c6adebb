import { Equals, Validate } from 'class-validator';
import { instrumentOf } from '../../instruments/catalogue';
import { IsInstrument } from '../instrument-id';
import { OfStrand, strandKind } from '../kind';

/** Casts a strand's part on an instrument of the catalogue. */
export class Cast extends OfStrand {
  @Equals('cast') kind = 'cast' as const;
  @Validate(IsInstrument) instrument!: string;
}

export const cast = strandKind({
  type: Cast,
  field: 'instrument',
  readBy: ['clean', 'cast', 'hand-over', 'stock'],
  add: (_: string | undefined, { instrument }: Cast): string | undefined => instrument,
  words: ({ instrument }) => `played by ${instrumentOf(instrument).name}`,
  doc: {
    fields: '`strand`, `instrument`',
    meaning:
      'casts the part on an instrument of the catalogue, by its id (`src/core/instruments/catalogue.ts`)',
  },
});
