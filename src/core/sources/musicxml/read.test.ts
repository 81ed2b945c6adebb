import fc from 'fast-check';
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { QUARTER } from '../../model/time';
import { BadSourceError } from '../refused';
import { packMxl } from './mxl';
import { readMusicXml } from './read';
import { writeMusicXml } from './write';

/** Documents here are written after the MusicXML 4.0 specification (W3C), with the elements that each case is about. */
const bytesOf = (text: string) => new TextEncoder().encode(text);

const ATTRIBUTES =
  '<attributes><divisions>2</divisions><key><fifths>0</fifths></key>' +
  '<time><beats>4</beats><beat-type>4</beat-type></time></attributes>';

const note = (step: string, duration: number, more = '', type = 'quarter') =>
  `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>${duration}</duration>` +
  `<voice>1</voice><type>${type}</type>${more}</note>`;

const partwise = (
  measures: string[],
  list = '<score-part id="P1"><part-name>Flute</part-name></score-part>',
) =>
  `<score-partwise version="4.0"><part-list>${list}</part-list><part id="P1">${measures
    .map((measure, index) => `<measure number="${index + 1}">${measure}</measure>`)
    .join('')}</part></score-partwise>`;

const read = (...measures: string[]) => readMusicXml(bytesOf(partwise(measures)));
const four = note('C', 2) + note('D', 2) + note('E', 2) + note('F', 2);
const items = (result: ReturnType<typeof readMusicXml>, bar = 0) =>
  result.score.parts[0]!.bars[bar]!.voices.map((line) =>
    line.items.map((item) =>
      item.kind === 'chord' ? item.notes.map((each) => each.pitch.step).join('') : item.hidden ? '·' : '-',
    ),
  );

describe('reading MusicXML', () => {
  it('takes the document by measures as by parts (score-timewise)', () => {
    const timewise = `<score-timewise><part-list><score-part id="P1"><part-name>Oboe</part-name></score-part>
      <score-part id="P2"><part-name>Horn</part-name></score-part></part-list>
      <measure number="1"><part id="P1">${ATTRIBUTES}${four}</part><part id="P2">${ATTRIBUTES}${four}</part></measure>
      <measure number="2"><part id="P1">${four}</part><part id="P2">${four}</part></measure></score-timewise>`;
    const { score, mends } = readMusicXml(bytesOf(timewise));
    expect(score.parts.map(({ name, bars }) => [name, bars.length])).toEqual([
      ['Oboe', 2],
      ['Horn', 2],
    ]);
    expect(score.bars.map(({ number, length }) => [number, length])).toEqual([
      [1, 4 * QUARTER],
      [2, 4 * QUARTER],
    ]);
    expect(mends).toEqual([]);
  });

  it('keeps time exactly where divisions change within a bar, and in a tuplet of seventeen', () => {
    const changing = `${ATTRIBUTES}${note('C', 2)}<attributes><divisions>17</divisions></attributes>${Array.from(
      { length: 17 },
      () =>
        note(
          'D',
          1,
          '<time-modification><actual-notes>17</actual-notes><normal-notes>16</normal-notes></time-modification>',
          '64th',
        ),
    ).join('')}${note('E', 34, '', 'half')}`;
    const [line] = read(changing).score.parts[0]!.bars[0]!.voices;
    expect(line!.items.map(({ onset }) => onset)).toEqual([
      0,
      ...Array.from({ length: 17 }, (_, at) => QUARTER + (at * QUARTER) / 17),
      2 * QUARTER,
    ]);
    expect(line!.items.at(-1)!.duration).toBe(2 * QUARTER);
  });

  it('says where a length cannot be kept exactly, and still fills the bar', () => {
    const odd = `${ATTRIBUTES.replace('<divisions>2', '<divisions>23')}${Array.from({ length: 92 }, () => note('D', 1, '', '64th')).join('')}`;
    const { score, mends } = read(odd);
    expect(mends.map(({ what }) => what)).toEqual([
      'Flute, bar 1 (line 1): 1 of 23 to a quarter is finer than time is kept here',
    ]);
    const { items: all } = score.parts[0]!.bars[0]!.voices[0]!;
    expect(all.reduce((sum, { duration }) => sum + duration, 0)).toBe(4 * QUARTER);
  });

  it('puts voices and staves where they belong, gaps left open (backup, forward, voice, staff)', () => {
    const second = note('A', 4, '', 'half').replace('<voice>1', '<voice>2');
    const result = read(
      `${ATTRIBUTES}${four}<backup><duration>8</duration></backup><forward><duration>4</duration></forward>${second}`,
    );
    expect(items(result)).toEqual([
      ['C', 'D', 'E', 'F'],
      ['·', 'A'],
    ]);
  });

  it('hangs grace notes before or after, with their own values (grace)', () => {
    const grace = (step: string, slash = '') =>
      `<note><grace${slash}/><pitch><step>${step}</step><octave>5</octave></pitch><voice>1</voice><type>16th</type></note>`;
    const result = read(`${ATTRIBUTES}${grace('G', ' slash="yes"')}${four}${grace('A')}${grace('B')}`);
    const chords = result.score.parts[0]!.bars[0]!.voices[0]!.items;
    expect(chords[0]).toMatchObject({
      graces: [{ pitch: { step: 'G' }, graceSign: { slashed: true, value: { type: '16th' } } }],
    });
    expect(chords[3]).toMatchObject({ gracesAfter: [{ pitch: { step: 'A' } }, { pitch: { step: 'B' } }] });
  });

  it('hears transposing instruments as they sound, and shows what is written (transpose)', () => {
    const { score } = read(
      `${ATTRIBUTES.replace('</attributes>', '<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>')}${four}`,
    );
    const [first] = score.parts[0]!.bars[0]!.voices[0]!.items;
    expect(first).toMatchObject({ notes: [{ key: 58, pitch: { step: 'C', octave: 4, alter: 0 } }] });
    expect(score.parts[0]!.transposition).toEqual({ diatonic: -1, chromatic: -2 });
  });

  it('keeps the words of a swing as they are, once (swing)', () => {
    const swung =
      '<direction><direction-type><words>Medium Swing</words></direction-type><sound tempo="150"><swing><first>2</first><second>1</second><swing-type>eighth</swing-type></swing></sound></direction>';
    const { score } = read(`${ATTRIBUTES}${swung}${four}`);
    expect(score.swings).toMatchObject([{ from: 0, ratio: 2 / 3, value: 'eighth' }]);
    const again = writeMusicXml(score);
    expect(again.match(/Swing<\/words>/g)).toEqual(['Swing</words>']);
    const { swings, swingsSaid } = readMusicXml(bytesOf(again)).score;
    expect(swings).toEqual(score.swings);
    expect(swingsSaid).toBeUndefined();
  });

  it('orders the bars by signs and by words alike (sound, words)', () => {
    const { score } = read(
      `${ATTRIBUTES}${four}`,
      `${four}<direction><direction-type><words>D.C. al Fine</words></direction-type></direction>`,
      `<direction><direction-type><segno/></direction-type><sound segno="1"/></direction>${four}` +
        '<direction><direction-type><words>Fine</words></direction-type><sound fine="yes"/></direction>',
    );
    expect(score.bars.map((bar) => bar.jumps?.map(({ kind, text }) => [kind, text]))).toEqual([
      undefined,
      [['da-capo', 'D.C. al Fine']],
      [
        ['segno', undefined],
        ['fine', 'Fine'],
      ],
    ]);
  });

  it.each([
    ['UTF-8 with a mark', (text: string) => new Uint8Array([0xef, 0xbb, 0xbf, ...bytesOf(text)])],
    ['UTF-16, little end first, with a mark', (text: string) => utf16(text, true, true)],
    ['UTF-16, big end first, with a mark', (text: string) => utf16(text, false, true)],
    [
      'UTF-16 without a mark',
      (text: string) => utf16(`<?xml version="1.0" encoding="UTF-16"?>${text}`, true, false),
    ],
    [
      'ISO-8859-1',
      (text: string) =>
        Uint8Array.from(`<?xml version="1.0" encoding="ISO-8859-1"?>${text}`, (each) => each.charCodeAt(0)),
    ],
    ['a .mxl file', (text: string) => packMxl(text)],
  ])('reads %s', (_, encode) => {
    const text = partwise(
      [`${ATTRIBUTES}${four}`],
      '<score-part id="P1"><part-name>Flöte</part-name></score-part>',
    );
    expect(readMusicXml(encode(text)).score.parts[0]!.name).toBe('Flöte');
  });
});

function utf16(text: string, isLittle: boolean, marked: boolean): Uint8Array {
  const view = new DataView(new ArrayBuffer(2 * (text.length + (marked ? 1 : 0))));
  [...(marked ? '\ufeff' : ''), ...text].forEach((each, at) => {
    view.setUint16(2 * at, each.charCodeAt(0), isLittle);
  });
  return new Uint8Array(view.buffer);
}

describe('damage in the music is mended, and told with part, bar and line', () => {
  const cases: [name: string, measures: string[], told: RegExp, made: string[][]][] = [
    [
      'no divisions',
      [four],
      /Flute, bar 1 \(line 1\): nothing says how long a division is/,
      [['C', 'D', 'E', 'F']],
    ],
    [
      'notes of one voice that overlap',
      [
        `${ATTRIBUTES}${note('C', 8, '', 'whole')}<backup><duration>4</duration></backup>${note('D', 4, '', 'half')}`,
      ],
      /notes of one voice overlap/,
      [['C'], ['·', 'D']],
    ],
    [
      'a tie that leads nowhere',
      [`${ATTRIBUTES}${note('C', 2, '<notations><tied type="start"/></notations>')}${note('D', 2)}`],
      /a tie leads to no note/,
      [['C', 'D']],
    ],
    [
      'a slur without an end',
      [
        `${ATTRIBUTES}${note('C', 2, '<notations><slur type="start" number="1"/></notations>')}${note('D', 2)}`,
      ],
      /a slur has no other end/,
      [['C', 'D']],
    ],
    [
      'a backup before the bar',
      [`${ATTRIBUTES}${note('C', 2)}<backup><duration>9</duration></backup>`],
      /goes back before its bar/,
      [['C']],
    ],
    [
      'a note without pitch',
      [`${ATTRIBUTES}<note><duration>2</duration></note>${note('D', 2)}`],
      /no pitch that can be read/,
      [['·', 'D']],
    ],
    [
      'a meter that cannot be',
      [
        `<attributes><divisions>2</divisions><time><beats>x</beats><beat-type>3</beat-type></time></attributes>${four}`,
      ],
      /a meter of “x” cannot be/,
      [['C', 'D', 'E', 'F']],
    ],
    [
      'a chord without a first note',
      [`${ATTRIBUTES}${note('C', 2).replace('<note>', '<note><chord/>')}`],
      /belongs to a chord that is not there/,
      [['C']],
    ],
  ];
  it.each(cases)('%s', (_, measures, told, made) => {
    const result = read(...measures);
    expect(result.mends.map(({ what }) => what).join('\n')).toMatch(told);
    expect(items(result)).toEqual(made);
  });

  it('an unended hairpin goes to the end of its bar', () => {
    const wedge = '<direction><direction-type><wedge type="crescendo"/></direction-type></direction>';
    const { score, mends } = read(`${ATTRIBUTES}${wedge}${four}`);
    expect(score.parts[0]!.spanners).toMatchObject([{ kind: 'wedge', to: { bar: 0, at: 4 * QUARTER } }]);
    expect(mends).toMatchObject([{ done: 'It goes to the end of its bar.' }]);
  });

  it('an id that is used twice, and a part that is not listed', () => {
    const twice = four.replaceAll('<note>', '<note id="n1">');
    const stray = partwise([`${ATTRIBUTES}${twice}`]).replace(
      '</score-partwise>',
      `<part id="P9"><measure number="1">${ATTRIBUTES}${four}</measure></part></score-partwise>`,
    );
    const { score, mends } = readMusicXml(bytesOf(stray));
    expect(score.parts.map(({ name }) => name)).toEqual(['Flute', 'P9']);
    expect(mends.filter(({ what }) => what.includes('used twice')).length).toBe(3);
    expect(mends.some(({ what }) => what.includes('the part list does not have it'))).toBe(true);
    const ids = score.parts.flatMap((part) =>
      part.bars.flatMap((bar) =>
        bar.voices.flatMap((line) => line.items.flatMap((item) => (item.kind === 'chord' ? item.notes : []))),
      ),
    );
    expect(new Set(ids.map(({ id }) => id)).size).toBe(8);
  });

  it('names what it has no place for, with how often', () => {
    const { lost } = read(
      `${ATTRIBUTES}<direction><direction-type><eyeglasses/></direction-type></direction>${note('C', 2, '<notations><technical><bend><bend-alter>1</bend-alter></bend></technical></notations>')}`,
    );
    expect([...lost]).toEqual([
      ['eyeglasses', 1],
      ['bend', 1],
    ]);
  });
});

describe('what is no score is refused in one sentence', () => {
  const cases: [name: string, bytes: Uint8Array, told: RegExp][] = [
    ['a web page', bytesOf('<!DOCTYPE html><html><body>Hello</body></html>'), /web page/],
    ['an opus', bytesOf('<opus><title>All</title></opus>'), /opus/],
    ['another vocabulary', bytesOf('<?xml version="1.0"?><mei><music/></mei>'), /begins with <mei>/],
    ['nothing', new Uint8Array(), /no MusicXML score/],
    ['text', bytesOf('Dear Sir or Madam'), /no MusicXML score/],
    [
      'a document that breaks off',
      bytesOf(partwise([ATTRIBUTES]).slice(0, -40)),
      /not well-formed XML: line 1/,
    ],
    ['no parts', bytesOf('<score-partwise><part-list/></score-partwise>'), /no parts/],
    ['no bars', bytesOf(partwise([])), /no bars/],
    [
      'an entity',
      bytesOf(`<!DOCTYPE score-partwise [<!ENTITY x "${'y'.repeat(99)}">]>${partwise([`${ATTRIBUTES}&x;`])}`),
      /not well-formed/,
    ],
    ['elements without end', bytesOf(`<score-partwise>${'<a>'.repeat(500)}`), /deeper or larger/],
    [
      'an encoding that is none',
      bytesOf(`<?xml version="1.0" encoding="klingon"?>${partwise([ATTRIBUTES])}`),
      /klingon/,
    ],
    [
      'bytes of another encoding',
      Uint8Array.from(partwise([`${ATTRIBUTES}é`]), (each) => each.charCodeAt(0)),
      /its bytes are not/,
    ],
    ['a zip without container', zipSync({ 'a.xml': bytesOf('<a/>') }), /no container/],
    [
      'a container that names nothing',
      zipSync({ 'META-INF/container.xml': bytesOf('<container/>') }),
      /names no score/,
    ],
    [
      'a container that leads outside',
      zipSync({ 'META-INF/container.xml': bytesOf('<rootfile full-path="../../etc/passwd"/>') }),
      /that is not in it/,
    ],
    [
      'a bomb',
      zipSync({
        'META-INF/container.xml': bytesOf('<rootfile full-path="a.xml"/>'),
        'a.xml': new Uint8Array(20_000_000),
      }),
      /far more than any score/,
    ],
  ];
  it.each(cases)('%s', (_, bytes, told) => {
    expect(() => readMusicXml(bytes)).toThrow(BadSourceError);
    expect(() => readMusicXml(bytes)).toThrow(told);
  });

  it('or read, whatever is done to its bytes and its elements', () => {
    const document = partwise([
      `${ATTRIBUTES}<direction><direction-type><wedge type="crescendo"/></direction-type></direction>${four}`,
      `${note('C', 3, '<dot/><notations><slur type="start"/><tied type="start"/></notations>')}${note('C', 5, '<notations><tied type="stop"/><slur type="stop"/></notations>')}<backup><duration>8</duration></backup>${four}`,
    ]);
    const tags = [...document.matchAll(/<[^>]+>/g)].map((match) => [match.index, match[0].length] as const);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(document.length - 1), fc.constantFrom('', '<', '9', '-1', '&', '"')), {
          maxLength: 4,
        }),
        fc.array(fc.nat(tags.length - 1), { maxLength: 3 }),
        (edits, dropped) => {
          let text = document;
          for (const index of dropped.toSorted((a, b) => b - a)) {
            const [at, length] = tags[index]!;
            text = text.slice(0, at) + text.slice(at + length);
          }
          for (const [at, put] of edits) text = text.slice(0, at) + put + text.slice(at + 1);
          try {
            const { score } = readMusicXml(bytesOf(text));
            for (const part of score.parts)
              part.bars.forEach((bar, index) => {
                for (const line of bar.voices) {
                  let at = 0;
                  for (const item of line.items) {
                    expect(item.onset).toBe(at);
                    at += item.duration;
                  }
                  expect(at).toBeGreaterThanOrEqual(score.bars[index]!.length);
                }
              });
          } catch (error) {
            expect(error).toBeInstanceOf(BadSourceError);
            expect((error as Error).message).toMatch(/^[^\n]{10,300}[.>]$/);
          }
        },
      ),
      { numRuns: 500 },
    );
  });
});
