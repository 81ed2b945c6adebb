import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { briefOf, deskOf, madeFile, madeTrack, type Stroke } from '../../../../tests/helpers/made-file';
import { DEFAULT_HAND_OVER } from '../../decisions/kinds/hand-over';
import { deliverMidi } from '../../deliver';
import type { StrandId } from '../../model/ids';
import { readPerformance } from '../../sources/smf/performance';
import { readSmf } from '../../sources/smf/read';
import { transcribeNow } from '../../transcribe';

const BAR = 1920;
const join = (into: StrandId, ...strands: StrandId[]) =>
  strands.map((strand) => ({ kind: 'join' as const, strand, into }));

/** Four quarters a bar, on the strand whose turn it is. */
const line = (turns: readonly number[], strand: number): Stroke[] =>
  turns.flatMap((turn, bar) =>
    turn === strand
      ? [0, 1, 2, 3].map((beat): Stroke => [bar * BAR + beat * 480, bar * BAR + beat * 480 + 440, 50 + beat])
      : [],
  );

/** The texts of the first part, with their bars, of tracks that take turns bar by bar and are one part. */
function textsOf(names: readonly string[], turns: readonly number[]): string[] {
  const tracks = names.flatMap((name, index) => {
    const strokes = line(turns, index);
    return strokes.length > 0 ? [madeTrack(name, index, strokes)] : [];
  });
  const file = madeFile(...tracks);
  const ids = readPerformance(file).strands.map(({ id }) => id);
  const desk = deskOf(file, ...join(ids[0]!, ...ids.slice(1)));
  const { score } = transcribeNow(desk.performance, briefOf(...join(ids[0]!, ...ids.slice(1))));
  expect(score.parts).toHaveLength(1);
  return score.parts[0]!.bars.flatMap(({ marks = [] }, bar) =>
    marks.flatMap((mark) => (mark.kind === 'words' ? [`${bar} ${mark.text}`] : [])),
  );
}

describe('strands of one section that are one part', () => {
  it('have "pizz." and "arco" where they change, and nowhere else', () => {
    expect(textsOf(['Celli sus', 'Celli pizz'], [0, 0, 1, 1, 0])).toEqual(['2 pizz.', '4 arco']);
    expect(textsOf(['Celli pizz', 'Celli leg'], [0, 1, 1, 0])).toEqual(['0 pizz.', '1 arco', '3 pizz.']);
  });

  it('have none for lengths and bowings of the moment', () => {
    expect(textsOf(['Vlas sus', 'Vlas stacc', 'Vlas trem'], [0, 1, 2, 0])).toEqual([]);
  });

  it('take one mute off for the next, and what is of another kind beside it', () => {
    expect(textsOf(['Tpt open', 'Tpt harmon', 'Tpt cup'], [0, 1, 2, 0])).toEqual([
      '1 harmon mute',
      '2 cup mute',
      '3 open',
    ]);
    expect(textsOf(['Vla', 'Vla con sord', 'Vla pizz'], [0, 1, 2])).toEqual([
      '1 con sord.',
      '2 senza sord., pizz.',
    ]);
    expect(textsOf(['E-Guitar', 'E-Guitar muted'], [0, 1, 0])).toEqual(['1 palm mute', '2 ord.']);
  });

  it('change nothing where one only sounds along with the other', () => {
    const long = madeTrack('Celli sus', 0, [[0, 4 * BAR - 40, 40]]);
    const plucked = madeTrack('Celli pizz', 1, line([0, 1, 0, 1], 1));
    const file = madeFile(long, plucked);
    const [one, two] = readPerformance(file).strands.map(({ id }) => id);
    const desk = deskOf(file, ...join(one!, two!));
    const { score } = transcribeNow(desk.performance, briefOf(...join(one!, two!)));
    expect(score.parts[0]!.bars.flatMap(({ marks = [] }) => marks)).toEqual([]);
  });

  it('have every text at its place and none too many, however they take turns', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(1), { minLength: 2, maxLength: 8 }), (turns) => {
        // Both strands are there, so that they can be one part.
        const all = [0, 1, ...turns];
        const changes = all.flatMap((turn, bar) =>
          bar > 0 && turn !== all[bar - 1] ? [`${bar} ${turn === 1 ? 'pizz.' : 'arco'}`] : [],
        );
        expect(textsOf(['Celli arco', 'Celli pizz'], all)).toEqual(changes);
      }),
      { numRuns: 12 },
    );
  });

  it('go to a sequencer on one track, or on one for each technique', () => {
    const file = madeFile(
      madeTrack('Celli sus', 0, line([0, 1, 0], 0)),
      madeTrack('Celli pizz', 1, line([0, 1, 0], 1)),
    );
    const [one, two] = readPerformance(file).strands.map(({ id }) => id);
    const tracksOf = (apart: 'techniques'[]) =>
      readSmf(
        deliverMidi(deskOf(file, ...join(one!, two!), { kind: 'hand-over', ...DEFAULT_HAND_OVER, apart })),
      ).tracks.slice(1).length;
    expect([tracksOf([]), tracksOf(['techniques'])]).toEqual([1, 2]);
  });
});
