import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { type Copied, likePassages } from '@/core/edit/like-passages';
import type { EventId, StrandId } from '@/core/model/ids';
import type { Chord, Part } from '@/core/model/score';
import { QUARTER } from '@/core/model/time';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { decideNotes, type NotesEdit, notesBetween } from '@/core/workbench/note-edits';
import { originsOf } from '@/core/workbench/origin';
import { Workbench, type Written } from '@/core/workbench/workbench';
import { readClosed } from './helpers/closure';
import { briefOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

/** A bar of a rhythm, from a tick on: onsets and lengths in 480ths of a quarter. */
const RHYTHM = [
  [0, 720],
  [720, 240],
  [960, 480],
  [1440, 480],
] as const;
const bar = (at: number, keys: readonly number[], late = 0): Stroke[] =>
  RHYTHM.map(([on, length], index) => [
    1920 * at + on + late,
    1920 * at + on + length - 8 + late,
    keys[index]!,
  ]);
const EVEN = (at: number): Stroke[] =>
  [0, 1, 2, 3].map((beat) => [1920 * at + 480 * beat, 1920 * at + 480 * beat + 470, 60 + beat]);

/** The same bar, moved, in other notes, another rhythm, and again; a second part has it too. */
const strokes = [
  ...bar(0, [60, 62, 64, 65]),
  ...bar(1, [67, 69, 71, 72]),
  ...bar(2, [72, 60, 67, 64]),
  ...EVEN(3),
  ...bar(4, [60, 62, 64, 65]),
];
const bytes = writeSmf(
  madeFile(madeTrack('Flute', 0, strokes), madeTrack('Oboe', 1, bar(5, [60, 62, 64, 65]))),
);
const bench = new Workbench([{ id: '1', version: 1, name: 'made.mid', bytes }]);

let revision = 0;
function read(...directives: PlainDirective[]): Written {
  bench.layOut(++revision, briefOf(...directives));
  return finished(bench.write(revision));
}
const plain = read();
const notesOf = ({ desk }: Written, strand = 0) => desk.performance.strands[strand]!.notes;
const idOf = (at: number): EventId => notesOf(plain)[at]!.id;
const model = [0, 1, 2, 3].map(idOf);
const chords = (part: Part): Chord[] =>
  part.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? [item] : []))),
  );
const sound = ({ transcription: { score, account } }: Written) => {
  const root = parseXml(writeMusicXml(score));
  expect(schemaFaults(root)).toEqual([]);
  expect(readClosed(root).faults).toEqual([]);
  expect(unaccounted(account)).toBe(0);
};

const SIGNS: PlainDirective[] = [
  { kind: 'sign', note: idOf(0), sign: 'accent', put: true },
  { kind: 'sign', note: idOf(0), sign: 'slur', put: true, until: idOf(3) },
  { kind: 'sign', note: idOf(0), sign: 'dynamic', put: true, text: 'p' },
  { kind: 'sign', note: idOf(1), sign: 'crescendo', put: true, until: idOf(3) },
];
const like = (what: Copied[], ...directives: PlainDirective[]) =>
  likePassages(read(...directives).transcription, model, new Set(what));

describe('passages like one', () => {
  it('are the same, moved or in the same rhythm, in any part, and other rhythms are none', () => {
    const found = like(['slurs'], ...SIGNS);
    expect(found.map(({ part, bar: at, likeness, likely }) => [part, at, likeness, likely])).toEqual([
      [0, 4, 'same', true],
      [1, 5, 'same', true],
      [0, 1, 'moved', true],
      [0, 2, 'rhythm', true],
    ]);
    expect(likePassages(plain.transcription, [idOf(0)], new Set(['slurs']))).toEqual([]);
  });

  it('are given what the model has: signs, slurs, dynamics and hairpins, each where it belongs', () => {
    const found = like(['articulation', 'slurs', 'dynamics'], ...SIGNS);
    const all = read(...SIGNS, ...found.flatMap(({ directives }) => directives));
    sound(all);
    const [flute, oboe] = all.transcription.score.parts;
    expect(flute!.spanners!.filter(({ kind }) => kind === 'slur')).toHaveLength(4);
    expect(flute!.spanners!.filter(({ kind }) => kind === 'wedge')).toHaveLength(4);
    expect(
      chords(flute!).filter(({ marks }) => marks?.some((mark) => 'name' in mark && mark.name === 'accent')),
    ).toHaveLength(4);
    expect(flute!.bars.filter(({ marks }) => marks?.some(({ kind }) => kind === 'dynamic'))).toHaveLength(4);
    expect(oboe!.spanners!.filter(({ kind }) => kind === 'slur')).toHaveLength(1);
    // Once they have it there is nothing to change.
    expect(
      likePassages(all.transcription, model, new Set(['articulation', 'slurs', 'dynamics'])).flatMap(
        ({ directives }) => directives,
      ),
    ).toEqual([]);
  });

  it('lose what the model has not', () => {
    const other: PlainDirective = { kind: 'sign', note: idOf(4), sign: 'tenuto', put: true };
    const [moved] = like(['articulation'], other).filter(({ bar: at }) => at === 1);
    expect(moved!.directives).toEqual([{ kind: 'sign', note: idOf(4), sign: 'tenuto', put: false }]);
    expect(like(['slurs'], other).flatMap(({ directives }) => directives)).toEqual([]);
  });

  it('can be given its rhythm, where the same line is played otherwise', () => {
    const uneven = [
      ...bar(0, [60, 62, 64, 65]),
      ...[0, 480, 960, 1440].map((on, at): Stroke => [1920 + on, 1920 + on + 470, 67 + [0, 2, 4, 5][at]!]),
    ];
    const own = new Workbench([
      { id: '1', version: 1, name: 'x.mid', bytes: writeSmf(madeFile(madeTrack('Flute', 0, uneven))) },
    ]);
    own.layOut(1, briefOf());
    const before = finished(own.write(1));
    const notes = notesOf(before)
      .slice(0, 4)
      .map(({ id }) => id);
    const [found] = likePassages(before.transcription, notes, new Set(['rhythm']));
    own.layOut(2, briefOf(...found!.directives));
    const after = finished(own.write(2));
    sound(after);
    const onsets = after.transcription.score.parts[0]!.bars[1]!.voices[0]!.items.map(
      ({ onset }) => onset / QUARTER,
    );
    expect(onsets).toEqual([0, 1.5, 2, 3]);
  });
});

const edited = (wanted: NotesEdit, notes: readonly EventId[] = model, from = plain): Written =>
  read(...withDirectives(from.desk.brief, decideNotes(from, notes, wanted)).directives);

describe('notes that are edited in both readings', () => {
  it('move and last longer on the page and in what sounds, keeping how late they are', () => {
    const later = edited({ edit: 'arrange', arrangement: 'later', both: true }, [idOf(3)]);
    sound(later);
    expect(notesOf(later)[3]).toMatchObject({ on: 1560, off: 2032 });
    const page = edited({ edit: 'arrange', arrangement: 'later', both: false }, [idOf(3)]);
    expect(notesOf(page)[3]).toEqual(notesOf(plain)[3]);
    const longer = edited({ edit: 'arrange', arrangement: 'longer', both: true }, [idOf(1)]);
    expect(notesOf(longer)[1]!.off).toBe(notesOf(plain)[1]!.off + 120);
    const back = edited({ edit: 'arrange', arrangement: 'as-found', both: true }, [idOf(1)], longer);
    expect(notesOf(back)).toEqual(notesOf(plain));
    expect(back.transcription.score).toEqual(plain.transcription.score);
  });

  it('sound softer, louder, earlier or shorter alone, and what was said before stays', () => {
    const loud = edited({ edit: 'velocity', to: 100 });
    expect(
      notesOf(loud)
        .slice(0, 5)
        .map(({ velocity }) => velocity),
    ).toEqual([100, 100, 100, 100, 80]);
    const nudged = edited({ edit: 'nudge', on: 20, off: 0 }, [idOf(1)], loud);
    expect(notesOf(nudged)[1]).toMatchObject({ on: 739, off: 952, velocity: 100 });
    expect(nudged.transcription.score.parts[0]!.bars[0]).toEqual(loud.transcription.score.parts[0]!.bars[0]);
    expect(edited({ edit: 'velocity', by: -200 }).desk.performance.strands[0]!.notes[0]!.velocity).toBe(1);
  });

  it('are tied to the next of their key, and struck again where they are tied', () => {
    const same = writeSmf(
      madeFile(
        madeTrack('Flute', 0, [
          [0, 470, 60],
          [480, 950, 60],
          [960, 1430, 62],
          [1440, 2390, 64],
        ]),
      ),
    );
    const own = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes: same }]);
    own.layOut(1, briefOf());
    const before = finished(own.write(1));
    const ids = notesOf(before).map(({ id }) => id);
    const brief = briefOf(
      ...decideNotes(before, [ids[0]!], { edit: 'join' }),
      ...decideNotes(before, [ids[3]!], { edit: 'strike-again' }),
    );
    own.layOut(2, brief);
    const after = finished(own.write(2));
    sound(after);
    expect(notesOf(after).map(({ on, off, key }) => [on, off, key])).toEqual([
      [0, 950, 60],
      [960, 1430, 62],
      [1440, 1920, 64],
      [1920, 2390, 64],
    ]);
    const heads = chords(after.transcription.score.parts[0]!);
    expect(heads.map(({ duration, notes }) => [duration / QUARTER, notes[0]!.tieStart ?? false])).toEqual([
      [2, false],
      [1, false],
      [1, false],
      [1, false],
    ]);
  });

  it('are copied to another part and bar, also in the place of what stands there', () => {
    const oboe = plain.desk.performance.strands[1]!.id as StrandId;
    const copied = edited({ edit: 'copy', to: oboe, later: 1920, instead: false });
    sound(copied);
    expect(notesOf(copied, 1)).toHaveLength(8);
    expect(
      notesOf(copied, 1)
        .slice(0, 4)
        .map(({ on, key }) => [on, key]),
    ).toEqual(
      notesOf(plain)
        .slice(0, 4)
        .map(({ on, key }) => [on + 1920, key]),
    );
    const instead = edited({ edit: 'copy', to: oboe, later: 5 * 1920, instead: true });
    expect(notesOf(instead, 1)).toHaveLength(4);
    // Past the end the piece is longer.
    const past = edited({ edit: 'copy', later: 8 * 1920, instead: false });
    sound(past);
    expect(past.transcription.score.bars).toHaveLength(9);
  });

  it('are those between two, on their staff or in all parts between', () => {
    expect(notesBetween(plain, idOf(2), idOf(6))).toEqual([2, 3, 4, 5, 6].map(idOf));
    expect(notesBetween(plain, idOf(6), idOf(2))).toEqual([2, 3, 4, 5, 6].map(idOf));
    expect(notesBetween(plain, idOf(0), notesOf(plain, 1)[3]!.id)).toHaveLength(24);
    expect(notesBetween(plain, idOf(0), '1/t9c1/1')).toEqual([]);
  });

  it('are told with their signs, their voice, and the chord and scale that they stand in', () => {
    const signed = read(...SIGNS);
    const { told } = transcribeNow(signed.desk.performance, signed.desk.brief);
    const [first, ...others] = originsOf(signed, [idOf(0)], told);
    expect(others).toEqual([]);
    expect(first).toMatchObject({
      line: { voice: 1, staff: 1, staves: 1 },
      signs: ['accent', 'dynamic', 'slur'],
    });
    expect(first!.harmony!.key.tones.map(({ step }) => step)).toEqual(['C', 'D', 'E', 'F', 'G', 'A', 'B']);
    expect(originsOf(signed, [idOf(1), '1/t9c1/1', idOf(0)], null).map(({ id }) => id)).toEqual([
      idOf(1),
      idOf(0),
    ]);
  });
});
