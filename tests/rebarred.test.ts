import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import type { SourceId } from '@/core/model/ids';
import { type BarsEdit, BarsEditError, orderAfter } from '@/core/rewrite/bar-order';
import { checkBars, rebarred } from '@/core/rewrite/rebarred';
import { readScore } from '@/core/sources/musicxml/source';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { type ReadNote, readClosed } from './helpers/closure';
import { madeQuartet } from './helpers/made-quartet';
import './helpers/properties';
import { RICH } from './helpers/rich-document';
import { all, parseXml, schemaFaults } from './helpers/schema';

const SOURCE: SourceId = '1';
const read = (text: string) => finished(readScore(new TextEncoder().encode(text), SOURCE));

function edited(text: string, edit: BarsEdit): { text: string; told: string[] } {
  const reading = read(text);
  const order = orderAfter(edit, reading.asRead.bars.length);
  const made = rebarred(reading, order);
  checkBars(reading.asRead, read(new TextDecoder().decode(made.bytes)).asRead, order);
  return { text: new TextDecoder().decode(made.bytes), told: made.told };
}

/** One part of bars given as the inside of each. */
const scoreOf = (...bars: string[]) =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><part id="P1">${bars
    .map((inside, at) => `<measure number="${at + 1}">${inside}</measure>`)
    .join('')}</part></score-partwise>`;
const note = (step: string, more = '', before = '') =>
  `<note><pitch><step>${step}</step><octave>5</octave></pitch><duration>4</duration>${before}<voice>1</voice><type>whole</type>${more}</note>`;
const first = (more = '') =>
  `<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef>${more}</attributes>`;
const said = (inner: string) => `<direction><direction-type>${inner}</direction-type></direction>`;
const barsIn = (text: string) => text.match(/<measure .*?<\/measure>/gs) ?? [];
const numbersIn = (text: string) => barsIn(text).map((bar) => /number="([^"]*)"/.exec(bar)?.[1]);

describe('bars of a score in another order', () => {
  const four = scoreOf(first() + note('C'), note('D'), note('E'), note('F'));

  it('are put in empty, with a whole-bar rest each, and those after them are counted on', () => {
    const { text, told } = edited(four, { what: 'insert', at: 2, count: 2 });
    expect(numbersIn(text)).toEqual(['1', '2', '3', '4', '5', '6']);
    expect(barsIn(text)[2]).toBe(
      '<measure number="3"><note><rest measure="yes"/><duration>4</duration><voice>1</voice></note></measure>',
    );
    expect(told).toEqual([]);
    // All else is as it was, to the character.
    expect(barsIn(text).toSpliced(2, 2).map(withoutNumber)).toEqual(barsIn(four).map(withoutNumber));
  });

  it('say what held before them where the bar that said it is gone', () => {
    const { text } = edited(four, { what: 'remove', from: 0, to: 1 });
    expect(barsIn(text)[0]).toBe(`<measure number="1">${first()}${note('D')}</measure>`);
  });

  it('keep their key, meter, clef and transposition wherever they go, and so does what follows', () => {
    const changed = `<attributes><key><fifths>-3</fifths></key><time><beats>3</beats><beat-type>4</beat-type></time><clef><sign>F</sign><line>4</line></clef><transpose><chromatic>-2</chromatic></transpose></attributes>`;
    const three = note('E')
      .replace('<duration>4', '<duration>3')
      .replace('<type>whole', '<type>half')
      .replace('</type>', '</type><dot/>');
    const text = scoreOf(first() + note('C'), note('D'), changed + three, three);
    const moved = edited(text, { what: 'move', from: 2, to: 4, at: 1 }).text;
    // Back in C, 4/4 and the treble clef, sounding as written.
    expect(barsIn(moved)[3]).toContain(
      '<attributes><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef><transpose><chromatic>0</chromatic></transpose></attributes>',
    );
    const { asRead } = read(moved);
    expect(asRead.bars.map(({ meter }) => meter.numerator)).toEqual([4, 3, 3, 4]);
    expect(
      asRead.parts[0]!.bars.map(({ voices }) =>
        voices[0]!.items.flatMap((item) => (item.kind === 'chord' ? item.notes[0]!.key : [])),
      ),
    ).toEqual([[72], [74], [74], [74]]);
  });

  it('lose ties and slurs over an edge, and keep those that still reach', () => {
    const text = scoreOf(
      first() +
        note(
          'C',
          '<notations><tied type="start"/><slur type="start" number="1"/></notations>',
          '<tie type="start"/>',
        ),
      note('C', '<notations><tied type="stop"/></notations>', '<tie type="stop"/>'),
      note('D', '<notations><slur type="stop" number="1"/></notations>'),
      note('E'),
    );
    const shorter = edited(text, { what: 'remove', from: 1, to: 2 });
    expect(shorter.told).toEqual(['1 tie across a join was taken off.']);
    expect(barsIn(shorter.text)[0]).toContain('<notations><slur type="start" number="1"/></notations>');
    expect(shorter.text).not.toMatch(/<tied?\b/);
    const apart = edited(text, { what: 'move', from: 2, to: 3, at: 0 });
    expect(apart.told).toEqual(['1 slur across a join was taken off.']);
    expect(apart.text).not.toContain('<slur');
    expect(barsIn(apart.text)[1]).toContain('<notations><tied type="start"/></notations>');
  });

  it('end hairpins and lines at an edge, and begin them again behind it', () => {
    const text = scoreOf(
      first() + note('C'),
      said('<wedge type="crescendo"/>') + note('D'),
      note('E'),
      note('F') + said('<wedge type="stop"/>'),
    );
    const split = edited(text, { what: 'move', from: 3, to: 4, at: 0 });
    expect(split.told).toEqual(['1 hairpin across a join now ends there.']);
    expect(barsIn(split.text).map((bar) => bar.match(/<wedge type="(\w+)"/g)?.length ?? 0)).toEqual([
      2, 0, 1, 1,
    ]);
    expect(barsIn(split.text)[3]).toBe(
      `<measure number="4">${note('E')}${said('<wedge type="stop"/>')}</measure>`,
    );
    const through = edited(text, { what: 'insert', at: 2, count: 1 });
    expect(through.told).toEqual([]);
  });

  it('that come again have no second name and no second rehearsal mark', () => {
    const text = scoreOf(
      first() + note('C'),
      said('<rehearsal>B</rehearsal>') + note('D').replace('<note>', '<note id="n1">'),
      note('E'),
    );
    const twice = edited(text, { what: 'copy', from: 1, to: 2, at: 3 }).text;
    expect(twice.match(/id="n1"/g)).toHaveLength(1);
    expect(twice.match(/<rehearsal>/g)).toHaveLength(1);
    expect(numbersIn(twice)).toEqual(['1', '2', '3', '4']);
    expect(barsIn(twice)[3]).toBe(`<measure number="4">${note('D')}</measure>`);
  });

  it('lose a repeat or an ending of which the other end is gone, and multi-bar rests that a bar comes into', () => {
    const repeat = (direction: string, location: string) =>
      `<barline location="${location}"><bar-style>${direction === 'forward' ? 'heavy-light' : 'light-heavy'}</bar-style><repeat direction="${direction}"/></barline>`;
    const text = scoreOf(
      first() + note('C'),
      repeat('forward', 'left') + note('D'),
      note('E') + repeat('backward', 'right'),
      `<attributes><measure-style><multiple-rest>2</multiple-rest></measure-style></attributes><note><rest measure="yes"/><duration>4</duration><voice>1</voice></note>`,
      '<note><rest measure="yes"/><duration>4</duration><voice>1</voice></note>',
    );
    expect(edited(text, { what: 'remove', from: 2, to: 3 }).text).not.toContain('barline');
    const apart = edited(text, { what: 'insert', at: 4, count: 1 });
    expect(apart.text).not.toContain('attributes><measure-style');
    expect(apart.told).toEqual(['1 multi-bar rest across a join was taken off.']);
  });

  it('leave the line at the end of the piece at its end', () => {
    const end = '<barline location="right"><bar-style>light-heavy</bar-style></barline>';
    const text = scoreOf(first() + note('C'), note('D'), note('E') + end);
    const linesIn = (made: string) => barsIn(made).map((bar) => bar.includes('light-heavy'));
    const longer = edited(text, { what: 'insert', at: 3, count: 1 }).text;
    expect(linesIn(longer)).toEqual([false, false, false, true]);
    expect(edited(longer, { what: 'remove', from: 3, to: 4 }).text).toBe(text);
    expect(linesIn(edited(text, { what: 'move', from: 2, to: 3, at: 0 }).text)).toEqual([false, false, true]);
    expect(linesIn(edited(text, { what: 'copy', from: 0, to: 1, at: 1 }).text)).toEqual([
      false,
      false,
      false,
      true,
    ]);
  });

  it('keep numbers that do not count, and jumps in the counting', () => {
    const text = scoreOf(first() + note('C'), note('D'), note('E'), note('F'))
      .replace('number="1"', 'number="0" implicit="yes"')
      .replace('number="2"', 'number="1"')
      .replace('number="3"', 'number="20"')
      .replace('number="4"', 'number="21"');
    expect(numbersIn(edited(text, { what: 'insert', at: 3, count: 1 }).text)).toEqual([
      '0',
      '1',
      '20',
      '21',
      '22',
    ]);
    expect(numbersIn(edited(text, { what: 'remove', from: 1, to: 2 }).text)).toEqual(['0', '1', '2']);
  });

  it('have finer divisions where those of the part have no whole rest for them', () => {
    const text = scoreOf(
      first().replace('<beats>4', '<beats>3').replace('<beat-type>4', '<beat-type>8') +
        note('C').replace('<duration>4', '<duration>1').replace('whole', 'quarter'),
      note('D').replace('<duration>4', '<duration>1').replace('whole', 'quarter'),
    );
    const made = edited(text, { what: 'insert', at: 1, count: 1 }).text;
    expect(barsIn(made)[1]).toContain(
      '<attributes><divisions>2</divisions></attributes><note><rest measure="yes"/><duration>3</duration>',
    );
    expect(barsIn(made)[2]).toContain('<attributes><divisions>1</divisions></attributes>');
    expect(read(made).asRead.bars.map(({ length }) => length)).toHaveLength(3);
  });

  it('are refused where they are not there, where none would be left, and where bars hold parts', () => {
    for (const edit of [
      { what: 'remove', from: 0, to: 4 },
      { what: 'remove', from: 3, to: 3 },
      { what: 'copy', from: 1, to: 9, at: 0 },
      { what: 'move', from: 1, to: 3, at: 2 },
      { what: 'insert', at: 9, count: 1 },
    ] as const)
      expect(() => edited(four, edit)).toThrow(BarsEditError);
    const timewise = `<score-timewise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><measure number="1"><part id="P1">${first()}${note('C')}</part></measure><measure number="2"><part id="P1">${note('D')}</part></measure></score-timewise>`;
    expect(() => edited(timewise, { what: 'remove', from: 0, to: 1 })).toThrow(/parts within its bars/);
  });
});

const withoutNumber = (bar: string) => bar.replace(/number="[^"]*"/, '');

/** What a reader of its own finds in the bars of a document (quarters from the start of the piece). */
function notesByBar(text: string): { faults: string[]; notes: ReadNote[]; bars: number } {
  const root = parseXml(text);
  return { ...readClosed(root), bars: all(all(root, 'part')[0]!, 'measure').length };
}

/** An edit of so many bars, by four numbers of chance. */
function editOf(bars: number, [what, from, length, at]: readonly [number, number, number, number]): BarsEdit {
  const begin = from % bars;
  const to = Math.min(bars, begin + 1 + (length % 4));
  const place = at % (bars + 1);
  if (what === 0) return { what: 'insert', at: place, count: 1 + (length % 3) };
  if (what === 1) return { what: 'remove', from: begin, to };
  if (what === 2) return { what: 'copy', from: begin, to, at: place };
  return {
    what: 'move',
    from: begin,
    to,
    at: place >= begin && place <= to ? (to < bars ? bars : 0) : place,
  };
}

describe('whatever is done with bars', () => {
  const demo = writeMusicXml(lanternFerry());
  const demoFaults = notesByBar(demo).faults;
  const chance = fc.array(fc.tuple(fc.nat(3), fc.nat(200), fc.nat(20), fc.nat(200)), {
    minLength: 1,
    maxLength: 3,
  });

  it('the document keeps to the schema, every bar is full, and ties are closed', () => {
    fc.assert(
      fc.property(chance, fc.constantFrom<string | number>('demo', 'rich', 1, 2, 3), (edits, of) => {
        let text = of === 'demo' ? demo : of === 'rich' ? RICH : madeQuartet(Number(of));
        const faultsBefore = new Set(schemaFaults(parseXml(text)));
        for (const each of edits) {
          const bars = notesByBar(text).bars;
          const edit = editOf(bars, each);
          if (edit.what === 'remove' && edit.to - edit.from === bars) return;
          if (edit.what === 'move' && edit.at >= edit.from && edit.at <= edit.to) return;
          text = edited(text, edit).text;
        }
        expect(schemaFaults(parseXml(text)).filter((fault) => !faultsBefore.has(fault))).toEqual([]);
        if (of === 'demo') expect(notesByBar(text).faults).toEqual(demoFaults);
      }),
      { numRuns: 20 },
    );
  });

  it('what is put in and taken out again leaves the very text', () => {
    fc.assert(
      fc.property(fc.nat(15), fc.integer({ min: 1, max: 3 }), fc.constantFrom(4, 5, 6), (at, count, seed) => {
        const text = madeQuartet(seed);
        const more = edited(text, { what: 'insert', at: at + 1, count }).text;
        expect(edited(more, { what: 'remove', from: at + 1, to: at + 1 + count }).text).toBe(text);
      }),
      { numRuns: 20 },
    );
  });

  it('bars that are moved and moved back stand as they did', () => {
    const text = madeQuartet(9);
    const there = edited(text, { what: 'move', from: 3, to: 6, at: 12 }).text;
    const back = edited(there, { what: 'move', from: 9, to: 12, at: 3 }).text;
    expect(back).toBe(text);
  });
});
