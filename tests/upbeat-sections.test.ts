import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { foldedScore } from '@/core/deliver/folded';
import type { Score } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { performScore } from '@/core/perform';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { transcribeNow } from '@/core/transcribe';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const TICKS = 480;
/** Keys of eighths and quarters from an upbeat on, over eight bars of four quarters, and a long last note. */
function section(seed: number): [length: number, key: number][] {
  const random = seeded(seed);
  const notes: [number, number][] = [[1, 70 + seed]];
  for (let at = 0; at < 28; ) {
    const length = at % 1 === 0.5 || random() < 0.5 ? 0.5 : 1;
    notes.push([length, 60 + Math.floor(random() * 12)]);
    at += length;
  }
  return [...notes, [3, 60]];
}

/** A tune in sections one after another, each with an upbeat, played so many milliseconds off at 120 to the minute. */
function tune(sections: readonly number[], loose: number, rests: number): Stroke[] {
  const random = seeded(7);
  let at = rests;
  return sections.flatMap((seed) =>
    section(seed).map(([length, key]): Stroke => {
      const off = () => Math.round(0.96 * loose * (2 * random() - 1));
      const from = Math.max(0, Math.round(at * TICKS) + off());
      at += length;
      return [from, Math.round((at - 0.06) * TICKS) + off(), key];
    }),
  );
}

/**
 * A tune with a bass that is silent under upbeats.
 * @param rests quarter notes of silence before it: none where it is told that the file begins with an upbeat
 */
function transcribed(sections: readonly number[], loose: number, rests = 0) {
  const melody = tune(sections, loose, rests);
  const bars = Math.round((melody.at(-1)![1] / TICKS - rests) / 4);
  const bass = Array.from({ length: 3 * bars }, (_, index): Stroke => {
    const at = (rests + 4 * Math.floor(index / 3) + 1 + (index % 3)) * TICKS;
    return [at, at + TICKS, 43 + 2 * (index % 3)];
  });
  const desk = deskOf(
    madeFile(madeTrack('Flute', 0, melody), madeTrack('Cello', 1, bass)),
    ...(rests === 0 ? [{ kind: 'clock' as const, upbeatQuarters: 1 }] : []),
    { kind: 'repeats', use: 'folded' },
  );
  return transcribeNow(desk.performance, desk.brief);
}

const soundOf = (score: Score) =>
  performScore(score)
    .parts.flatMap(({ notes }) => notes.map(({ on, key }) => `${on / QUARTER} ${key}`))
    .sort();

/** How each bar is bounded, by its length in quarter notes. */
const signsOf = ({ bars }: Score): string[] =>
  bars.flatMap(({ length, left, right }) => {
    const signs = `${left?.repeat ? '|:' : ''}${length / QUARTER}${right?.repeat ? ':|' : ''}`;
    return left?.repeat || right?.repeat || length !== 4 * QUARTER ? [signs] : [];
  });

describe('sections that begin with upbeats', () => {
  it('are folded from upbeat to upbeat, as tunes are printed', () => {
    const transcription = transcribed([1, 1, 2, 2], 0);
    const { score } = foldedScore(transcription)!;
    // An upbeat; eight bars, the last of three quarters; the upbeat of the second section; the same.
    expect(signsOf(score)).toEqual(['1', '3:|', '|:1', '3:|']);
    expect(score.bars.map(({ number }) => number)).toEqual([
      ...Array.from({ length: 9 }, (_, at) => at + score.bars[0]!.number),
      ...Array.from({ length: 9 }, (_, at) => at + 8 + score.bars[0]!.number),
    ]);
    expect(soundOf(score)).toEqual(soundOf(transcription.score));
  });

  it('are written as MusicXML that is valid, and reads as it sounds', () => {
    const { score } = foldedScore(transcribed([1, 1, 2, 2], 0))!;
    const text = writeMusicXml(score);
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(soundOf(readMusicXml(new TextEncoder().encode(text)).score)).toEqual(soundOf(score));
  });

  it('may have the first upbeat in a whole bar, the rests of which are not played again', () => {
    const transcription = transcribed([1, 1, 2, 2], 0, 3);
    const { score } = foldedScore(transcription)!;
    expect(signsOf(score)).toEqual(['3', '|:1', '3:|', '|:1', '3:|']);
    expect(soundOf(score)).toEqual(soundOf(transcription.score));
  });

  it('are found where they are played otherwise each time, and read alike', () => {
    const loose = transcribed([1, 1, 2, 2], 12);
    expect(signsOf(foldedScore(loose)!.score)).toEqual(['1', '3:|', '|:1', '3:|']);
    expect(soundOf(loose.score)).toEqual(soundOf(transcribed([1, 1, 2, 2], 0).score));
  });

  it('are none where sections differ, and sound as written whatever comes again (property)', () => {
    expect(transcribed([1, 2, 3], 0).folded).toEqual([]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 2, maxLength: 4 }), (sections) => {
        const transcription = transcribed(sections, 0);
        const folded = foldedScore(transcription);
        if (folded) expect(soundOf(folded.score)).toEqual(soundOf(transcription.score));
        else expect(sections.every((each, at) => each !== sections[at - 1])).toBe(true);
      }),
      { numRuns: 12 },
    );
  });
});
