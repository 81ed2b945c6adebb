import type { Check, Found } from './finding';

/** Bars whose notes and rests do not fill them, or run over. */
export const checkBars: Check = ({ result: { score } }) =>
  score.parts.flatMap((part, index) =>
    part.bars.flatMap(({ voices }, bar): Found[] => {
      const { length, start } = score.bars[bar]!;
      return voices.flatMap(({ items, voice, staff }): Found[] => {
        let at = 0;
        for (const { onset, duration } of items) {
          if (onset !== at) break;
          at += duration;
        }
        return at === length
          ? []
          : [
              {
                weight: 'wrong',
                part: index,
                at: start,
                about: `${bar} ${staff} ${voice}`,
                what: `Voice ${voice}${part.clefs.length > 1 ? ` of staff ${staff}` : ''} does not add up to the bar.`,
              },
            ];
      });
    }),
  );
