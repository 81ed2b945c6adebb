import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Score } from '../model/score';
import { concertScore } from '../notate/transpose';

const CONCERT = node('concert pitch', ({ score }: { score: Score }) => concertScore(score));

/** A score as it is looked at: as each player reads it, or all in concert pitch; made once for a score. */
export const inPitch = (score: Score, concert = false): Score =>
  concert ? remembered(score, CONCERT, { score }) : score;
