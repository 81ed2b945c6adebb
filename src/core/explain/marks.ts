import { tickOfMoment } from '../model/frame';
import type { MarkOffer } from '../model/offers';
import type { Told, Transcription } from '../transcribe';
import { placeOf, type ScorePlace } from './explain';

/** A mark that playing speaks for, as it is listed. */
export interface ListedMark extends Pick<MarkOffer, 'kind' | 'mark' | 'heard' | 'margin' | 'sure' | 'shown'> {
  /** Index of the part. */
  part: number;
  at: ScorePlace;
  /** Where a hairpin ends. */
  to: ScorePlace | null;
  /** Its first tick: what is said of the passage of this tick alone is said of it. */
  tick: number;
}

/** The marks that the playing of all parts speaks for, part by part in order. */
export const listedMarks = ({ offers }: Told, { frame }: Pick<Transcription, 'frame'>): ListedMark[] =>
  offers.flatMap((own, part) =>
    own.map(({ from, to, kind, mark, heard, margin, sure, shown }) => ({
      part,
      kind,
      mark,
      heard,
      margin,
      ...(sure && { sure }),
      shown,
      at: placeOf(frame, from),
      to: to === undefined ? null : placeOf(frame, to),
      tick: Math.round(tickOfMoment(frame, from)),
    })),
  );
