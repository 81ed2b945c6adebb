import { Equals, IsBoolean, IsIn, IsInt, Matches, Max, Min } from 'class-validator';
import { OfStrandOrAll, OrNull, strandKind } from '../kind';

/** Heads of drum sounds, as MusicXML names them (`notehead-value`). */
export const DRUM_HEADS = ['normal', 'x', 'diamond', 'cross', 'triangle', 'slash', 'circle-x'] as const;
export type DrumHead = (typeof DRUM_HEADS)[number];

/** How one drum sound is written. */
export interface DrumChoice {
  /** The line or space, as a treble clef names it. */
  place: string;
  head: DrumHead;
  /** In the lower voice, stems down. */
  foot: boolean;
}

/** Writes one drum sound on a line or space, with a head, in the voice of hands or feet. */
export class Drum extends OfStrandOrAll {
  @Equals('drum') kind = 'drum' as const;
  /** General MIDI percussion key, as cleaned. */
  @IsInt() @Min(0) @Max(127) key!: number;
  /** Null for the usual place, head and voice. */
  @OrNull() @Matches(/^[A-G][3-6]$/) place!: string | null;
  @IsIn(DRUM_HEADS) head!: DrumHead;
  @IsBoolean() foot!: boolean;
}

/** Sounds that are not written as usual, by their keys. */
export type Drums = ReadonlyMap<number, DrumChoice>;

export const drum = strandKind({
  type: Drum,
  field: 'drums',
  readBy: ['rhythm'],
  add: (before: Drums | undefined, { key, place, head, foot }: Drum): Drums => {
    const next = new Map(before);
    if (place === null) next.delete(key);
    else next.set(key, { place, head, foot });
    return next;
  },
  join: (all, own) => (all && own ? new Map([...all, ...own]) : (own ?? all)),
  subject: ({ key }) => `${key}`,
  words: ({ key, place }) =>
    place === null ? `drum ${key} written as usual` : `drum ${key} on another line or with another head`,
  doc: {
    fields:
      '`key` (0–127), `place` (`F4`, as a treble clef names lines and spaces) or null, `head`: `normal`, `x`, `diamond`, `cross`, `triangle`, `slash` or `circle-x`, `foot`: true for stems down; optional `strand`',
    meaning: 'how one drum sound is written; null goes back to the usual place',
  },
});
