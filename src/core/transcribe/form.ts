import type { Steps } from '../basics/steps';
import { lastAt } from '../decisions/kind';
import type { RepeatsChoice } from '../decisions/kinds/repeats';
import { barKinds, frameTexts, soundingBars, tiedBars } from '../infer/form/alike';
import { findRepeats, findReturn } from '../infer/form/repeats';
import type { FormOffer } from '../model/form';
import { type Frame, tickOfMoment } from '../model/frame';
import type { Part, Score } from '../model/score';

/** What of a score its form is read from. */
export interface FormScore extends Pick<Score, 'bars' | 'keys' | 'swings' | 'rehearsals'> {
  parts: readonly Pick<Part, 'bars'>[];
}

/**
 * What of a score is played again at once, and the one place where it comes back later:
 * repeats and returns that can be written as signs, with those that are.
 *
 * @param texts how the bars of each part read
 */
export function* formOf(
  score: FormScore,
  texts: readonly (readonly string[])[],
  choices: readonly RepeatsChoice[],
  frame: Frame,
): Steps<FormOffer[]> {
  const begins = new Set([...score.rehearsals, ...score.keys].map(({ bar }) => bar));
  const played = {
    kinds: barKinds([frameTexts(score), ...texts]),
    sounds: soundingBars(score.parts, score.bars.length),
    tied: tiedBars(score.parts, score.bars.length),
    begins,
  };
  const repeats = findRepeats(played);
  yield;
  const startOf = (bar: number) => score.bars[bar]!.start;
  const isFolded = (bar: number) => lastAt(choices, tickOfMoment(frame, startOf(bar)))?.use === 'folded';
  const chosen = repeats.filter(({ from }) => isFolded(from));
  // What comes back does so among the repeats that are written.
  const back = findReturn(played, chosen.length > 0 ? chosen : repeats);
  yield;
  const isBack = back !== null && isFolded(back.goesBack.at);
  const folded = new Set(isBack ? chosen.filter((each) => back.repeats.includes(each)) : chosen);
  return [
    ...repeats.map((repeat) => ({ repeat, at: startOf(repeat.from), folded: folded.has(repeat) })),
    ...(back ? [{ goesBack: back.goesBack, at: startOf(back.goesBack.at), folded: isBack }] : []),
  ];
}
