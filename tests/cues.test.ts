import { describe, expect, it } from 'vitest';
import { deliverParts } from '@/core/deliver/parts';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { onPaper } from '@/core/engrave/pages';
import { diatonicHeight, pitchKey } from '@/core/model/pitch';
import type { Chord, Score } from '@/core/model/score';
import { cuesFor, withCues } from '@/core/notate/cues';
import { soundedNotes } from '@/core/perform/play';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { transcribeNow } from '@/core/transcribe';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const BAR = 1920;
const quarters = (from: number, to: number, keys: readonly number[]): Stroke[] =>
  Array.from({ length: 4 * (to - from) }, (_, at): Stroke => {
    const on = from * BAR + at * 480;
    return [on, on + 470, keys[at % keys.length]!];
  });

/** A violin plays on; others come in at bar 11 after ten bars of rest, one at bar 5 after four. */
const desk = deskOf(
  madeFile(
    madeTrack('Violin', 0, quarters(0, 14, [76, 78, 81, 79])),
    madeTrack('Clarinet in Bb', 1, quarters(10, 14, [60, 62, 64, 65])),
    madeTrack('Double Bass', 2, quarters(10, 14, [36, 38])),
    madeTrack('Viola', 3, quarters(4, 14, [60, 64])),
    madeTrack('Drum Set', 9, quarters(10, 14, [36, 38])),
  ),
);
const transcription = transcribeNow(desk.performance, desk.brief);
const { score } = transcription;
const partOf = (name: RegExp) => score.parts.find((part) => name.test(part.name))!;

const cueChords = (part: Score['parts'][number], bar: number): Chord[] =>
  part.bars[bar]!.voices.flatMap(({ items }) =>
    items.flatMap((item) => (item.kind === 'chord' && item.cue ? [item] : [])),
  );

describe('cues', () => {
  it('stand before entries after eight bars of rest and more (common practice), and nowhere else', () => {
    const violin = score.parts.indexOf(partOf(/Violin/));
    expect(cuesFor(score, partOf(/Clarinet/))).toEqual([{ from: 8, to: 10, of: violin }]);
    expect(cuesFor(score, partOf(/Viola/))).toEqual([]);
    expect(cuesFor(score, partOf(/Violin/))).toEqual([]);
  });

  it('are in the reader’s transposition and clef, at an octave that lies about the staff, and say whose they are', () => {
    const clarinet = withCues(score, partOf(/Clarinet/));
    const [first] = cueChords(clarinet, 8);
    // E5 of the violin is F sharp 5 for the clarinet in B flat.
    expect(first!.notes[0]!.pitch).toMatchObject({ step: 'F', alter: 1, octave: 5 });
    expect(clarinet.bars[8]!.marks?.some((mark) => mark.kind === 'words' && mark.text === 'Vln.')).toBe(true);
    const bass = withCues(score, partOf(/bass/i));
    for (const { notes } of [...cueChords(bass, 8), ...cueChords(bass, 9)]) {
      expect(diatonicHeight(notes[0]!.pitch)).toBeGreaterThanOrEqual(18 - 6);
      expect(diatonicHeight(notes[0]!.pitch)).toBeLessThanOrEqual(26 + 6);
      expect(pitchKey(notes[0]!.pitch) % 12).toBe(notes[0]!.key % 12);
    }
    expect(
      bass.bars[8]!.marks?.some((mark) => mark.kind === 'words' && /8va|15ma|22ma/.test(mark.text)),
    ).toBe(true);
  });

  it('shorten the rest before them, are valid, and do not sound', () => {
    const id = partOf(/Clarinet/).id;
    const plain = onPaper(score, new Set([id]));
    const cued = onPaper(score, new Set([id]), { cues: true });
    expect(plain.multiRests).toEqual([{ from: 0, to: 10 }]);
    expect(cued.multiRests).toEqual([{ from: 0, to: 8 }]);
    const text = writeMusicXml(cued);
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(text.match(/<cue\s*\/>/g)).toHaveLength(8);
    const again = readMusicXml(new TextEncoder().encode(text));
    expect(soundedNotes(again.score, again.score.parts[0]!).map(({ key }) => key)).toEqual(
      soundedNotes(score, partOf(/Clarinet/)).map(({ key }) => key),
    );
  });

  it('are in parts that are handed over where they are wanted, and never in the score', () => {
    const wanted = deskOf(madeFile(madeTrack('Violin', 0, quarters(0, 14, [76]))), {
      kind: 'score-form',
      pitch: 'written',
      layout: 'kept',
      cues: true,
    });
    const read = (at: typeof desk) =>
      deliverParts(at, score, 'musicxml').map(({ bytes }) =>
        new TextDecoder().decode(bytes).includes('<cue'),
      );
    expect(read({ ...desk, decisions: wanted.decisions })).toEqual(
      score.parts.map(({ name }) => /Clarinet|bass/i.test(name)),
    );
    expect(read(desk).some(Boolean)).toBe(false);
  });

  it('in the demo fill their bars, with ids of their own', () => {
    const demo = lanternFerry();
    let count = 0;
    for (const part of demo.parts) {
      const cued = withCues(demo, part);
      const ids = cued.bars.flatMap(({ voices }) =>
        voices.flatMap(({ items }) =>
          items.flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ id }) => id) : [])),
        ),
      );
      expect(new Set(ids).size).toBe(ids.length);
      cued.bars.forEach(({ voices }, bar) => {
        for (const { items } of voices)
          expect(items.reduce((sum, { duration }) => sum + duration, 0)).toBe(demo.bars[bar]!.length);
        count += cueChords(cued, bar).length;
      });
    }
    expect(count).toBeGreaterThan(10);
  });
});
