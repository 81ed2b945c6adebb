import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BadBriefError, parseBrief } from '@/core/decisions/brief';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverMidi } from '@/core/deliver';
import { addedNoteId, type EventId, type StrandId } from '@/core/model/ids';
import { pitchName } from '@/core/model/pitch';
import type { Note } from '@/core/model/score';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { briefOf, deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

/** Two bars of quarter notes up a scale of C, twice over. */
const SCALE = [60, 62, 64, 65, 67, 69, 71, 72];
const strokes = [...SCALE, ...SCALE].map((key, at): Stroke => [480 * at, 480 * at + 470, key]);
const file = () => madeFile(madeTrack('Flute', 0, strokes));

const read = (...directives: PlainDirective[]) => {
  const desk = deskOf(file(), ...directives);
  const { score } = transcribeNow(desk.performance, desk.brief);
  const notes = score.parts[0]!.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) => items.flatMap((item): Note[] => (item.kind === 'chord' ? item.notes : []))),
  );
  return { desk, score, names: notes.map(({ pitch }) => pitchName(pitch)) };
};
const plain = read();
const idOf = (at: number): EventId => plain.desk.performance.strands[0]!.notes[at]!.id;
const move = (at: number, steps: number, semitones: number): PlainDirective => ({
  kind: 'pitch',
  note: idOf(at),
  steps,
  semitones,
});

/** An E with the first note. */
const thirdOn = (strand: StrandId) => ({
  kind: 'add' as const,
  note: addedNoteId(strand, []),
  strand,
  on: 0,
  off: 470,
  key: 64,
  velocity: 70,
});

describe('a note of a performance', () => {
  it('is moved on the page and in what sounds', () => {
    const { desk, names } = read(move(2, 1, 1));
    expect(names.slice(0, 4)).toEqual(['C4', 'D4', 'F4', 'F4']);
    expect(desk.performance.strands[0]!.notes[2]!.key).toBe(65);
    expect(desk.changes).toContainEqual(expect.objectContaining({ step: 'pitch', before: 0, after: 1 }));
  });

  it('keeps its letter where it is raised, and its sound where it is spelled otherwise', () => {
    expect(read(move(1, 0, 1)).names[1]).toBe('D♯4');
    expect(read(move(1, 1, 1)).names[1]).toBe('E♭4');
    const { desk, names } = read(move(3, -1, 0));
    expect(names[3]).toBe('E♯4');
    expect(desk.performance.strands[0]!.notes[3]!.key).toBe(65);
  });

  it('is left out, and the bar is filled by a rest', () => {
    const { desk, score, names } = read({ kind: 'drop', note: idOf(5), out: true });
    expect(names).toHaveLength(15);
    expect(desk.gone.size).toBe(1);
    expect(readClosed(parseXml(writeMusicXml(score))).faults).toEqual([]);
    expect(
      read({ kind: 'drop', note: idOf(5), out: true }, { kind: 'drop', note: idOf(5), out: false }).names,
    ).toEqual(plain.names);
  });

  it('stays where MIDI has no key for it, and one that is gone is told', () => {
    const high = deskOf(madeFile(madeTrack('Flute', 0, [[0, 470, 100]])), move(0, 28, 48));
    expect(high.performance.strands[0]!.notes[0]!.key).toBe(100);
    expect(high.refusals).toEqual([
      { step: 'pitch', why: 'A note stays where it is: there are no such keys in MIDI.' },
    ]);
    const gone = read({ kind: 'drop', note: `${idOf(0).replace(/\d+$/, '999')}` as EventId, out: true });
    expect(gone.desk.refusals).toEqual([
      { step: 'note', why: 'What was decided about a note waits: it is not in this source.' },
    ]);
    expect(gone.names).toEqual(plain.names);
  });

  it('is added: to a chord, after another, to another part; it sounds, is counted, goes out and can be taken out', () => {
    const strand = plain.desk.performance.strands[0]!.id;
    const third = thirdOn(strand);
    const { desk, score, names } = read(third);
    expect(names.slice(0, 3)).toEqual(['C4', 'E4', 'D4']);
    expect([desk.added, desk.gone.size]).toEqual([1, 0]);
    expect(desk.performance.strands[0]!.notes).toHaveLength(17);
    const { account } = transcribeNow(desk.performance, desk.brief);
    expect(unaccounted(account)).toBe(0);
    expect(account.notes).toBe(17);
    expect(schemaFaults(parseXml(writeMusicXml(score)))).toEqual([]);
    const smf = readSmf(deliverMidi(desk, { ...desk.decisions.handOver, form: 'plain' }, null));
    const struck = smf.tracks.flatMap(({ events }) => events.filter(({ kind }) => kind === 'noteOn'));
    expect(struck).toHaveLength(17);
    // It is moved and left out as any other.
    const moved = read(third, { kind: 'pitch', note: third.note, steps: 1, semitones: 1 });
    expect(moved.names[1]).toBe('F4');
    const out = read(third, { kind: 'drop', note: third.note, out: true });
    expect(out.names).toEqual(plain.names);
    expect(out.desk.refusals).toEqual([]);
  });

  it('that was added to a strand that is not there waits, and is told; ids of others are refused', () => {
    const strand = '1/t9c9' as StrandId;
    const lost = thirdOn(strand);
    const { desk, names } = read(lost);
    expect(names).toEqual(plain.names);
    expect(desk.refusals.map(({ why }) => why)).toContain(
      'A note that was added waits: its strand is not there.',
    );
    const check = (directive: object) => () => parseBrief({ ...briefOf(), directives: [directive] });
    expect(check({ ...lost, note: idOf(0) })).toThrow(BadBriefError);
    expect(check({ ...lost, off: 0 })).toThrow(BadBriefError);
    expect(addedNoteId(strand, [lost.note])).not.toBe(lost.note);
  });

  it('can be edited in any way: bars add up, the score is valid, and all taken back is as before', () => {
    const edit = fc.oneof(
      fc.record({
        kind: fc.constant('pitch' as const),
        note: fc.integer({ min: 0, max: 15 }).map(idOf),
        steps: fc.integer({ min: -28, max: 28 }),
        semitones: fc.integer({ min: -48, max: 48 }),
      }),
      fc.record({
        kind: fc.constant('drop' as const),
        note: fc.integer({ min: 0, max: 15 }).map(idOf),
        out: fc.boolean(),
      }),
      fc
        .record({
          number: fc.nat(3),
          on: fc.nat(6000),
          length: fc.integer({ min: 30, max: 2000 }),
          key: fc.nat(127),
        })
        .map(({ number, on, length, key }) => {
          const strand = plain.desk.performance.strands[0]!.id;
          const note = `${strand}/${9_000_000 + number}` as EventId;
          return { kind: 'add' as const, note, strand, on, off: on + length, key, velocity: 80 };
        }),
    );
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
        const root = parseXml(writeMusicXml(read(...edits).score));
        expect(schemaFaults(root)).toEqual([]);
        expect(readClosed(root).faults).toEqual([]);
        const back = edits.map(
          (each): PlainDirective =>
            each.kind === 'drop'
              ? { ...each, out: false }
              : each.kind === 'add'
                ? { kind: 'drop', note: each.note, out: true }
                : { ...each, steps: 0, semitones: 0 },
        );
        expect(read(...edits, ...back).names).toEqual(plain.names);
      }),
      { numRuns: 40 },
    );
  });

  it('of a part that transposes is moved as it is read', () => {
    const clarinet = deskOf(madeFile(madeTrack('Clarinet in Bb', 0, strokes)), move(2, 1, 1));
    const { score } = transcribeNow(clarinet.performance, briefOf(move(2, 1, 1)));
    const third = score.parts[0]!.bars[0]!.voices[0]!.items[2]!;
    expect(third.kind === 'chord' && pitchName(third.notes[0]!.pitch)).toBe('G4');
  });
});
