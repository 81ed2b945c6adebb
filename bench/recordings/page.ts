import { finished } from '../../src/core/basics/steps';
import { EMPTY_BRIEF } from '../../src/core/decisions/brief';
import { noteIdOf } from '../../src/core/model/ids';
import { writeHeard } from '../../src/core/sources/audio/document';
import type { Heard } from '../../src/core/sources/audio/listen';
import { Workbench } from '../../src/core/workbench/workbench';
import { readNotes } from '../rhythm/judge';
import type { Played } from './takes';

/** Beats may be found twice or half as quick as they were written, or by threes. */
const SCALES = [1 / 4, 1 / 3, 1 / 2, 2 / 3, 1, 3 / 2, 2, 3, 4];
const NEAR = 0.05;

export interface PageCount {
  /** Notes whose written place and length are known, and on which distances to the next attack and lengths agree. */
  notes: number;
  distances: number;
  lengths: number;
}

/**
 * How the page of what was heard agrees with the score that was played: distances from attack to attack and lengths,
 * by the scale of beats under which most agree. What was not heard agrees in nothing.
 */
export function judgePage(heard: Heard, truth: readonly Played[]): PageCount {
  const bench = new Workbench([{ id: '1', version: 1, name: 'take', bytes: writeHeard(heard) }]);
  const { desk } = bench.layOut(1, EMPTY_BRIEF);
  const { score } = finished(bench.write(1)).transcription;
  const written = readNotes(score);
  const { clock, strands } = desk.source;
  const played = strands.flatMap(({ notes }) =>
    notes.map(({ id, on, key }) => ({ id, key, on: (on / clock.ticksPerQuarter) * 0.5 })),
  );
  const used = new Set<string>();
  const pairs = truth
    .flatMap(({ on, key, written: meant }) => {
      if (!meant) return [];
      const match = played.find(
        (each) => each.key === key && !used.has(each.id) && Math.abs(each.on - on) <= NEAR,
      );
      if (match) used.add(match.id);
      const read = match && (written.get(match.id) ?? written.get(noteIdOf(match.id)));
      return [{ meant, read }];
    })
    .sort((a, b) => a.meant.start - b.meant.start);
  const counted = (scale: number): PageCount => {
    let [distances, lengths] = [0, 0];
    pairs.forEach(({ meant, read }, at) => {
      if (!read) return;
      if (Math.round(scale * (meant.end - meant.start)) === read.end - read.start) lengths++;
      const next = pairs.find((each, index) => index > at && each.meant.start > meant.start && each.read);
      if (
        !next?.read ||
        Math.round(scale * (next.meant.start - meant.start)) === next.read.start - read.start
      )
        distances++;
    });
    return { notes: pairs.length, distances, lengths };
  };
  return SCALES.map(counted).reduce((best, each) => (each.distances > best.distances ? each : best));
}
