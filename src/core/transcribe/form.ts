import type { Steps } from '../basics/steps';
import { lastAt } from '../decisions/kind';
import type { RepeatsChoice } from '../decisions/kinds/repeats';
import { barKinds, frameTexts, soundingBars, tiedBars } from '../infer/form/alike';
import { findRepeats, findReturn, worthOf } from '../infer/form/repeats';
import { unitFrames, unitStart, unitsOf, upbeatOf } from '../infer/form/units';
import { type FormOffer, type Repeat, sectionEdges } from '../model/form';
import { type Frame, tickOfMoment } from '../model/frame';
import type { Part, Score } from '../model/score';
import type { Moment, Span } from '../model/time';

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
  const isFolded = (at: Moment) => lastAt(choices, tickOfMoment(frame, at))?.use === 'folded';
  const upbeat = upbeatOf(score.bars, beginsAt(score));
  const fromUpbeats = upbeat > 0 ? fromUpbeat(score, upbeat, played) : [];
  yield;
  if (worthOf(fromUpbeats, played) > worthOf(repeats, played))
    return fromUpbeats.map((repeat) => {
      const at = unitStart(score.bars, upbeat, repeat.from);
      return { repeat, upbeat, at, folded: isFolded(at) };
    });
  const startOf = (bar: number) => score.bars[bar]!.start;
  const chosen = repeats.filter(({ from }) => isFolded(startOf(from)));
  // What comes back does so among the repeats that are written.
  const back = findReturn(played, chosen.length > 0 ? chosen : repeats);
  yield;
  const isBack = back !== null && isFolded(startOf(back.goesBack.at));
  const folded = new Set(isBack ? chosen.filter((each) => back.repeats.includes(each)) : chosen);
  return [
    ...repeats.map((repeat) => ({
      repeat,
      upbeat: 0,
      at: startOf(repeat.from),
      folded: folded.has(repeat),
    })),
    ...(back ? [{ goesBack: back.goesBack, upbeat: 0, at: startOf(back.goesBack.at), folded: isBack }] : []),
  ];
}

/** The moment at which a score is first heard. */
const beginsAt = ({ bars, parts }: FormScore): Moment =>
  parts
    .flatMap(({ bars: own }) => own[0]?.voices ?? [])
    .flatMap(({ items }) => items.filter(({ kind }) => kind === 'chord'))
    .reduce((first, { onset }) => Math.min(first, bars[0]!.start + onset), Number.POSITIVE_INFINITY);

/** Sections that are played again from upbeat to upbeat; over none of their edges anything sounds. */
function fromUpbeat(score: FormScore, upbeat: Span, { sounds }: { sounds: readonly boolean[] }): Repeat[] {
  const units = score.parts.map((part) => unitsOf(part, score.bars, upbeat));
  const crossed = sounds.map((_, unit) => units.some((each) => each.crossed[unit]));
  const kinds = barKinds([unitFrames(score), ...units.map(({ texts }) => texts)]);
  return findRepeats({ kinds, sounds, tied: crossed }).filter((repeat) =>
    sectionEdges(repeat).every((edge) => !crossed[edge]),
  );
}
