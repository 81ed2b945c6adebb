import fc from 'fast-check';
import { parse as parseElsewhere } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import type { PutBarSign } from '@/core/decisions/kinds/bar-sign';
import { deliverScore } from '@/core/deliver/score';
import { BAR_LINES, BAR_SIGNS } from '@/core/model/bar-signs';
import { transcribeNow } from '@/core/transcribe';
import { barsSaid } from '@/core/workbench/bars-said';
import { Workbench } from '@/core/workbench/workbench';
import { deskOf, madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

type BarSignDirective = Omit<PutBarSign, never>;

const ATTRIBUTES =
  '<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const whole = (step: string) =>
  `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>4</duration><voice>1</voice><type>whole</type></note>`;
const METRONOME =
  '<direction placement="above"><direction-type><words>Slow</words></direction-type><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>60</per-minute></metronome></direction-type><sound tempo="60"/></direction>';
const BOTH =
  '<direction><direction-type><rehearsal>B</rehearsal></direction-type><direction-type><dynamics><f/></dynamics></direction-type></direction>';
/** Two parts of four bars; a tempo in the first, a rehearsal mark with a dynamic in both at the third. */
const measures = (steps: string, isFirst: boolean) =>
  [...steps]
    .map(
      (step, bar) =>
        `\n  <measure number="${bar + 1}">\n   ${bar === 0 ? ATTRIBUTES + (isFirst ? METRONOME : '') : ''}${bar === 2 ? BOTH : ''}${whole(step)}\n  </measure>`,
    )
    .join('');
const SCORE = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part><score-part id="P2"><part-name>Oboe</part-name></score-part></part-list><part id="P1">${measures('CDEF', true)}\n </part><part id="P2">${measures('GABC', false)}\n </part></score-partwise>`;

const bytes = new TextEncoder().encode(SCORE);
const workbench = new Workbench([{ id: '1', version: 1, name: 'score.musicxml', bytes }]);
let revision = 0;

function under(brief: Brief) {
  revision++;
  const { desk } = workbench.layOut(revision, brief);
  const { transcription } = finished(workbench.write(revision));
  const text = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
  return { text, desk, score: transcription.score, refused: desk.refusals.map(({ why }) => why) };
}

const sign = (bar: number, what: BarSignDirective['what'], more: Partial<BarSignDirective>) =>
  ({ kind: 'bar-sign', at: String(4 * (bar - 1)), what, put: true, ...more }) satisfies BarSignDirective;
const decided = (...directives: PlainDirective[]) => under(withDirectives(EMPTY_BRIEF, directives));
/** The text of each bar, of both parts. */
const bars = (text: string) =>
  [...text.matchAll(/<measure[^>]*>([\s\S]*?)<\/measure>/g)].map(([, bar]) => bar!);
/** Which bars of which parts are other ones than they were. */
const changed = (text: string) => {
  const before = bars(SCORE);
  return bars(text).flatMap((bar, index) => (bar === before[index] ? [] : [index]));
};

describe('a sign at a bar of a score that was read', () => {
  it('a rehearsal mark stands in the first part, before the music, and nowhere else', () => {
    const { text, refused } = decided(sign(2, 'rehearsal', { text: 'A' }));
    expect(refused).toEqual([]);
    expect(changed(text)).toEqual([1]);
    expect(bars(text)[1]).toMatch(/<rehearsal>A<\/rehearsal>[\s\S]*<note>/);
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('takes the place of the mark that stands there in any part; what stands beside that stays', () => {
    const { text } = decided(sign(3, 'rehearsal', { text: 'K' }));
    expect(changed(text)).toEqual([2, 6]);
    expect(text).not.toContain('<rehearsal>B');
    expect(text.match(/<rehearsal>/g)).toHaveLength(1);
    expect(text.match(/<f\/>/g)).toHaveLength(2);
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('a mark is taken off in all parts', () => {
    const { text, score } = decided(sign(3, 'rehearsal', { put: false }));
    expect(text).not.toContain('<rehearsal>');
    expect(
      score.parts.flatMap(({ bars }) => bars.flatMap(({ marks = [] }) => marks)).map(({ kind }) => kind),
    ).not.toContain('rehearsal');
  });

  it('a tempo sounds from its bar on, and is read in the beat of the meter', () => {
    const { text, desk } = decided(sign(3, 'tempo', { text: 'Allegro', quartersPerMinute: 132 }));
    expect(changed(text)).toEqual([2]);
    expect(bars(text)[2]).toContain('<words>Allegro</words>');
    expect(bars(text)[2]).toContain('<per-minute>132</per-minute>');
    expect(
      desk.performance.clock.tempos.map(({ microsPerQuarter }) => Math.round(6e7 / microsPerQuarter)),
    ).toEqual([60, 132]);
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('a tempo that stands there is another one, or goes', () => {
    const other = decided(sign(1, 'tempo', { quartersPerMinute: 90 }));
    expect(other.text).not.toContain('Slow');
    expect(other.text.match(/<sound/g)).toHaveLength(1);
    expect(other.desk.performance.clock.tempos).toHaveLength(1);
    const none = decided(sign(1, 'tempo', { put: false }));
    expect(none.text).not.toContain('<sound');
    expect(changed(none.text)).toEqual([0]);
  });

  it('a double bar is drawn in every part', () => {
    const { text, score } = decided(sign(2, 'bar-line', { style: 'light-light' }));
    expect(changed(text)).toEqual([1, 5]);
    expect(score.bars[1]!.right).toEqual({ style: 'light-light' });
    expect(schemaFaults(parseXml(text))).toEqual([]);
  });

  it('a line that is said to be the usual one is nothing to tell of its bar', () => {
    const { score } = decided(
      sign(2, 'bar-line', { style: 'regular' }),
      sign(3, 'bar-line', { style: 'dashed' }),
    );
    expect(score.bars[1]!.right).toEqual({ style: 'regular' });
    expect(barsSaid(score).flatMap(({ bar, line }) => (line ? [[bar, line]] : []))).toEqual([[2, 'dashed']]);
  });

  it('a repeat with two endings is played out', () => {
    const { text, score, desk } = decided(
      sign(1, 'repeat-from', {}),
      sign(3, 'repeat-to', {}),
      sign(3, 'ending', { text: '1', bars: 1 }),
      sign(4, 'ending', { text: '2', bars: 1 }),
    );
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(score.bars.map(({ right }) => right?.ending?.type)).toEqual([
      undefined,
      undefined,
      'stop',
      'discontinue',
    ]);
    const [flute] = desk.performance.strands;
    // C D E, C D F, as MusicXML 4.0 has it for repeats with endings.
    expect(flute!.notes.map(({ key }) => key)).toEqual([60, 62, 64, 60, 62, 65]);
    const elsewhere = parseElsewhere(text);
    expect(
      elsewhere.parts[0]!.measures[2]!.barlines?.some(({ repeat }) => repeat?.direction === 'backward'),
    ).toBe(true);
  });

  it('what cannot be put is refused with its reason, and the rest is done', () => {
    const { text, refused } = decided(
      { ...sign(1, 'rehearsal', { text: 'X' }), at: '5/2' },
      sign(4, 'ending', { text: '1', bars: 3 }),
      sign(2, 'rehearsal', { text: 'A' }),
    );
    expect(refused).toEqual([
      'No bar begins 5/2 quarters from the start: its sign waits.',
      'Bar 4: an ending of 3 bars goes on after the last one.',
    ]);
    expect(changed(text)).toEqual([1]);
  });

  const anySign = fc
    .record({
      bar: fc.integer({ min: 1, max: 4 }),
      what: fc.constantFrom(...BAR_SIGNS),
      put: fc.boolean(),
      text: fc.constantFrom('1', '2'),
      style: fc.constantFrom(...BAR_LINES),
      quartersPerMinute: fc.integer({ min: 10, max: 600 }),
      times: fc.integer({ min: 2, max: 5 }),
    })
    .map(({ bar, what, put, text, style, quartersPerMinute, times }) =>
      sign(bar, what, {
        put,
        text,
        ...(what === 'bar-line' && { style }),
        ...(what === 'tempo' && { quartersPerMinute }),
        ...(what === 'key' && { fifths: 3 }),
        ...(what === 'repeat-to' && { times }),
        ...(what === 'ending' && { bars: 1 }),
      }),
    );

  it('any of them together keep to the schema and touch no other bar; taken back, the very bytes are there', () => {
    fc.assert(
      fc.property(fc.array(anySign, { minLength: 1, maxLength: 8 }), (signs) => {
        const brief = withDirectives(EMPTY_BRIEF, []);
        const after = signs.reduce((before, each) => withDirectives(before, [each]), brief);
        const { text } = under(after);
        expect(schemaFaults(parseXml(text))).toEqual([]);
        // A key asks for other accidentals up to the next.
        const own = new Set(
          signs.flatMap(({ at, what }) =>
            [0, 1, 2, 3].flatMap((bar) =>
              bar === Number(at) / 4 || (what === 'key' && bar > Number(at) / 4) ? [bar, bar + 4] : [],
            ),
          ),
        );
        for (const bar of changed(text)) expect(own).toContain(bar);
        const back = signs.reduce((before, each) => withDirectives(before, [{ ...each, put: null }]), after);
        expect(under(back).text).toBe(SCORE);
      }),
      { numRuns: 60 },
    );
  });
});

describe('a sign at a bar of a performance', () => {
  const strokes = [0, 1, 2, 3].map((bar): Stroke => [1920 * bar, 1920 * (bar + 1), 60 + bar]);
  const file = madeFile(
    madeTrack('Flute', 0, strokes, [{ kind: 'tempo', tick: 0, microsPerQuarter: 600_000 }, meterAt(0, 4, 4)]),
  );
  const written = (...directives: PlainDirective[]) => {
    const brief = withDirectives(EMPTY_BRIEF, directives);
    const desk = deskOf(file, ...directives);
    const transcription = transcribeNow(desk.performance, brief);
    const text = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
    expect(schemaFaults(parseXml(text))).toEqual([]);
    return { ...transcription, text: bars(text) };
  };

  it('a rehearsal mark, the words of a tempo and a double bar stand on the page', () => {
    const { text, score, undone } = written(
      sign(3, 'rehearsal', { text: 'A' }),
      sign(1, 'tempo', { text: 'Allegro' }),
      sign(2, 'bar-line', { style: 'light-light' }),
    );
    expect(undone).toEqual([]);
    expect(score.rehearsals).toEqual([{ bar: 2, text: 'A' }]);
    expect(text[0]).toMatch(/<words>Allegro<\/words>[\s\S]*<per-minute>100<\/per-minute>/);
    expect(text[1]).toContain('<bar-style>light-light</bar-style>');
    expect(text[2]).toContain('<rehearsal>A</rehearsal>');
  });

  it('words stand by themselves where the tempo goes on, and a figure is taken off', () => {
    const { text } = written(sign(3, 'tempo', { text: 'Dolce' }), sign(1, 'tempo', { put: false }));
    expect(text[2]).toContain('<words>Dolce</words>');
    expect(text[2]).not.toContain('<metronome>');
    expect(text[0]).not.toContain('<metronome>');
    expect(text[0]).toContain('<sound tempo="100">');
  });

  it('a key begins at a bar, with its signature and its spelling, and goes out in MusicXML; one that was found is taken off', () => {
    const sharp = written(sign(3, 'key', { fifths: 5, minor: false }));
    expect(sharp.score.keys.at(-1)).toEqual({ bar: 2, fifths: 5, minor: false });
    expect(sharp.text[2]).toContain('<fifths>5</fifths>');
    expect(sharp.text[3]).not.toContain('<fifths>');
    expect(sharp.text[3]).toMatch(/<step>D<\/step>\s*<alter>1<\/alter>/);
    const flat = written(sign(3, 'key', { fifths: -5, minor: false }));
    expect(flat.text[3]).toMatch(/<step>E<\/step>\s*<alter>-1<\/alter>/);
    expect(flat.keyWhy).toContain('You chose the key of one bar.');
    const [found] = written().score.keys;
    const back = written(sign(3, 'key', { ...found, put: false }));
    expect(back.score.keys).toEqual([found]);
  });

  it('repeats and another pace are of the playing: that is said', () => {
    const { undone } = written(
      sign(1, 'repeat-to', {}),
      sign(3, 'tempo', { text: 'Vivo', quartersPerMinute: 180 }),
    );
    expect(undone).toEqual([
      'Bar 1: Repeats of a performance are folded in Notes.',
      'Bar 3: a performance keeps the tempo of its clock; its words stand there.',
    ]);
  });
});
