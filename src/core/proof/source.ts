import { momentOf } from '../model/frame';
import type { Oddity } from '../stock/oddities';
import { harmWords } from '../stock/oddities/oddity';
import type { Found, Subject } from './finding';

/** What is odd in the source and neither mended nor meant; each keeps the id that stock-taking gives it. */
export const checkSource = (oddities: readonly Oddity[], { result: { plans, frame } }: Subject): Found[] =>
  oddities.map(({ id, strand, place, what, harm, mend, instead }): Found => {
    const part = plans.findIndex(({ strands }) => strands.some((own) => own === strand));
    return {
      weight: 'doubtful',
      ...(part >= 0 && { part }),
      ...(place && { at: momentOf(frame, place.tick) }),
      about: id,
      what: harm ? `${what} ${harmWords(harm)}` : what,
      mends: [mend, ...(instead ? [instead] : [])],
    };
  });
