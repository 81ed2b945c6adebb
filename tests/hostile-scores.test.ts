import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { deliverScore } from '@/core/deliver/score';
import { ALL_PLAYED } from '@/core/perform/settings';
import { timelineOf } from '@/core/sound/timeline';
import { BadSourceError } from '@/core/sources';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { readSmf } from '@/core/sources/smf/read';
import { unaccounted } from '@/core/transcribe';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';

/** A small score in which nearly everything is that is played out or written anew. */
const note = (step: string, octave: number, duration: number, more = '', before = '') =>
  `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>quarter</type>${more}</note>`;
const marked = (inner: string) => `<notations>${inner}</notations>`;
const said = (inner: string) => `<direction><direction-type>${inner}</direction-type></direction>`;
const transpose = (diatonic: number, chromatic: number) =>
  `<transpose><diatonic>${diatonic}</diatonic><chromatic>${chromatic}</chromatic></transpose>`;
const RICH = `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><defaults><word-font font-size="9"/></defaults><part-list><score-part id="P1"><part-name>Horns 1 &amp; 2</part-name></score-part><score-part id="P2"><part-name>Harp</part-name></score-part></part-list>
<part id="P1"><measure number="1" width="200"><print new-page="yes"/><attributes><divisions>8</divisions><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef>${transpose(-4, -7)}</attributes>
<harmony><root><root-step>B</root-step><root-alter>-1</root-alter></root><kind>major</kind></harmony>${said('<dynamics><p/></dynamics>')}${said('<wedge type="crescendo"/>')}${said('<words>stopped</words>')}
${note('F', 4, 8, `<accidental>sharp</accidental>${marked('<slur type="start"/>')}`)}${note('A', 4, 8, marked('<slur type="stop"/><ornaments><trill-mark/><accidental-mark>flat</accidental-mark></ornaments>'))}
<note><grace slash="yes"/><pitch><step>B</step><octave>4</octave></pitch><voice>1</voice><type>eighth</type></note>${note('C', 5, 16, marked('<fermata/>'))}</measure>
<measure number="2"><attributes><key><fifths>-2</fifths></key>${transpose(-2, -3)}</attributes>${said('<wedge type="stop"/>')}${said('<words>a2</words>')}${note('G', 4, 16, marked('<slide type="start" number="1"/>'))}${note('C', 5, 16, marked('<slide type="stop" number="1"/><articulations><staccato/><breath-mark/></articulations>'))}<barline location="right"><repeat direction="backward"/></barline></measure></part>
<part id="P2"><measure number="1"><attributes><divisions>8</divisions><key><fifths>0</fifths></key><staves>2</staves></attributes>${said('<pedal type="start" line="yes"/>')}${note('C', 4, 16, marked('<glissando type="start" number="1"/><arpeggiate/>'))}${note('G', 4, 16, '', '<chord/>')}${note('C', 5, 16, marked('<glissando type="stop" number="1"/>'))}</measure>
<measure number="2">${said('<pedal type="stop" line="yes"/>')}${note('C', 4, 32)}</measure></part></score-partwise>
`;

const DECISIONS: PlainDirective[] = [
  { kind: 'perform', ...ALL_PLAYED, dynamics: 'both' },
  { kind: 'transpose', strand: '1/t2c1', steps: 1, semitones: 2 },
  { kind: 'cast', strand: '1/t2c1', instrument: 'clarinet-bflat' },
  {
    kind: 'curve',
    lane: 'cc11',
    points: [
      { tick: 0, value: 1 },
      { tick: 960, value: 99 },
    ],
  },
  { kind: 'hand-over', ...DEFAULT_HAND_OVER, apart: ['techniques', 'players'], thin: 10 },
  { kind: 'score-form', pitch: 'concert', layout: 'left-out' },
];

/** Everything that the product does with a score, or the one sentence that refuses it. */
function through(text: string): string {
  try {
    const bytes = new TextEncoder().encode(text);
    const workbench = new Workbench([{ id: '1', version: 1, name: 'x.musicxml', bytes }]);
    const state = workbench.layOut(1, withDirectives(EMPTY_BRIEF, DECISIONS));
    const { desk } = state;
    finished(stockOf(state));
    const { transcription } = finished(workbench.write(1));
    expect(unaccounted(transcription.account)).toBe(0);
    readSmf(deliverMidi(desk));
    timelineOf(desk, 'cleaned', null);
    timelineOf(desk, 'score', transcription.score);
    const given = deliverScore(desk, transcription.score, 'musicxml');
    readMusicXml(given);
    // Undecided it goes out as it came, however damaged.
    const plain = workbench.layOut(2, EMPTY_BRIEF);
    const { score } = finished(workbench.write(2)).transcription;
    expect(deliverScore(plain.desk, score, 'musicxml')).toEqual(bytes);
    return 'done';
  } catch (error) {
    if (error instanceof BadSourceError) return error.message;
    throw error;
  }
}

const ELEMENTS = [...RICH.matchAll(/<([a-z-]+)(?:\s[^>]*)?>[^<]*<\/\1>|<[a-z-]+(?:\s[^>]*)?\/>/g)].map(
  ({ index, 0: text }) => ({ from: index, to: index + text.length }),
);

describe('damaged scores go the whole way, or end in a sentence', () => {
  it('as they are', () => {
    expect(through(RICH)).toBe('done');
  });

  it('with elements taken out, doubled and put elsewhere', () => {
    const damage = fc.record({
      what: fc.constantFrom('out', 'twice', 'elsewhere'),
      at: fc.nat(ELEMENTS.length - 1),
      to: fc.nat(ELEMENTS.length - 1),
    });
    fc.assert(
      fc.property(fc.array(damage, { minLength: 1, maxLength: 4 }), (all) => {
        // From the back, so that places before stay.
        const changes = all
          .flatMap(({ what, at, to }) => {
            const { from, to: end } = ELEMENTS[at]!;
            const text = RICH.slice(from, end);
            const out = { from, to: end, text: '' };
            if (what === 'out') return [out];
            if (what === 'twice') return [{ from: end, to: end, text }];
            const place = ELEMENTS[to]!.to;
            return place > from && place < end ? [out] : [out, { from: place, to: place, text }];
          })
          .sort((a, b) => b.from - a.from)
          .filter((change, index, sorted) => index === 0 || change.to <= sorted[index - 1]!.from);
        let text = RICH;
        for (const change of changes) text = text.slice(0, change.from) + change.text + text.slice(change.to);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });

  it('with other numbers and words in them', () => {
    const values = [...RICH.matchAll(/>([^<\s][^<]*)</g)].map(({ index, 1: value }) => ({
      from: index + 1,
      to: index + 1 + value!.length,
    }));
    const put = fc.record({
      at: fc.nat(values.length - 1),
      value: fc.constantFrom('0', '-1', '999999999', '1e9', 'x', '0.3', '-99', '127', 'H', '&#0;'),
    });
    fc.assert(
      fc.property(fc.array(put, { minLength: 1, maxLength: 3 }), (all) => {
        let text = RICH;
        const sorted = all
          .toSorted((a, b) => b.at - a.at)
          .filter(({ at }, index, each) => at !== each[index - 1]?.at);
        for (const { at, value } of sorted)
          text = text.slice(0, values[at]!.from) + value + text.slice(values[at]!.to);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });

  it('with bytes that are others', () => {
    const change = fc.tuple(
      fc.nat(RICH.length - 1),
      fc.constantFrom('', '<', '>', '/', '"', '9', ' ', '\u0000', 'é'),
    );
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 3 }), (all) => {
        let text = RICH;
        for (const [at, other] of all) text = text.slice(0, at) + other + text.slice(at + 1);
        expect(through(text).length).toBeGreaterThan(0);
      }),
      { numRuns: 150 },
    );
  });
});
