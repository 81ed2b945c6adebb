import type { PartId } from '../model/ids';
import type { Score } from '../model/score';
import { writeMusicXml } from '../sources/musicxml/write';
import { withSlashes } from './slashes';
import { sliceScore } from './slice';

/** MusicXML of some parts over the bars from one (index from 0) to before another, for the engraver. */
export function windowOf(score: Score, parts: ReadonlySet<PartId>, from: number, to: number): string {
  return writeMusicXml(withSlashes(sliceScore(score, parts, from, to)), {
    after: score.bars[from - 1],
    goesOn: to < score.bars.length,
  });
}
