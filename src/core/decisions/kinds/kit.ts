import { Type } from 'class-transformer';
import { ArrayMaxSize, Equals, IsArray, IsInt, Max, Min, ValidateNested } from 'class-validator';
import { OfStrand, strandKind } from '../kind';

class KeyMove {
  @IsInt() @Min(0) @Max(127) from!: number;
  @IsInt() @Min(0) @Max(127) to!: number;
}

/** Moves the keys of a percussion strand to where another kit has those sounds. */
export class Kit extends OfStrand {
  @Equals('kit') kind = 'kit' as const;
  @IsArray() @ArrayMaxSize(128) @ValidateNested({ each: true }) @Type(() => KeyMove) keys!: KeyMove[];
}

export const kit = strandKind({
  type: Kit,
  field: 'kit',
  readBy: ['clean'],
  add: (_: readonly KeyMove[] | undefined, { keys }: Kit): readonly KeyMove[] | undefined => keys,
  words: ({ keys }) => (keys.length === 0 ? 'drum keys as they are' : 'drum keys moved to another kit'),
  doc: {
    fields: '`strand`, `keys`: list of `{from, to}`',
    meaning: 'moves drum keys ([kits.md](kits.md))',
  },
});
