import { SMALLEST, type Smallest } from '../decisions/kinds/grid';
import type { Frame } from '../model/frame';
import { barIndexOf } from '../model/score';
import type { Attack } from '../model/sketch';
import { QUARTER, typeSpan } from '../model/time';

/** The values that a part's rhythm really uses. */
export interface Uses {
  /** On its slots, tuplets apart, nearly all attacks stand. */
  smallest: Smallest;
  /** Attacks on finer places than that. */
  finer: number;
  /** Attacks in tuplets. */
  tuplets: number;
  attacks: number;
}

/** So large a share of attacks settles what a part uses; a few finer ones want a look. */
const NEARLY_ALL = 0.97;

/** What a part's attacks came to, as a proposal for its smallest value. */
export function usesOf(attacks: readonly Attack[], frame: Frame): Uses {
  const counts = new Map<Smallest, number>(SMALLEST.map((value) => [value, 0]));
  let tuplets = 0;
  let main = 0;
  for (const { start, grace } of attacks) {
    if (grace) continue;
    main++;
    const bar = frame.bars[barIndexOf(frame.bars, start)]!;
    const offset = start - (bar.start - bar.missing);
    const value = SMALLEST.find((each) => offset % typeSpan(each) === 0);
    if (value) counts.set(value, counts.get(value)! + 1);
    else if (offset % (QUARTER / 64) !== 0) tuplets++;
  }
  const straight = main - tuplets;
  let within = 0;
  for (const smallest of SMALLEST) {
    within += counts.get(smallest)!;
    if (within >= NEARLY_ALL * straight)
      return { smallest, finer: straight - within, tuplets, attacks: main };
  }
  return { smallest: SMALLEST.at(-1)!, finer: straight - within, tuplets, attacks: main };
}
