import type { Instrument } from '../instruments/catalogue';
import type { Clef } from '../model/clefs';
import { diatonicHeight } from '../model/pitch';
import type { PartBar } from '../model/score';

/** Bottom and top line of the staff under each clef, as diatonic heights (C4 is 28). */
export const LINES: Record<Clef, [number, number]> = {
  treble: [30, 38],
  treble8vb: [23, 31],
  treble8va: [37, 45],
  treble15ma: [44, 52],
  treble15mb: [16, 24],
  french: [32, 40],
  soprano: [28, 36],
  mezzosoprano: [26, 34],
  alto: [24, 32],
  tenor: [22, 30],
  tenor8vb: [15, 23],
  baritone: [20, 28],
  baritoneF: [20, 28],
  bass: [18, 26],
  bass8vb: [11, 19],
  bass8va: [25, 33],
  bass15mb: [4, 12],
  subbass: [16, 24],
  percussion: [30, 38],
  // A tablature has no heights; without a clef they are read as treble.
  tab: [30, 38],
  none: [30, 38],
};
/** The usual clef stays unless another saves this many steps off the staff per note. */
const WORTH_CHANGING = 2;

/** The clefs that are read on each staff of an instrument, the usual one first. */
export const clefsOf = ({ clefs }: Instrument, staves: number): (readonly Clef[])[] =>
  Array.from({ length: staves }, (_, index) =>
    staves === 1 || clefs.length > 1 ? clefs[index]! : clefs[0]!,
  );

/** Of some clefs the first, which is the usual one, unless another is clearly better for a staff (from 1). */
export function clefOf(bars: readonly PartBar[], staff: number, choices: readonly Clef[]): Clef {
  const usual = choices[0] ?? 'treble';
  if (choices.length === 1) return usual;
  const heights = bars.flatMap((bar) =>
    bar.voices
      .filter((line) => line.staff === staff)
      .flatMap((line) =>
        line.items.flatMap((item) => (item.kind === 'chord' ? [...(item.graces ?? []), ...item.notes] : [])),
      )
      .map((note) => diatonicHeight(note.pitch)),
  );
  if (heights.length === 0) return usual;
  const cost = (clef: Clef) => {
    const [bottom, top] = LINES[clef];
    return heights.reduce((sum, h) => sum + Math.max(0, bottom - 1 - h, h - top - 1), 0) / heights.length;
  };
  return choices.reduce((best, clef) => (cost(clef) + WORTH_CHANGING < cost(best) ? clef : best), usual);
}
