import { barIndexOf } from '../model/score';
import type { Moment } from '../model/time';
import type { Check, Found } from './finding';

/** Texts that ask for a way of playing, and those that end it (common practice of parts in Italian and English). */
const WAYS: readonly { on: RegExp; off: RegExp; back: string }[] = [
  { on: /^(pizz|col legno|c\.? ?l\.)/i, off: /^(arco|col arco|norm|ord|nat)/i, back: 'arco' },
  {
    on: /^(con sord|with mute|muted?\b|(cup|harmon|straight|bucket|practice) mute|plunger|mit D[äa]mpfer)/i,
    off: /^(senza sord|open\b|without mute|no mute|ohne D[äa]mpfer)/i,
    back: 'senza sord. or open',
  },
  {
    on: /^(sul (pont|tasto)|flautando|am Steg|am Griffbrett)/i,
    off: /^(ord|nat|norm|modo ord|pos\.? nat)/i,
    back: 'ord.',
  },
];

interface Said {
  at: Moment;
  text: string;
}

/** Ways of playing that are asked for and never taken back, or asked for again while they hold. */
export const checkTechniques: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index): Found[] => {
    const { bars } = result.frame;
    const texts = part.bars.flatMap(({ marks = [] }, bar) =>
      marks.flatMap((mark): Said[] =>
        mark.kind === 'words' ? [{ at: bars[bar]!.start + mark.at, text: mark.text }] : [],
      ),
    );
    const own = sounded[index]!;
    const playsIn = (from: Moment, to: Moment) => own.some(({ start }) => start >= from && start < to);
    return WAYS.flatMap(({ on, off, back }): Found[] => {
      const found: Found[] = [];
      let holds: Said | null = null;
      for (const said of texts) {
        if (off.test(said.text)) holds = null;
        else if (on.test(said.text)) {
          if (holds && on.exec(holds.text)?.[0] === on.exec(said.text)?.[0] && playsIn(holds.at, said.at))
            found.push({
              weight: 'doubtful',
              part: index,
              at: said.at,
              about: `again ${said.text} ${said.at}`,
              what: `“${said.text}” is asked for again, though it holds since bar ${bars[barIndexOf(bars, holds.at)]!.number}: is a return to ${back} missing between?`,
            });
          holds = said;
        }
      }
      // A piece may end so; one that began otherwise wants a look.
      if (holds && playsIn(0, holds.at))
        found.push({
          weight: 'remark',
          part: index,
          at: holds.at,
          about: `open ${holds.text} ${holds.at}`,
          what: `“${holds.text}” is never taken back: no ${back} after it.`,
        });
      return found;
    });
  });
