import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BadBriefError, parseBrief } from '@/core/decisions/brief';
import { wordsOf } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { findNotes } from '@/core/edit/select';
import type { EventId } from '@/core/model/ids';
import type { Chord, Part } from '@/core/model/score';
import { DYNAMIC_SIGNS, isSpanning, isWorded, SIGNS, type Sign } from '@/core/model/signs';
import { QUARTER } from '@/core/model/time';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { readClosed } from './helpers/closure';
import { briefOf, deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

/** Four bars of eighths and a tied note: a G of the last bar's third quarter lasts into a fifth. */
const eighths = Array.from(
  { length: 30 },
  (_, at): Stroke => [240 * at, 240 * at + 236, 60 + ((at * 5) % 13)],
);
const strokes: Stroke[] = [...eighths, [7200, 8636, 67]];
const file = () =>
  madeFile(
    madeTrack('Flute', 0, strokes),
    madeTrack('Piano', 1, [...strokes, ...strokes.map(([on, off, key]): Stroke => [on, off, key - 24])]),
  );

const read = (...directives: PlainDirective[]): Transcription => {
  const desk = deskOf(file(), ...directives);
  return transcribeNow(desk.performance, desk.brief);
};
const plain = read();
const strand = deskOf(file()).performance.strands[0]!;
const idOf = (at: number): EventId => strand.notes[at]!.id;
const put = (sign: Sign, at: number, more: { until?: number; text?: string; put?: boolean | null } = {}) =>
  ({
    kind: 'sign',
    note: idOf(at),
    sign,
    put: more.put === undefined ? true : more.put,
    ...(more.until !== undefined && { until: idOf(more.until) }),
    ...(more.text !== undefined && { text: more.text }),
  }) as PlainDirective;

const flute = ({ score }: Transcription): Part => score.parts[0]!;
const chords = (part: Part): Chord[] =>
  part.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? [item] : []))),
  );
const headsOf = (part: Part, at: number) =>
  chords(part).filter(({ notes }) => notes[0]!.sources.includes(idOf(at)));
const xmlOf = ({ score }: Transcription) => writeMusicXml(score);

describe('a sign at a note', () => {
  it('stands at its chord and nowhere else, and goes out', () => {
    const signed = read(put('tenuto', 3), put('mordent', 4), put('up-bow', 5), put('scoop', 6));
    expect(headsOf(flute(signed), 3)[0]!.marks).toEqual([{ kind: 'articulation', name: 'tenuto' }]);
    expect(headsOf(flute(signed), 4)[0]!.marks).toEqual([{ kind: 'ornament', name: 'mordent' }]);
    const marked = chords(flute(signed)).filter(({ marks = [] }) => marks.length > 0);
    expect(marked).toHaveLength(4);
    const xml = xmlOf(signed);
    for (const name of ['tenuto', 'mordent', 'up-bow', 'scoop'])
      expect(xml.match(new RegExp(`<${name}`, 'g'))).toHaveLength(1);
  });

  it('is put once, taken off, and found as before when the decision is taken back', () => {
    const twice = read(put('accent', 3), put('accent', 3));
    expect(headsOf(flute(twice), 3)[0]!.marks).toHaveLength(1);
    expect(flute(read(put('accent', 3), put('accent', 3, { put: false })))).toEqual(flute(plain));
    expect(flute(read(put('accent', 3), put('accent', 3, { put: null })))).toEqual(flute(plain));
  });

  it('stands at the first of tied heads; a fermata and a breath at the last (common practice)', () => {
    const signed = read(put('tenuto', 30), put('fermata', 30), put('breath', 30));
    const heads = headsOf(flute(signed), 30);
    expect(heads.length).toBeGreaterThan(1);
    expect(heads[0]!.marks).toEqual([{ kind: 'articulation', name: 'tenuto' }]);
    expect(heads.at(-1)!.marks).toEqual([{ kind: 'fermata', shape: 'normal' }, { kind: 'breath' }]);
  });

  it('can be a dynamic, a text or a syllable, one of each at a place', () => {
    const signed = read(
      put('dynamic', 8, { text: 'p' }),
      put('dynamic', 8, { text: 'sfz' }),
      put('words', 8, { text: 'dolce' }),
      put('lyric', 0, { text: 'hal-' }),
      put('lyric', 1, { text: '-le-' }),
      put('lyric', 2, { text: '-lu' }),
    );
    expect(flute(signed).bars[1]!.marks).toEqual([
      { kind: 'dynamic', dynamic: 'sfz', at: 0, placement: 'below', staff: 1 },
      { kind: 'words', text: 'dolce', at: 0, placement: 'above', staff: 1 },
    ]);
    expect(chords(flute(signed)).flatMap(({ lyrics = [] }) => lyrics)).toEqual([
      { text: 'hal', syllabic: 'begin' },
      { text: 'le', syllabic: 'middle' },
      { text: 'lu', syllabic: 'end' },
    ]);
  });

  it('can go from note to note: a slur to the last of tied heads, in the place of those that it meets', () => {
    const signed = read(put('slur', 0, { until: 3 }), put('slur', 27, { until: 30 }));
    const ends = headsOf(flute(signed), 30).at(-1)!.notes[0]!.id;
    const slurs = (flute(signed).spanners ?? []).filter(({ kind }) => kind === 'slur');
    expect(slurs.map(({ to }) => to)).toEqual([
      { note: headsOf(flute(signed), 3)[0]!.notes[0]!.id },
      { note: ends },
    ]);
    const wider = read(put('slur', 0, { until: 3 }), put('slur', 1, { until: 6 }));
    expect((flute(wider).spanners ?? []).map(({ from }) => from)).toEqual([
      { note: headsOf(flute(wider), 1)[0]!.notes[0]!.id },
    ]);
    // One that would end before it begins is none.
    expect(flute(read(put('slur', 5, { until: 2 }))).spanners).toBeUndefined();
  });

  it('can be a hairpin that ends where a dynamic stands, or with its last note', () => {
    const open = read(put('crescendo', 0, { until: 7 }));
    expect(flute(open).spanners).toEqual([
      expect.objectContaining({
        kind: 'wedge',
        opens: true,
        from: { bar: 0, at: 0, staff: 1 },
        to: { bar: 0, at: 4 * QUARTER, staff: 1 },
      }),
    ]);
    const met = read(put('dynamic', 7, { text: 'f' }), put('diminuendo', 0, { until: 7 }));
    expect(flute(met).spanners![0]!.to).toEqual({ bar: 0, at: 3.5 * QUARTER, staff: 1 });
  });

  it('can break a beam, join one, show an accidental or hide it, and let a note ring', () => {
    const beams = (result: Transcription) =>
      chords(flute(result))
        .slice(0, 4)
        .map(({ beams: own }) => own?.[0]);
    expect(beams(plain)).toEqual(['begin', 'continue', 'continue', 'end']);
    expect(beams(read(put('beam', 2, { put: false })))).toEqual(['begin', 'end', 'begin', 'end']);
    const joined = read(put('beam', 4));
    expect(
      chords(flute(joined))
        .slice(0, 8)
        .map(({ beams: own }) => own?.[0]),
    ).toEqual(['begin', 'continue', 'continue', 'continue', 'continue', 'continue', 'continue', 'end']);
    const natural = headsOf(flute(read(put('accidental', 0))), 0)[0]!.notes[0]!;
    expect([natural.accidental, natural.courtesy]).toEqual(['natural', true]);
    const sharp = chords(flute(plain)).findIndex(({ notes }) => notes[0]!.accidental !== undefined);
    expect(
      headsOf(flute(read(put('accidental', sharp, { put: false }))), sharp)[0]!.notes[0]!.accidental,
    ).toBeUndefined();
    expect(headsOf(flute(read(put('ring', 30))), 30).at(-1)!.notes[0]!.ringsOn).toBe(true);
  });

  it('is refused without its end or its words, told in the history, and waits where its note is gone', () => {
    const check = (directive: object) => () => parseBrief({ ...briefOf(), directives: [directive] });
    expect(check(put('slur', 0))).toThrow('until must name the note where the slur ends');
    expect(check(put('words', 0))).toThrow(BadBriefError);
    expect(check(put('dynamic', 0, { text: 'loud' }))).toThrow('text must be one of');
    expect(wordsOf(put('dynamic', 0, { text: 'mf' }))).toBe('A note with dynamic “mf”');
    const gone = deskOf(file(), { ...put('accent', 0), note: '1/t1c1/999' } as PlainDirective);
    expect(gone.refusals).toEqual([
      { step: 'note', why: 'What was decided about a note waits: it is not in this source.' },
    ]);
  });

  it('of any kind anywhere keeps bars, ties and the schema; taken back it is as if it had never been', () => {
    const sign = fc
      .record({
        sign: fc.constantFrom(...SIGNS),
        note: fc.integer({ min: 0, max: 30 }),
        until: fc.integer({ min: 0, max: 30 }),
        dynamic: fc.constantFrom(...DYNAMIC_SIGNS),
        put: fc.boolean(),
      })
      .map(({ sign: name, note, until, dynamic, put: on }) =>
        put(name, note, {
          put: on,
          ...(isSpanning(name) && { until }),
          ...(isWorded(name) && { text: name === 'dynamic' ? dynamic : 'così-' }),
        }),
      );
    const line = fc
      .record({ note: fc.integer({ min: 0, max: 30 }), voice: fc.constantFrom(1, 2, null) })
      .map(({ note, voice }) => ({ kind: 'line', note: idOf(note), voice }) as PlainDirective);
    fc.assert(
      fc.property(fc.array(fc.oneof(sign, sign, line), { maxLength: 10 }), (edits) => {
        const root = parseXml(xmlOf(read(...edits)));
        expect(schemaFaults(root)).toEqual([]);
        expect(readClosed(root).faults).toEqual([]);
        const back = edits.map((each): PlainDirective => {
          if (each.kind === 'sign') return { ...each, put: null };
          return each.kind === 'line' ? { ...each, voice: null } : each;
        });
        expect(read(...edits, ...back).score).toEqual(plain.score);
      }),
      { numRuns: 60 },
    );
  });
});

describe('the voice and staff of a note', () => {
  it('are as decided, and bars add up', () => {
    const held = read({ kind: 'line', note: idOf(2), voice: 2 });
    const own = flute(held).bars[0]!.voices.find(({ items }) =>
      items.some((item) => item.kind === 'chord' && item.notes[0]!.sources.includes(idOf(2))),
    );
    expect(own!.voice).toBe(2);
    expect(readClosed(parseXml(xmlOf(held))).faults).toEqual([]);
    const piano = deskOf(file()).performance.strands[1]!.notes[0]!.id;
    const staffOf = (result: Transcription) =>
      result.score.parts[1]!.bars[0]!.voices.find(({ items }) =>
        items.some(
          (item) => item.kind === 'chord' && item.notes.some(({ sources }) => sources.includes(piano)),
        ),
      )!.staff;
    const was = staffOf(plain);
    const moved = read({ kind: 'line', note: piano, staff: was === 1 ? 2 : 1 });
    expect(staffOf(moved)).toBe(was === 1 ? 2 : 1);
    expect(readClosed(parseXml(xmlOf(moved))).faults).toEqual([]);
  });
});

describe('notes found by a rule', () => {
  const all = { parts: [0], from: 0, to: 99 };
  const found = (rule: Parameters<typeof findNotes>[1], of = plain) => findNotes(of, rule, all).length;

  it('are those that are like it, and of the other rule all the others', () => {
    expect(found({})).toBe(31);
    expect(found({ beat: 'on' }) + found({ beat: 'off' })).toBe(31);
    expect(found({ longer: 'eighth' })).toBe(1);
    expect(found({ shorter: 'quarter' })).toBe(30);
    expect(found({ lowest: 67, highest: 67 })).toBe(strokes.filter(([, , key]) => key === 67).length);
    expect(found({ ledger: 'below' })).toBe(strokes.filter(([, , key]) => key <= 61).length);
    expect(found({ softest: 81 })).toBe(0);
    expect(found({ outOfRange: true })).toBe(0);
    expect(findNotes(plain, {}, { ...all, from: 1, to: 2 })).toHaveLength(8);
  });

  it('are told by their signs', () => {
    const accents = read(put('accent', 3), put('accent', 9), put('slur', 0, { until: 2 }));
    expect(findNotes(accents, { sign: 'accent' }, all)).toEqual([idOf(3), idOf(9)]);
    expect(found({ sign: 'accent', has: false }, accents)).toBe(29);
    expect(findNotes(accents, { sign: 'slur' }, all)).toEqual([idOf(0), idOf(2)]);
  });
});
