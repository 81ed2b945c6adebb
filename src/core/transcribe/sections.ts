import { type BarLook, findSections, sectionName } from '../infer/form/sections';
import type { Frame } from '../model/frame';
import type { MarkOffer } from '../model/offers';
import { barIndexOf, type KeySignature, type TempoMark } from '../model/score';
import type { SketchNote } from '../model/sketch';

/** The rehearsal marks that the music asks for, where the file has none. */
export function sectionOffers(
  parts: readonly (readonly SketchNote[])[],
  inBars: readonly (readonly number[])[],
  { bars }: Frame,
  keys: readonly KeySignature[],
  tempos: readonly TempoMark[],
): MarkOffer[] {
  const attacks = bars.map(() => parts.map(() => 0));
  const velocities = bars.map(() => 0);
  const counts = bars.map(() => 0);
  parts.forEach((notes, part) => {
    for (const { start, velocity } of notes) {
      const bar = barIndexOf(bars, start);
      attacks[bar]![part]!++;
      velocities[bar]! += velocity;
      counts[bar]!++;
    }
  });
  const begins = new Set([
    ...keys.map(({ bar }) => bar),
    ...tempos.flatMap(({ bar, at, printed }) => (printed !== null && at === 0 ? [bar] : [])),
  ]);
  const looks = bars.map(({ meter }, bar): BarLook => {
    const before = bars[bar - 1]?.meter;
    const isOther =
      before !== undefined &&
      (before.numerator !== meter.numerator || before.denominator !== meter.denominator);
    return {
      chroma: inBars[bar] ?? [],
      attacks: attacks[bar]!,
      loudness: counts[bar]! > 0 ? velocities[bar]! / counts[bar]! : 0,
      begins: isOther || begins.has(bar),
    };
  });
  return findSections(looks).map(({ bar, change }, index) => ({
    kind: 'rehearsals',
    from: bars[bar]!.start,
    mark: sectionName(index),
    heard: [change],
    margin: change,
    shown: false,
  }));
}
