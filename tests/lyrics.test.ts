import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { divideText, layLyrics, lyricsText, versesUnder } from '@/core/edit/lyrics';
import type { EventId } from '@/core/model/ids';
import type { Score } from '@/core/model/score';
import { readSyllable, sungText, typedSyllable } from '@/core/model/syllable';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { proofOf } from '@/core/workbench/proof';
import { Workbench } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from './helpers/schema';

interface Sung {
  /** Letter and octave; a rest where it has none. */
  at: string | null;
  /** In eighths. */
  length: number;
  slur?: 'start' | 'stop';
  tie?: 'start' | 'stop';
}

const element = ({ at, length, slur, tie }: Sung): string => {
  const [letter, octave] = [at?.[0], at?.[1]];
  const types: Record<number, string> = { 1: 'eighth', 2: 'quarter', 3: 'quarter', 4: 'half', 6: 'half' };
  return `      <note>
        ${at ? `<pitch><step>${letter}</step><octave>${octave}</octave></pitch>` : '<rest/>'}
        <duration>${length}</duration>${tie ? `\n        <tie type="${tie}"/>` : ''}
        <voice>1</voice>
        <type>${types[length]}</type>${length % 3 === 0 ? '\n        <dot/>' : ''}${
          slur || tie
            ? `\n        <notations>${tie ? `<tied type="${tie}"/>` : ''}${slur ? `<slur number="1" type="${slur}"/>` : ''}</notations>`
            : ''
        }
      </note>`;
};

/** One sung line in 3/4, its bars as they are given. */
const documentOf = (bars: readonly (readonly Sung[])[]): string => `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0">
  <part-list><score-part id="P1"><part-name>Voice</part-name></score-part></part-list>
  <part id="P1">
${bars
  .map(
    (notes, bar) => `    <measure number="${bar + 1}">
${bar === 0 ? '      <attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>3</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>\n' : ''}${notes.map(element).join('\n')}
    </measure>`,
  )
  .join('\n')}
  </part>
</score-partwise>
`;

/** "New Britain" in its usual shape (Walker, Southern Harmony, 1835; from memory), and the place of its words there. */
const tune = (slurs: boolean): Sung[][] => {
  const pair = (from: string, to: string): Sung[] => [
    { at: from, length: 1, ...(slurs && { slur: 'start' }) },
    { at: to, length: 1, ...(slurs && { slur: 'stop' }) },
  ];
  const one = (at: string, length: number): Sung => ({ at, length });
  return [
    [{ at: null, length: 4 }, one('D4', 2)],
    [one('G4', 4), ...pair('B4', 'G4')],
    [one('B4', 4), one('A4', 2)],
    [one('G4', 4), one('E4', 2)],
    [one('D4', 2), { at: null, length: 2 }, one('D4', 2)],
    [one('G4', 4), ...pair('B4', 'G4')],
    [one('B4', 4), one('A4', 2)],
    [{ at: 'D5', length: 6, tie: 'start' }],
    [
      { at: 'D5', length: 4, tie: 'stop' },
      { at: null, length: 2 },
    ],
  ];
};
const WORDS = 'Amazing grace! how sweet the sound\nThat saved a wretch like me!';
const IN_PLACE =
  'D4 A- G4 -ma- B4 -zing_ B4 grace! A4 how G4 sweet E4 the D4 sound D4 That G4 saved B4 a_ B4 wretch A4 like D5 me!';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const job = (document: string) => {
  const bench = new Workbench([{ id: '1', version: 1, name: 'x.musicxml', bytes: bytesOf(document) }]);
  let revision = 0;
  return (...directives: PlainDirective[]) => {
    const { desk } = bench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
    const { score } = finished(bench.write(revision)).transcription;
    return { desk, score, document: new TextDecoder().decode(deliverScore(desk, score, 'musicxml')) };
  };
};
const line = (verse = 1, slurs = true) => ({ part: 0, notes: [] as EventId[], verse, slurs, fit: true });
const chordsOf = ({ parts }: Score) =>
  parts[0]!.bars.flatMap(({ voices }) =>
    voices.flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? [item] : []))),
  );
/** Notes with what stands under them in a verse. */
const under = (score: Score, verse = 1): string =>
  chordsOf(score)
    .flatMap(({ notes, lyrics = [] }) =>
      lyrics
        .filter((lyric) => (lyric.verse ?? 1) === verse)
        .map((lyric) => {
          const { step, octave } = notes[0]!.pitch;
          return `${step}${octave} ${typedSyllable(lyric)}`;
        }),
    )
    .join(' ');

describe('words under a tune', () => {
  it('go one syllable a note, over slurs and ties, and into the text of the document alone', () => {
    const made = job(documentOf(tune(true)));
    const plain = made();
    const text = divideText(WORDS, 'en');
    const { directives, left, free } = layLyrics(plain.score, { ...line(), text });
    expect({ left, free }).toEqual({ left: [], free: 0 });
    const sung = made(...directives);
    expect(under(sung.score)).toBe(IN_PLACE);
    expect(under(readMusicXml(bytesOf(sung.document)).score)).toBe(IN_PLACE);
    expect(schemaFaults(parseXml(sung.document))).toEqual([]);
    // Without them it is the very document.
    expect(sung.document.replace(/\s*<lyric[\s\S]*?<\/lyric>/g, '')).toBe(plain.document);
  });

  it('find their notes without slurs by the lines of the words and the rests of the tune', () => {
    const { score } = job(documentOf(tune(false)))();
    const { laid, left } = layLyrics(score, { ...line(), text: divideText(WORDS, 'en') });
    expect(left).toEqual([]);
    const keys = new Map(chordsOf(score).map(({ notes }) => [notes[0]!.sources[0], notes[0]!]));
    const placed = laid.map(({ note, text }) => {
      const { step, octave } = keys.get(note)!.pitch;
      return `${step}${octave} ${text}`;
    });
    expect(placed.join(' ')).toBe(IN_PLACE);
  });

  it('stand in verses, each by itself, and can be taken off again', () => {
    const made = job(documentOf(tune(true)));
    const { score } = made();
    const first = layLyrics(score, { ...line(), text: divideText(WORDS, 'en') }).directives;
    const text = '2. ’Twas grace that taught my heart to fear,\nAnd grace my fears re-lieved;';
    const second = layLyrics(made(...first).score, { ...line(2), text }).directives;
    const both = made(...first, ...second);
    expect(versesUnder(both.score, 0)).toEqual([1, 2]);
    expect(under(both.score)).toBe(IN_PLACE);
    expect(under(both.score, 2)).toMatch(/^D4 2\. ’Twas G4 grace B4 that_ B4 taught A4 my/);
    const off = layLyrics(both.score, { ...line(), text: '' });
    const left = made(...first, ...second, ...off.directives);
    expect(versesUnder(left.score, 0)).toEqual([2]);
  });

  it('hold, skip and join notes as is said, and tell what has no note', () => {
    const { score } = job(documentOf(tune(true)))();
    const lay = (text: string) => layLyrics(score, { ...line(), text });
    const texts = (text: string) => lay(text).laid.map(({ text: own }) => own);
    expect(texts('glo-_-_-ri-a * in~ex-cel-sis')).toEqual(['glo-', '-ri-', '-a', 'in~ex-', '-cel-', '-sis']);
    expect(lay('glo-_-_-ri-a').laid.map(({ bar }) => bar)).toEqual([0, 2, 2]);
    expect(texts('home — a-way')).toEqual(['home —', 'a-', '-way_']);
    expect(lay('')).toEqual({ laid: [], left: [], free: 14, isFitted: true, directives: [] });
    const many = lay(Array.from({ length: 20 }, (_, at) => `w${at}`).join(' '));
    expect(many.left).toEqual(['w14', 'w15', 'w16', 'w17', 'w18', 'w19']);
  });

  it('go from a chosen note on, or under chosen notes alone', () => {
    const { score } = job(documentOf(tune(true)))();
    const all = layLyrics(score, { ...line(), text: 'la '.repeat(14) }).laid.map(({ note }) => note);
    const placed = (notes: EventId[], text: string) =>
      layLyrics(score, { ...line(), notes, text }).laid.map(({ note, text: own }) => [
        all.indexOf(note),
        own,
      ]);
    expect(placed([all[9]!], 'sa-ved')).toEqual([
      [9, 'sa-'],
      [10, '-ved_'],
    ]);
    expect(placed([all[2]!, all[5]!], 'la le lu').map(([at]) => at)).toEqual([2, 5]);
  });

  it('are sung in the MIDI file, with hyphens where words go on', () => {
    const made = job(documentOf(tune(true)));
    const { directives } = layLyrics(made().score, { ...line(), text: divideText(WORDS, 'en') });
    const { desk } = made(...directives);
    expect(desk.performance.lyrics.map(({ text }) => text).slice(0, 4)).toEqual([
      'A-',
      'ma-',
      'zing',
      'grace!',
    ]);
  });

  it('are read from the page as they are typed, and laid again change nothing', () => {
    const made = job(documentOf(tune(false)));
    const plain = made();
    const token = fc.constantFrom('la', 'a-way', 'glo-_-ri-a', '*', '_', 'do~re', 'night,', 'Je-su');
    const texts = fc.array(token, { minLength: 1, maxLength: 20 }).map((tokens) => tokens.join(' '));
    fc.assert(
      fc.property(texts, fc.boolean(), fc.boolean(), (text, slurs, fit) => {
        const { directives } = layLyrics(plain.score, { ...line(1, slurs), text, fit });
        const { score } = made(...directives);
        const read = lyricsText(score, line(1, slurs));
        expect(layLyrics(score, { ...line(1, slurs), text: read, fit: false }).directives).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });
});

describe('a syllable', () => {
  it('is what it was typed as', () => {
    for (const typed of ['la', 'la-', '-la-', '-la', 'la_', 'do~re', '-do~re-', '~la', 'a b'])
      expect(typedSyllable(readSyllable(typed))).toBe(typed);
    expect(sungText(readSyllable('-lu-'))).toBe('lu-');
    expect(sungText(readSyllable('do~re'))).toBe('dore');
  });
});

describe('words that are broken off', () => {
  const made = job(documentOf(tune(true)));
  const found = (text: string) => {
    const plain = made();
    const { directives } = layLyrics(plain.score, { ...line(), text, fit: false });
    const bench = new Workbench([
      { id: '1', version: 1, name: 'x.musicxml', bytes: bytesOf(documentOf(tune(true))) },
    ]);
    const state = (decided: PlainDirective[]) => {
      bench.layOut(1, withDirectives(EMPTY_BRIEF, [...directives, ...decided]));
      return finished(proofOf(finished(bench.write(1)))).findings.filter(({ check }) => check === 'lyrics');
    };
    const findings = state([]);
    return { findings, left: state(findings.flatMap(({ mends }) => mends[0]!.directives)) };
  };

  it('are found at their note, with a mend that ends the word or begins one', () => {
    const { findings, left } = found('lan- row -tern o-ver fer-');
    expect(findings.map(({ what, weight, mends }) => [what, weight, mends[0]!.label])).toEqual([
      ['“lan-” has a hyphen, and its word does not go on.', 'doubtful', 'End the word here'],
      ['“-tern” goes on from no syllable before it.', 'doubtful', 'Begin a word here'],
      ['“fer-” has a hyphen, and its word does not go on.', 'doubtful', 'End the word here'],
    ]);
    expect(left).toEqual([]);
  });

  it('are none where words are whole', () => {
    expect(found('lan-tern o-ver glo-_-ri-a').findings).toEqual([]);
  });
});
