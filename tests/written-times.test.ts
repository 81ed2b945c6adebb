import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { HandOverChoice } from '@/core/decisions/kinds/hand-over';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { readSmf } from '@/core/sources/smf/read';
import { type Compared, compare, comparedSound } from '@/core/workbench/compare';
import { Workbench } from '@/core/workbench/workbench';
import { engraver } from './helpers/verovio';

/** Bars of four quarters, each with what stands at its bar lines and in it. */
const score = (...bars: { left?: string; right?: string; says?: string; notes?: string }[]): string =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list>
<part id="P1">${bars
    .map(({ left = '', right = '', says = '', notes }, index) => {
      const quarters = ['C', 'D', 'E', 'F'].map(
        (step) =>
          `<note><pitch><step>${step}</step><octave>${4 + (index % 3)}</octave></pitch><duration>2</duration><voice>1</voice><type>quarter</type></note>`,
      );
      return `<measure number="${index + 1}">${left && `<barline location="left">${left}</barline>`}${
        index === 0
          ? '<attributes><divisions>2</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>'
          : ''
      }${says}${notes ?? quarters.join('')}${right && `<barline location="right">${right}</barline>`}</measure>`;
    })
    .join('')}</part></score-partwise>`;

const backward = (times?: number) => `<repeat direction="backward"${times ? ` times="${times}"` : ''}/>`;
const forward = '<repeat direction="forward"/>';
const ending = (number: string, type: string) => `<ending number="${number}" type="${type}"/>`;
const sound = (words: string, how: string) =>
  `<direction><direction-type><words>${words}</words></direction-type><sound ${how}/></direction>`;

interface Struck {
  /** Quarters from the start. */
  at: number;
  key: number;
  length: number;
}

const byTime = (a: Struck, b: Struck) => a.at - b.at || a.key - b.key;

/** The attacks of a MIDI file in their order. */
function struckIn(bytes: Uint8Array): Struck[] {
  const smf = readSmf(bytes);
  if (smf.division.kind !== 'quarter') throw new Error('no quarters');
  const { ticks } = smf.division;
  return smf.tracks
    .flatMap(({ events }) =>
      events.flatMap((event, index): Struck[] => {
        if (event.kind !== 'noteOn') return [];
        const end = events
          .slice(index)
          .find(
            (other) => other.kind === 'noteOff' && other.key === event.key && other.channel === event.channel,
          );
        return [
          {
            at: event.tick / ticks,
            key: event.key,
            length: ((end?.tick ?? event.tick) - event.tick) / ticks,
          },
        ];
      }),
    )
    .sort(byTime);
}

function delivered(document: string, choice: Partial<HandOverChoice> = { times: 'written' }): Struck[] {
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
  ]);
  const handOver = { ...DEFAULT_HAND_OVER, ...choice };
  const { desk } = workbench.layOut(
    1,
    withDirectives(EMPTY_BRIEF, [{ kind: 'hand-over' as const, ...handOver }]),
  );
  return struckIn(deliverMidi(desk, handOver, finished(workbench.write(1)).transcription));
}

const SCORES: Readonly<Record<string, [document: string, attacks: number, bars: number]>> = {
  'a backward repeat': [score({}, { right: backward() }), 16, 4],
  'a forward and a backward repeat': [score({}, { left: forward }, { right: backward() }, {}), 24, 6],
  'a section three times': [score({}, { left: forward, right: backward(3) }, {}), 20, 5],
  endings: [
    score(
      {},
      { left: ending('1', 'start'), right: ending('1', 'stop') + backward() },
      { left: ending('2', 'start'), right: ending('2', 'stop') },
      {},
    ),
    20,
    5,
  ],
  'D.C. al Fine': [
    score({}, { says: sound('Fine', 'fine="yes"') }, {}, { says: sound('D.C. al Fine', 'dacapo="yes"') }),
    24,
    6,
  ],
};

describe('notes as written, of a score whose bars are played more than once', () => {
  for (const [name, [document, attacks, bars]] of Object.entries(SCORES)) {
    it(`stand once in each time through: ${name}`, async () => {
      const own = delivered(document);
      expect(own.length).toBe(attacks);
      expect(own.every(({ length }) => length === 1)).toBe(true);
      expect(own.map(({ at }) => at)).toEqual(Array.from({ length: 4 * bars }, (_, at) => at));
      // A second reader of the same score plays the same notes at the same times.
      const toolkit = await engraver();
      toolkit.setOptions({ expandAlways: true });
      toolkit.loadData(document);
      const other = struckIn(new Uint8Array(Buffer.from(toolkit.renderToMIDI(), 'base64')));
      expect(own.map(({ at, key }) => [at, key])).toEqual(other.map(({ at, key }) => [at, key]));
    });
  }

  it('keep their strokes apart, each time through', () => {
    const tremolo =
      '<note><pitch><step>C</step><octave>5</octave></pitch><duration>8</duration><voice>1</voice><type>whole</type><notations><ornaments><tremolo type="single">1</tremolo></ornaments></notations></note>';
    const document = score({ notes: tremolo, right: backward() });
    const own = delivered(document);
    expect(own.map(({ at }) => at)).toEqual(Array.from({ length: 16 }, (_, index) => index / 2));
    expect(own.map(({ at }) => at)).toEqual(delivered(document, { times: 'played' }).map(({ at }) => at));
  });
});

describe('a score that is compared without its repeats', () => {
  it('is heard in turns from the bars that are compared, where they are first played', () => {
    const document = score({}, { right: backward() }, {}, {});
    const bench = new Workbench([
      { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
    ]);
    const { desk } = bench.layOut(1, withDirectives(EMPTY_BRIEF, [{ kind: 'perform', repeats: false }]));
    const bytes = deliverMidi(desk, DEFAULT_HAND_OVER, finished(bench.write(1)).transcription);
    bench.add({ id: '2', version: 1, name: 'plain.mid', bytes });
    bench.layOut(2, EMPTY_BRIEF);
    const written = finished(bench.write(2));
    const pair: [Compared, Compared] = [
      { kind: 'source', source: '1', version: 1 },
      { kind: 'source', source: '2', version: 1 },
    ];
    expect(finished(compare(bench, written, pair))).toMatchObject({ differ: 0, agree: 16 });
    // Two seconds a bar; bars 3 and 4 come after bars 1 and 2 have come again.
    const own = finished(comparedSound(bench, written, pair, 0));
    expect([...own.from]).toEqual([0, 2, 8, 10]);
    expect([...own.until]).toEqual([2, 4, 10, 12]);
    const other = finished(comparedSound(bench, written, pair, 1));
    expect([...other.from]).toEqual([0, 2, 4, 6]);
  });
});
