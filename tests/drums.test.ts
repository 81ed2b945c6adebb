import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import type { Chord, Score } from '@/core/model/score';
import { performScore } from '@/core/perform';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const [KICK, SNARE, HAT] = [36, 38, 42];

/** Bars of eighths on the hi-hat, kick and snare in turns, and soft strokes of the snare between, where they are given. */
const groove = (bars: number, ghost: number | null): Stroke[] =>
  Array.from({ length: 8 * bars }, (_, at): Stroke[] => {
    const on = 240 * at;
    return [
      [on, on + 60, HAT, at % 2 === 0 ? 90 : 60],
      ...(at % 4 === 0 ? ([[on, on + 60, KICK, 100]] as Stroke[]) : []),
      ...(at % 4 === 2 ? ([[on, on + 60, SNARE, 100]] as Stroke[]) : []),
      ...(at % 4 === 3 && ghost !== null ? ([[on, on + 60, SNARE, ghost + (at % 3)]] as Stroke[]) : []),
    ];
  }).flat();
const read = (ghost: number | null, ...directives: PlainDirective[]) => {
  const desk = deskOf(madeFile(madeTrack('Drums', 9, groove(6, ghost))), ...directives);
  return transcribeNow(desk.performance, desk.brief);
};
const chordsOf = (score: Score): Chord[] =>
  score.parts[0]!.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? [item] : []))),
  );
const heads = (score: Score, key: number) =>
  chordsOf(score).flatMap(({ notes }) => notes.filter((note) => note.key === key));

describe('ghost notes', () => {
  const shown: PlainDirective = { kind: 'marks', what: 'ghosts', use: 'shown' };

  it('are offered where a drum is struck in two ways, and stand in parentheses where they are chosen', () => {
    const offered = read(32);
    const ghosts = offered.told!.offers[0]!.filter(({ kind }) => kind === 'ghosts');
    expect(ghosts).toHaveLength(12);
    expect(heads(offered.score, SNARE).some(({ ghost }) => ghost)).toBe(false);
    const { score } = read(32, shown);
    expect(heads(score, SNARE).filter(({ ghost }) => ghost)).toHaveLength(12);
    expect(heads(score, HAT).some(({ ghost }) => ghost)).toBe(false);
    const document = writeMusicXml(score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(document.match(/<notehead parentheses="yes">normal</g)).toHaveLength(12);
    const again = readMusicXml(new TextEncoder().encode(document));
    expect([...again.lost]).toEqual([]);
    expect(writeMusicXml(again.score)).toBe(document);
    const velocities = performScore(again.score)
      .parts[0]!.notes.filter(({ key }) => key === SNARE)
      .map(({ velocity }) => velocity);
    expect(new Set(velocities).size).toBe(2);
  });

  it('are none where strokes are even, or their loudness goes by degrees', () => {
    for (const ghost of [null, 92, 80])
      expect(read(ghost).told!.offers[0]!.filter(({ kind }) => kind === 'ghosts')).toEqual([]);
    // A soft passage is soft: its strokes stand among none that are full.
    const passages = Array.from(
      { length: 64 },
      (_, at): Stroke => [480 * at, 480 * at + 60, SNARE, at < 32 ? 95 : 40],
    );
    const quiet = deskOf(madeFile(madeTrack('Drums', 9, passages)));
    const offers = transcribeNow(quiet.performance, quiet.brief).told!.offers[0]!;
    expect(offers.filter(({ kind }) => kind === 'ghosts')).toEqual([]);
    const swell = Array.from({ length: 64 }, (_, at): Stroke => [240 * at, 240 * at + 60, SNARE, 30 + at]);
    const desk = deskOf(madeFile(madeTrack('Drums', 9, swell)));
    const { told } = transcribeNow(desk.performance, desk.brief);
    expect(told!.offers[0]!.filter(({ kind }) => kind === 'ghosts')).toEqual([]);
  });
});

describe('how drum sounds are written', () => {
  it('is as decided, for one strand or all: line, head, and voice', () => {
    const snare: PlainDirective = { kind: 'drum', key: SNARE, place: 'E5', head: 'cross', foot: true };
    const { score } = read(null, snare);
    expect(
      heads(score, SNARE).every(
        ({ pitch, head }) => pitch.step === 'E' && pitch.octave === 5 && head === 'cross',
      ),
    ).toBe(true);
    const voices = score.parts[0]!.bars[0]!.voices;
    const lower = voices.find(({ voice }) => voice === 2)!;
    expect(
      lower.items.some((item) => item.kind === 'chord' && item.notes.some(({ key }) => key === SNARE)),
    ).toBe(true);
    expect(heads(score, KICK)[0]!.pitch).toEqual(heads(read(null).score, KICK)[0]!.pitch);
    const document = writeMusicXml(score);
    expect(schemaFaults(parseXml(document))).toEqual([]);
    expect(readClosed(parseXml(document)).faults).toEqual([]);
    const back = read(null, snare, { ...snare, place: null } as PlainDirective);
    expect(back.score).toEqual(read(null).score);
  });

  it('whatever it is keeps bars and notes', () => {
    const choice = fc.record({
      kind: fc.constant('drum' as const),
      key: fc.constantFrom(KICK, SNARE, HAT),
      place: fc.constantFrom('E4', 'C5', 'G5', 'A3', null),
      head: fc.constantFrom('normal' as const, 'x' as const, 'circle-x' as const),
      foot: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(choice, { maxLength: 4 }), (choices) => {
        const { score } = read(40, ...choices);
        const root = parseXml(writeMusicXml(score));
        expect(schemaFaults(root)).toEqual([]);
        expect(readClosed(root).faults).toEqual([]);
        expect(heads(score, SNARE).filter(({ tieStop }) => !tieStop)).toHaveLength(24);
      }),
      { numRuns: 15 },
    );
  });
});

describe('a bass drum', () => {
  const steps = (...kicks: number[]) => {
    const strokes = kicks.map((key, at): Stroke => [at * 480, at * 480 + 60, key]);
    const { score } = transcribeNow(
      deskOf(madeFile(madeTrack('Drums', 9, strokes))).performance,
      EMPTY_BRIEF,
    );
    return chordsOf(score)
      .map(({ notes }) => `${notes[0]!.pitch.step}${notes[0]!.pitch.octave}`)
      .sort();
  };

  it('stands in the lowest space where it is the only one, and two stand apart (common practice)', () => {
    expect(steps(35, 38, 35, 38)).toEqual(['C5', 'C5', 'F4', 'F4']);
    expect(steps(35, 36, 35, 36)).toEqual(['E4', 'E4', 'F4', 'F4']);
  });
});
