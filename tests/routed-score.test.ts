import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import type { StrandId } from '@/core/model/ids';
import type { Part, Score } from '@/core/model/score';
import { unaccounted } from '@/core/transcribe';
import { unheeded } from '@/core/workbench/read-score';
import { Workbench } from '@/core/workbench/workbench';
import { readClosed } from './helpers/closure';
import { parseXml, schemaFaults } from './helpers/schema';
import { disagreements } from './helpers/written-into';

const note = (pitch: string, type: string, duration: number, more = '') => {
  const [step, octave] = [pitch[0]!, pitch.at(-1)!];
  const alter = pitch.includes('#') ? '<alter>1</alter>' : '';
  return `<note><pitch><step>${step}</step>${alter}<octave>${octave}</octave></pitch><duration>${duration}</duration><voice>1</voice><type>${type}</type>${more}</note>`;
};
const quarters = (...pitches: string[]) => pitches.map((pitch) => note(pitch, 'quarter', 1)).join('');
const REST = '<note><rest measure="yes"/><duration>4</duration><voice>1</voice></note>';
const ATTRIBUTES =
  '<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const TEMPO =
  '<direction placement="above"><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>96</per-minute></metronome></direction-type><sound tempo="96"/></direction>';
const words = (text: string) =>
  `<direction placement="above"><direction-type><words>${text}</words></direction-type></direction>`;
const part = (id: string, ...bars: string[]) =>
  `<part id="${id}">\n${bars
    .map((bar, at) => `<measure number="${at + 1}">${at === 0 ? ATTRIBUTES : ''}${bar}</measure>`)
    .join('\n')}\n</part>`;
const listed = (id: string, name: string) =>
  `<score-part id="${id}"><part-name>${name}</part-name><part-abbreviation>${name}</part-abbreviation></score-part>`;

const FLUTES = `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><part-list>
    ${listed('P1', 'Flute 1')}
    ${listed('P2', 'Flute 2')}
    ${listed('P3', 'Violoncello')}
  </part-list>
${part('P1', TEMPO + quarters('C5', 'D5', 'E5', 'F#5'), quarters('G5', 'F5', 'E5', 'D5'), note('C5', 'whole', 4), quarters('E5', 'F5', 'G5', 'A5'), quarters('C5', 'D5', 'E5', 'F5'))}
${part('P2', quarters('A4', 'B4', 'C5', 'D5'), quarters('E5', 'D5', 'C5', 'B4'), REST, quarters('E5', 'F5', 'G5', 'A5'), note('A4', 'half', 2) + note('G4', 'half', 2))}
${part('P3', note('C3', 'whole', 4), REST, note('G2', 'whole', 4), REST, REST)}
</score-partwise>
`;

const [HORN_1, HORN_2] = [words('1.'), words('a2')];
const HORNS = `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><part-list>
    ${listed('P1', 'Horns 1 &amp; 2')}
    ${listed('P2', 'Tuba')}
  </part-list>
${part('P1', TEMPO + note('E4', 'half', 2) + note('G4', 'half', 2).replace('<note>', '<note>'), `${HORN_1}${quarters('G4', 'A4', 'B4', 'C5')}`, `${HORN_2}${quarters('C4', 'D4', 'E4', 'F#4')}`)}
${part('P2', note('C2', 'whole', 4), REST, note('F2', 'whole', 4))}
</score-partwise>
`.replace(
  note('E4', 'half', 2),
  `${note('C4', 'half', 2)}${note('E4', 'half', 2).replace('<note>', '<note><chord/>')}`,
);

function job(document: string, ...directives: PlainDirective[]) {
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
  ]);
  const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { transcription } = finished(workbench.write(1));
  const text = new TextDecoder().decode(deliverScore(desk, transcription.score, 'musicxml'));
  return { desk, transcription, text, score: transcription.score };
}
const leaders = (document: string): StrandId[] =>
  job(document).transcription.plans.map(({ leader }) => leader);

const namesOf = ({ parts }: Score) => parts.map(({ name }) => name);
/** Chords of a part bar by bar, voices divided by `|`: "C4+E4 G4 | …". */
const shown = ({ bars }: Part): string[] =>
  bars.map(({ voices }) =>
    voices
      .map(({ items }) =>
        items
          .map((item) =>
            item.kind === 'rest'
              ? 'r'
              : item.notes.map(({ pitch: { step, octave } }) => `${step}${octave}`).join('+'),
          )
          .join(' '),
      )
      .join(' | '),
  );
const wordsOf = ({ bars }: Part): string[] =>
  bars.flatMap(({ marks = [] }, bar) =>
    marks.flatMap((mark) => (mark.kind === 'words' ? [`${bar + 1} ${mark.text}`] : [])),
  );
/** Sounding keys of a document, read without the product. */
const keysIn = (text: string) =>
  readClosed(parseXml(text))
    .notes.map(({ key }) => key)
    .sort((a, b) => a - b);

describe('parts of a score on one staff', () => {
  const [one, two] = leaders(FLUTES) as [StrandId, StrandId];
  const joined = job(FLUTES, { kind: 'join', strand: two, into: one });

  it('share stems, voices or notes as the music asks, and say who is alone', () => {
    const [flutes] = joined.score.parts as [Part];
    expect(namesOf(joined.score)).toEqual(['Flute 1+2', 'Violoncello']);
    expect(shown(flutes)).toEqual([
      'A4+C5 B4+D5 C5+E5 D5+F5',
      'E5+G5 D5+F5 C5+E5 B4+D5',
      'C5',
      'E5 F5 G5 A5',
      'C5 D5 E5 F5 | A4 G4',
    ]);
    expect(wordsOf(flutes)).toEqual(['3 1.', '4 a2']);
    expect(unaccounted(joined.transcription.account)).toBe(0);
    expect(joined.transcription.account.merged).toBe(4);
  });

  it('are written anew, and no other part is touched', () => {
    const { text } = joined;
    expect(schemaFaults(parseXml(text))).toEqual([]);
    const cello = FLUTES.slice(FLUTES.indexOf('<part id="P3">'), FLUTES.indexOf('</score-partwise>'));
    expect(text).toContain(cello.trimEnd());
    expect(text).not.toContain('<part id="P2">');
    // What stood in the first part for all goes with it.
    expect(text.match(/<per-minute>96/g)).toHaveLength(1);
    expect(disagreements(text, joined.score)).toEqual([]);
    expect(text.match(/<accidental>/g)).toHaveLength(1);
  });

  it('stay apart where they cannot share one, which is said', () => {
    const staff = (number: number) => `<staff>${number}</staff>`;
    const twoStaves = FLUTES.replace(
      part('P3', note('C3', 'whole', 4), REST, note('G2', 'whole', 4), REST, REST),
      part(
        'P3',
        note('C3', 'whole', 4, staff(2)),
        REST,
        note('G2', 'whole', 4, staff(2)),
        REST,
        REST,
      ).replace('</time>', '</time><staves>2</staves>'),
    );
    const ids = leaders(twoStaves);
    const { desk, text, score } = job(twoStaves, { kind: 'join', strand: ids[2]!, into: ids[0]! });
    expect(unheeded(desk)).toEqual(['Flute 1 and Violoncello stay apart: one of them has two staves.']);
    expect(namesOf(score)).toEqual(['Flute 1', 'Flute 2', 'Violoncello']);
    expect(keysIn(text)).toEqual(keysIn(twoStaves));
  });
});

describe('a part of a score divided over its players', () => {
  const [horns] = leaders(HORNS) as [StrandId];
  const divided = job(HORNS, {
    kind: 'split',
    strand: horns,
    by: 'chairs',
    chairs: ['horn-f', 'horn-f'],
  });

  it('gives each what the score says is theirs, what both play to both', () => {
    const [first, second, tuba] = divided.score.parts as [Part, Part, Part];
    expect(namesOf(divided.score)).toEqual(['Horns 1', 'Horns 2', 'Tuba']);
    expect(shown(first)).toEqual(['E4 G4', 'G4 A4 B4 C5', 'C4 D4 E4 F4']);
    expect(shown(second)).toEqual(['C4 G4', 'r', 'C4 D4 E4 F4']);
    expect(wordsOf(first)).toEqual([]);
    expect(shown(tuba)).toEqual(['C2', 'r', 'F2']);
    expect(unaccounted(divided.transcription.account)).toBe(0);
  });

  it('writes two parts in the place of one, with tempos said once', () => {
    const { text } = divided;
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect([...text.matchAll(/<part id="(\w+)">/g)].map(([, id]) => id)).toEqual(['P1', 'P3', 'P2']);
    expect(text.match(/<per-minute>96/g)).toHaveLength(1);
    expect(disagreements(text, divided.score)).toEqual([]);
  });

  it('comes back as it was when it is made whole again', () => {
    const { text } = job(
      HORNS,
      { kind: 'split', strand: horns, by: 'chairs', chairs: ['horn-f', 'horn-f'] },
      { kind: 'split', strand: horns, by: null },
    );
    expect(text).toBe(HORNS);
  });
});

describe('the first part of a score', () => {
  it('leaves its tempos to the next where it is left out', () => {
    const [one] = leaders(FLUTES) as [StrandId];
    const { text, score } = job(FLUTES, { kind: 'leave-out', strand: one, out: true });
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(text.match(/<per-minute>96/g)).toHaveLength(1);
    expect(namesOf(score)).toEqual(['Flute 2', 'Violoncello']);
    expect(disagreements(text, score)).toEqual([]);
    const again = job(text);
    expect(again.score.tempos).toEqual(score.tempos);
    expect(again.score.parts[0]!.bars[0]!.marks).toEqual(score.parts[0]!.bars[0]!.marks);
  });
});

describe('parts that are added to a score', () => {
  const [one, two, cello] = leaders(FLUTES) as [StrandId, StrandId, StrandId];
  it('rest, or play what is joined to them', () => {
    const { text, score } = job(
      FLUTES,
      { kind: 'part', strand: '0/p1', instrument: 'piano' },
      { kind: 'part', strand: '0/p2', instrument: 'clarinet-bflat' },
      { kind: 'join', strand: two, into: '0/p2' },
      { kind: 'order', strands: [one, '0/p2', '0/p1', cello] },
    );
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(namesOf(score)).toEqual(['Flute 1', 'B♭ Clarinet', 'Piano', 'Violoncello']);
    const [, clarinet, piano] = score.parts as [Part, Part, Part];
    // A tone higher on paper.
    expect(shown(clarinet)[0]).toBe('B4 C5 D5 E5');
    expect(shown(piano)).toEqual(Array(5).fill('r | r'));
    expect(keysIn(text)).toEqual(keysIn(FLUTES));
    expect(disagreements(text, score)).toEqual([]);
  });

  it('have the brackets that were chosen, in the text too', () => {
    const { text, score } = job(FLUTES, {
      kind: 'brackets',
      groups: [
        { from: one, to: two, symbol: 'brace', joined: true, name: 'Flutes' },
        { from: one, to: cello, symbol: 'line', joined: false },
      ],
    });
    expect(schemaFaults(parseXml(text))).toEqual([]);
    expect(score.groups).toEqual([
      { from: 0, to: 1, symbol: 'brace', joined: true, name: 'Flutes' },
      { from: 0, to: 2, symbol: 'line', joined: false },
    ]);
    const again = job(text);
    expect(again.score.groups?.toSorted((a, b) => a.to - b.to)).toEqual(score.groups);
    expect(text.slice(text.indexOf('<part id="P1">'))).toBe(FLUTES.slice(FLUTES.indexOf('<part id="P1">')));
  });
});

describe('routes', () => {
  it('lose no note, whatever is divided, joined and added', () => {
    const documents = [FLUTES, HORNS];
    const routes = fc.record({
      document: fc.constantFrom(...documents),
      divided: fc.option(fc.nat(2)),
      joins: fc.array(fc.tuple(fc.nat(2), fc.nat(3)), { maxLength: 3 }),
    });
    fc.assert(
      fc.property(routes, ({ document, divided, joins }) => {
        const ids = leaders(document);
        const own = (at: number): StrandId => ids[at % ids.length]!;
        const { text, score, transcription, desk } = job(
          document,
          { kind: 'part', strand: '0/p1', instrument: 'oboe' },
          ...(divided === null
            ? []
            : [
                {
                  kind: 'split' as const,
                  strand: own(divided),
                  by: 'chairs' as const,
                  chairs: ['flute', 'flute'],
                },
              ]),
          ...joins.map(
            ([strand, into]): PlainDirective => ({
              kind: 'join',
              strand: own(strand),
              into: into === 3 ? '0/p1' : own(into),
            }),
          ),
        );
        expect(unaccounted(transcription.account)).toBe(0);
        expect(disagreements(text, score)).toEqual([]);
        expect(schemaFaults(parseXml(text))).toEqual([]);
        const played = new Set(desk.performance.strands.flatMap(({ notes }) => notes.map(({ id }) => id)));
        const written = new Set(
          score.parts.flatMap(({ bars }) =>
            bars.flatMap(({ voices }) =>
              voices.flatMap(({ items }) =>
                items.flatMap((item) =>
                  item.kind === 'chord' ? item.notes.flatMap(({ sources }) => sources) : [],
                ),
              ),
            ),
          ),
        );
        expect(written).toEqual(played);
      }),
      { numRuns: 60 },
    );
  });
});
