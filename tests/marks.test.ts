import { beforeAll, describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import { HARMONY } from '@/core/demo/lantern-ferry';
import { untidyFile } from '@/core/demo/untidy';
import { performScore } from '@/core/perform';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import type { SmfEvent } from '@/core/sources/smf/events';
import { readSmf } from '@/core/sources/smf/read';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { layOutFile } from './helpers/desk';
import { briefOf, deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const read = (...directives: PlainDirective[]): Transcription => {
  const brief = briefOf(...directives);
  return transcribeNow(layOutFile(readSmf(untidyFile()), brief).performance, brief);
};

describe('marks that the playing shows', () => {
  let plain: Transcription;
  beforeAll(() => {
    plain = read();
  });

  it('are offered with what was heard, and none stands before it is chosen', () => {
    const offers = plain.told!.offers.flat();
    expect(new Set(offers.map(({ kind }) => kind))).toEqual(new Set(['dynamics', 'hairpins', 'chords']));
    expect(offers.some(({ shown }) => shown)).toBe(false);
    const xml = writeMusicXml(plain.score);
    expect(xml).not.toMatch(/<dynamics>|<wedge |<accent\/>/);
  });

  it('spell the chords that the piece is made of, bar by bar', () => {
    const offers = plain.told!.offers.flat().filter(({ kind }) => kind === 'chords');
    const heard = plain.score.bars
      .slice(1)
      .map(({ start }) => offers.find(({ from, to }) => from <= start && (to ?? 0) > start)?.mark);
    const right = HARMONY.filter((chord, bar) => heard[bar] === chord);
    expect(right.length).toBeGreaterThanOrEqual(0.95 * HARMONY.length);
  });

  it('chords stand over one part that reads at concert pitch, in a valid score', () => {
    const { score } = read({ kind: 'marks', what: 'chords', use: 'shown' });
    const withChords = score.parts.filter(({ bars }) =>
      bars.some(({ marks }) => marks?.some(({ kind }) => kind === 'chord-symbol')),
    );
    expect(withChords).toHaveLength(1);
    expect(withChords[0]!.transposition.chromatic % 12).toBe(0);
    const xml = writeMusicXml(score);
    expect(schemaFaults(parseXml(xml))).toEqual([]);
    expect(xml.match(/<harmony[ >]/g)!.length).toBeGreaterThan(40);
  });

  it('stand where they are chosen, in a valid score in which nothing else has changed', () => {
    const chosen = read(
      { kind: 'marks', what: 'dynamics', use: 'shown' },
      { kind: 'marks', what: 'hairpins', use: 'shown' },
      { kind: 'marks', what: 'accents', use: 'shown' },
    );
    const xml = writeMusicXml(chosen.score);
    for (const each of ['<dynamics>', '<wedge ']) expect(xml).toContain(each);
    expect(schemaFaults(parseXml(xml))).toEqual([]);
    expect(chosen.account).toEqual(plain.account);
    const left = read(
      { kind: 'marks', what: 'dynamics', use: 'shown' },
      { kind: 'marks', what: 'dynamics', use: 'left' },
    );
    expect(writeMusicXml(left.score)).toBe(writeMusicXml(plain.score));
  });

  it('are chosen for one part, and one by one', () => {
    const flute = plain.plans.findIndex(({ name }) => name === 'Flute 1');
    const { leader } = plain.plans[flute]!;
    const dynamics = (transcription: Transcription) =>
      transcription.score.parts.map(({ bars }) =>
        bars.flatMap(({ marks }) => (marks ?? []).filter(({ kind }) => kind === 'dynamic')),
      );
    const offered = plain.told!.offers[flute]!.filter(({ kind }) => kind === 'dynamics');
    const own = dynamics(read({ kind: 'marks', what: 'dynamics', use: 'shown', strand: leader }));
    expect(own[flute]).toHaveLength(offered.length);
    expect(own.flat()).toHaveLength(offered.length);
    const one = dynamics(
      read({ kind: 'marks', what: 'dynamics', use: 'shown', strand: leader, from: 0, to: 1000 }),
    );
    expect(one.flat()).toHaveLength(1);
  });

  it('that are read with the notes, slurs and staccato, can be left out', () => {
    const without = writeMusicXml(
      read({ kind: 'marks', what: 'slurs', use: 'left' }, { kind: 'marks', what: 'staccato', use: 'left' })
        .score,
    );
    const before = writeMusicXml(plain.score);
    expect(before).toContain('<slur ');
    expect(without).not.toMatch(/<slur |<staccato\/>/);
    expect(without.match(/<note/g)).toEqual(before.match(/<note/g));
  });
});

describe('what hand and foot show', () => {
  it('are pedal lines and rolled chords, where they are chosen', () => {
    const pedal = (tick: number, value: number): SmfEvent => ({
      kind: 'control',
      tick,
      channel: 0,
      controller: 64,
      value,
    });
    const strokes = Array.from({ length: 16 }, (_, at): Stroke[] =>
      [48, 55, 60, 64].map(
        (key, note): Stroke => [480 * at + (at % 4 === 0 ? 24 * note : 0), 480 * (at + 1) - 10, key],
      ),
    ).flat();
    const moves = [0, 4, 8, 12].flatMap((at) => [pedal(480 * at + 60, 127), pedal(480 * (at + 4) - 20, 0)]);
    const file = madeFile(madeTrack('Piano', 0, strokes, moves));
    const of = (...directives: PlainDirective[]) => {
      const desk = deskOf(file, ...directives);
      return writeMusicXml(transcribeNow(desk.performance, desk.brief).score);
    };
    expect(of()).not.toMatch(/<pedal|<arpeggiate/);
    const chosen = of(
      { kind: 'marks', what: 'pedal', use: 'shown' },
      { kind: 'marks', what: 'arpeggios', use: 'shown' },
    );
    expect(schemaFaults(parseXml(chosen))).toEqual([]);
    expect(chosen.match(/<pedal type="start"/g)).toHaveLength(4);
    expect(chosen.match(/<pedal type="stop"/g)).toHaveLength(4);
    expect(chosen).toContain('<arpeggiate');
  });
});

describe('a note struck as fast as 32nds', () => {
  const roll = Array.from({ length: 32 }, (_, at): Stroke => [480 + 60 * at, 480 + 60 * at + 50, 71]);
  const file = madeFile(
    madeTrack('Viola', 0, [[0, 470, 67], ...roll, [480 * 5, 480 * 6, 67], [480 * 6, 480 * 8, 65]]),
  );
  const of = (...directives: PlainDirective[]) => {
    const desk = deskOf(file, ...directives);
    return transcribeNow(desk.performance, desk.brief);
  };
  const shown: PlainDirective = { kind: 'marks', what: 'tremolos', use: 'shown' };

  it('is offered as a tremolo, and written out until it is chosen', () => {
    const { told, score } = of();
    const [offer] = told!.offers[0]!.filter(({ kind }) => kind === 'tremolos');
    expect(offer).toMatchObject({ mark: '32nds', heard: [32], shown: false });
    expect(writeMusicXml(score)).not.toContain('<tremolo');
  });

  it('is one note with three strokes, which plays as it was played', () => {
    const { score, account, readings } = of(shown);
    const xml = writeMusicXml(score);
    expect(schemaFaults(parseXml(xml))).toEqual([]);
    expect(readClosed(parseXml(xml)).faults).toEqual([]);
    const chords = score.parts[0]!.bars.flatMap(({ voices }) =>
      voices.flatMap(({ items }) => items.filter((item) => item.kind === 'chord')),
    );
    // A quarter; a quarter, a half and one more over the bar line, all with strokes; a quarter and a half.
    expect(chords).toHaveLength(6);
    expect(chords.map(({ marks }) => marks)).toEqual([
      undefined,
      ...Array(3).fill([{ kind: 'tremolo', strokes: 3 }]),
      undefined,
      undefined,
    ]);
    expect(account).toMatchObject({ written: 4, merged: 0, marks: 31, leftOut: 0 });
    // Each stroke is still known at its own place.
    const starts = new Set([...readings[0]!.notes.values()].map(({ start }) => start));
    expect(starts.size).toBe(35);
    // A score of it plays 32 strokes.
    const { score: back } = readMusicXml(new TextEncoder().encode(xml));
    const [part] = performScore(back).parts;
    expect(part!.notes.filter(({ key }) => key === 71)).toHaveLength(32);
  });

  it('is none where it is a figure of a few', () => {
    const few = Array.from({ length: 4 }, (_, at): Stroke => [60 * at, 60 * at + 50, 71]);
    const desk = deskOf(madeFile(madeTrack('Viola', 0, [...few, [480, 960, 67]])));
    const { told } = transcribeNow(desk.performance, desk.brief);
    expect(told!.offers[0]!.filter(({ kind }) => kind === 'tremolos')).toEqual([]);
  });
});
