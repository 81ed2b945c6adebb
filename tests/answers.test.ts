import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import type { Answer } from '@/core/edit/answers';
import { writeSmf } from '@/core/sources/smf/write';
import { answered } from '@/core/workbench/answers';
import { type Compared, compare } from '@/core/workbench/compare';
import { Workbench } from '@/core/workbench/workbench';
import { madeFile, madeTrack, meterAt, type Stroke } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const TICKS = 480;
const UPPER = [72, 76, 79, 77, 74, 71, 74, 79];
const LOWER = [48, 55, 52, 50, 53, 55, 43, 47];
const upper = Array.from({ length: 32 }, (_, at) => UPPER[(at * 3 + (at >> 3)) % 8]! + ((at >> 2) % 3));
const lower = Array.from({ length: 32 }, (_, at) => LOWER[(at * 5 + (at >> 3)) % 8]!);

const NAMES = ['C', 'C', 'D', 'E', 'E', 'F', 'F', 'G', 'A', 'A', 'B', 'B'] as const;
const ALTERS = [0, 1, 0, -1, 0, 0, 1, 0, -1, 0, -1, 0] as const;
const quarter = (key: number) =>
  `<note><pitch><step>${NAMES[key % 12]}</step>${ALTERS[key % 12] ? `<alter>${ALTERS[key % 12]}</alter>` : ''}<octave>${Math.floor(key / 12) - 1}</octave></pitch><duration>2</duration><voice>1</voice><type>quarter</type></note>`;
const part = (id: string, keys: readonly number[]) =>
  `<part id="${id}">${Array.from(
    { length: 8 },
    (_, bar) =>
      `<measure number="${bar + 1}">${bar === 0 ? '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>' : ''}${keys
        .slice(4 * bar, 4 * bar + 4)
        .map(quarter)
        .join('')}</measure>`,
  ).join('')}</part>`;
const SCORE = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Oboe</part-name></score-part><score-part id="P2"><part-name>Bassoon</part-name></score-part></part-list>${part('P1', upper)}${part('P2', lower)}</score-partwise>`;

/** As a player has it: a little apart, released early. */
const played = (keys: readonly number[]): Stroke[] =>
  keys.map(
    (key, beat): Stroke => [
      beat * TICKS + ((beat * 7) % 23),
      beat * TICKS + 400 + ((beat * 11) % 40),
      key,
      60 + beat,
    ],
  );
/** Bar 2 has another key on beat 3, bar 4 no second beat, bar 5 a note more on its last half beat, bar 7 a third beat that lasts. */
const high = played(upper);
high[6] = [high[6]![0], high[6]![1], upper[6]! + 2, 80];
const plays = [
  ...high.filter((_, at) => at !== 13),
  [19 * TICKS + 250, 19 * TICKS + 460, 91, 77] as Stroke,
].sort((a, b) => a[0] - b[0]);

function bench(more: Stroke[] = plays) {
  const file = madeFile(
    madeTrack('Oboe', 0, more, [meterAt(0, 4, 4)]),
    madeTrack('Bassoon', 1, played(lower)),
  );
  const workbench = new Workbench([
    { id: '1', version: 1, name: 'score.musicxml', bytes: new TextEncoder().encode(SCORE) },
    { id: '2', version: 1, name: 'played.mid', bytes: writeSmf(file) },
  ]);
  let revision = 0;
  return {
    workbench,
    under: (...directives: PlainDirective[]) => {
      workbench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
      return finished(workbench.write(revision));
    },
  };
}

const SOURCE: Compared = { kind: 'source', source: '2', version: 1 };
const PAIRS: [Compared, Compared][] = [
  [SOURCE, { kind: 'score' }],
  [{ kind: 'score' }, SOURCE],
];

describe.each(PAIRS)('differences of a score from a performance of it, %o against %o', (...pair) => {
  const { workbench, under } = bench();
  const plain = under();
  const rows = finished(compare(workbench, plain, pair)).rows;
  const answer = (of: readonly string[], answer: Answer) =>
    finished(answered(workbench, plain, pair, of, answer));
  const rowOf = (...kinds: string[]) => rows.find((row) => kinds.includes(row.kinds.join()))!.id;
  const text = (written: ReturnType<typeof under>) =>
    new TextDecoder().decode(deliverScore(written.desk, written.transcription.score, 'musicxml'));

  it('are three: another key, a note that is not played, and one that is not written', () => {
    expect(rows.map(({ kinds }) => kinds.join()).sort()).toEqual(['added', 'missing', 'pitch']);
  });

  it('go as they are played, until both are the same note by note', () => {
    const { directives, left } = answer(
      rows.map(({ id }) => id),
      'theirs',
    );
    expect(left).toBe(0);
    expect(directives.map(({ kind }) => kind).sort()).toEqual(['drop', 'pitch', 'write']);
    const after = under(...directives);
    expect(finished(compare(workbench, after, pair)).differ).toBe(0);
    expect(schemaFaults(parseXml(text(after)))).toEqual([]);
    // Undone, the very document.
    expect(text(under())).toBe(text(plain));
  });

  it('put both keys into the chord where both are wanted', () => {
    const { directives } = answer([rowOf('pitch')], 'both');
    const after = under(...directives);
    const bar = after.transcription.score.parts[0]!.bars[1]!.voices[0]!.items;
    const chord = bar.find((item) => item.kind === 'chord' && item.notes.length === 2);
    expect(chord?.kind === 'chord' && chord.notes.map(({ key }) => key).sort()).toEqual(
      [upper[6]!, upper[6]! + 2].sort(),
    );
    expect(text(after).match(/<chord\b/g)).toHaveLength(1);
  });

  it('write a note more on the eighth on which it is played, up to the next attack', () => {
    const id = rows.find(({ says }) => says.includes('G6'))!.id;
    const [directive] = answer([id], 'both').directives;
    expect(directive).toMatchObject({ kind: 'write', strand: '1/t2c1', start: '39/2', end: '20', key: 91 });
  });

  it('leave a note that only the score has where both are wanted', () => {
    const missing = rows.find(
      ({ says, kinds }) => kinds.length === 1 && kinds[0] !== 'pitch' && !says.includes('G6'),
    )!;
    expect(answer([missing.id], 'both')).toEqual({ directives: [], left: 0 });
    expect(answer([missing.id], 'theirs').directives).toMatchObject([{ kind: 'drop', out: true }]);
  });
});

describe('differences that cannot go', () => {
  it('are counted: what is in no part of the score', () => {
    const { workbench, under } = bench();
    const alone = new Workbench([
      { id: '1', version: 1, name: 'score.musicxml', bytes: new TextEncoder().encode(SCORE) },
      {
        id: '2',
        version: 1,
        name: 'more.mid',
        bytes: writeSmf(
          madeFile(
            madeTrack('Oboe', 0, played(upper), [meterAt(0, 4, 4)]),
            madeTrack('Bassoon', 1, played(lower)),
            madeTrack('Gong', 2, [[9 * TICKS + 130, 10 * TICKS, 31, 90]]),
          ),
        ),
      },
    ]);
    alone.layOut(1, EMPTY_BRIEF);
    const written = finished(alone.write(1));
    const { rows } = finished(compare(alone, written, PAIRS[0]!));
    expect(rows).toHaveLength(1);
    expect(finished(answered(alone, written, PAIRS[0]!, [rows[0]!.id], 'theirs'))).toEqual({
      directives: [],
      left: 1,
    });
    const plain = under();
    expect(() => finished(answered(workbench, plain, [SOURCE, SOURCE], [], 'both'))).toThrow(
      /must be the score/,
    );
  });
});
