import { counted } from '../basics/words';
import { barsSpared, type Repeat, type Return } from '../model/form';
import { tickOfMoment } from '../model/frame';
import type { Told, Transcription } from '../transcribe';

/** Music that comes again, as it is listed. */
export interface ListedForm {
  /** Indices of bars as they are played: where it begins, where it comes again, and how many are the same. */
  bar: number;
  again: number;
  length: number;
  sign: string;
  /** How many bars need not be written. */
  spared: number;
  folded: boolean;
  /** What is said of the passage of this tick alone is said of it. */
  tick: number;
}

/** What comes again in a piece, in order. */
export const listedForm = ({ form }: Told, { frame }: Pick<Transcription, 'frame'>): ListedForm[] =>
  form.map((offer) => ({
    ...(offer.repeat ? listedRepeat(offer.repeat, offer.upbeat > 0) : listedReturn(offer.goesBack)),
    folded: offer.folded,
    tick: Math.round(tickOfMoment(frame, offer.at)),
  }));

function listedRepeat(repeat: Repeat, hasUpbeat: boolean) {
  const { from, length, passes, ending, lastEnding } = repeat;
  // A section with an upbeat is called by the bar after that.
  const bar = hasUpbeat ? from + 1 : from;
  const times = lastEnding > 0 ? passes + 1 : passes;
  const endings = lastEnding === 0 ? '' : `, endings of ${counted(ending, 'bar')}`;
  return {
    bar,
    again: bar + length,
    // Of one time and its only other: what both have.
    length: passes === 1 ? length - ending : length,
    sign: `${times === 2 ? 'repeat' : `repeat, ${times} times`}${endings}`,
    spared: barsSpared(repeat),
  };
}

function listedReturn({ at, to, length, fine }: Return) {
  return {
    bar: to,
    again: at,
    length,
    sign: `${to > 0 ? 'D.S.' : 'D.C.'} al ${fine ? 'Fine' : 'Coda'}`,
    spared: length,
  };
}
