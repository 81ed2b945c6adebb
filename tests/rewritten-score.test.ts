import fc from 'fast-check';
import { parse as parseElsewhere } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import type { EventId } from '@/core/model/ids';
import { QUARTER } from '@/core/model/time';
import { rewrittenScore, type ScoreEdits } from '@/core/rewrite';
import { readScore } from '@/core/sources/musicxml/source';
import { placesIn } from '@/core/sources/musicxml/splice';
import { decideNotes } from '@/core/workbench/note-edits';
import { Workbench } from '@/core/workbench/workbench';
import { differing, EDIT_KINDS, editOf, expected, otherBars, standing } from './helpers/edited-score';
import { RICH } from './helpers/rich-document';
import { parseXml, schemaFaults } from './helpers/schema';

const note = (step: string, duration: number, type: string, more = '', before = '') =>
  `<note>${before}<pitch><step>${step}</step><octave>5</octave></pitch><duration>${duration}</duration><voice>1</voice><type>${type}</type>${more}</note>`;
const ATTRIBUTES =
  '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const score = (...bars: string[]) =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Flute</part-name></score-part></part-list><part id="P1">${bars
    .map((bar, index) => `\n<measure number="${index + 1}">${index === 0 ? ATTRIBUTES : ''}${bar}</measure>`)
    .join('')}</part></score-partwise>`;
const slur = (type: string) => `<notations><slur type="${type}" number="1"/></notations>`;
const beam = (type: string) => `<beam number="1">${type}</beam>`;

const NONE: ScoreEdits = { dropped: new Set(), placed: new Map(), added: new Map(), lines: new Map() };
const ID = (index: number): EventId => `1/t2c1/${index}`;
const read = (document: string) => finished(readScore(new TextEncoder().encode(document), '1'));
const after = (document: string, edits: Partial<ScoreEdits>) => {
  const before = read(document);
  const { reading, refused, changes } = rewrittenScore(before, { ...NONE, ...edits });
  return { text: reading.document.text, refused, changes, mends: reading.mends, reading };
};
const bars = (text: string) => [...text.matchAll(/<measure[^>]*>(.*?)<\/measure>/gs)].map(([, bar]) => bar);
const rest = (duration: number, type: string) =>
  `<note><rest/><duration>${duration}</duration><voice>1</voice><type>${type}</type></note>`;

describe('a bar of a document written anew', () => {
  const PLAIN = score(
    note('C', 2, 'quarter', slur('start')) +
      note('D', 1, 'eighth', beam('begin')) +
      note('E', 1, 'eighth', beam('end') + slur('stop')) +
      note('F', 4, 'half'),
    note('G', 8, 'whole'),
  );

  it('has a rest where a note goes, and no beam to it; all else stays to the character', () => {
    const { text, mends } = after(PLAIN, { dropped: new Set([ID(1)]) });
    expect(text).toBe(
      PLAIN.replace(note('D', 1, 'eighth', beam('begin')), rest(1, 'eighth')).replace(beam('end'), ''),
    );
    expect(mends).toEqual([]);
  });

  it('lets a slur begin at the next note where its own goes, and takes it off where there is none between', () => {
    const { text } = after(PLAIN, { dropped: new Set([ID(0)]) });
    expect(bars(text)[0]).toContain(
      note('D', 1, 'eighth', `${beam('begin')}<notations><slur type="start" number="1"/></notations>`),
    );
    const { text: none, mends, changes } = after(PLAIN, { dropped: new Set([ID(0), ID(1)]) });
    expect(changes).toEqual([
      { part: 0, what: 'notes', before: 5, after: 3 },
      { part: 0, what: 'slurs', before: 1, after: 0 },
    ]);
    expect(none).not.toContain('slur');
    expect(mends).toEqual([]);
  });

  it('is one rest where nothing is left', () => {
    const { text } = after(PLAIN, { dropped: new Set([ID(4)]) });
    expect(bars(text)[1]).toBe('<note><rest measure="yes"/><duration>8</duration><voice>1</voice></note>');
  });

  it('ties a note over the bar line, into another voice where its own is taken', () => {
    const { text, reading } = after(PLAIN, { placed: new Map([[ID(3), { end: 5 * QUARTER }]]) });
    expect(bars(text)[0]).toContain(
      '<pitch><step>F</step><octave>5</octave></pitch><duration>4</duration><tie type="start"/><voice>1</voice><type>half</type><notations><tied type="start"/></notations></note>',
    );
    expect(bars(text)[1]).toBe(
      `${note('G', 8, 'whole')}<backup><duration>8</duration></backup><note><pitch><step>F</step><octave>5</octave></pitch><duration>2</duration><tie type="stop"/><voice>2</voice><type>quarter</type><notations><tied type="stop"/></notations></note><forward><duration>6</duration></forward>`,
    );
    expect(standing(reading.score).get(ID(3))).toMatchObject({ end: 5 * QUARTER });
  });

  it('counts finer where it has to, and as before behind', () => {
    const third = QUARTER / 3;
    const { text } = after(PLAIN, {
      placed: new Map([[ID(4), { start: 4 * QUARTER + third, end: 4 * QUARTER + 2 * third }]]),
    });
    const bar = bars(text)[1]!;
    expect(bar.startsWith('<attributes><divisions>6</divisions></attributes>')).toBe(true);
    expect(bar.endsWith('<attributes><divisions>2</divisions></attributes>')).toBe(true);
    expect(bar.match(/<actual-notes>3</g)).toHaveLength(3);
    expect(bar.match(/<tuplet type="start"\/>.*<tuplet type="stop"\/>/)).not.toBeNull();
  });

  it('lets the next note of a chord say what the first one said', () => {
    const chord = score(
      note('C', 8, 'whole', `${slur('start')}<lyric><text>la</text></lyric>`) +
        note('E', 8, 'whole', '', '<chord/>'),
      note('D', 8, 'whole', slur('stop')),
    );
    const { text, mends } = after(chord, { dropped: new Set([ID(0)]) });
    expect(bars(text)[0]!.replace(ATTRIBUTES, '')).toBe(
      note('E', 8, 'whole', `${slur('start')}<lyric><text>la</text></lyric>`),
    );
    expect(mends).toEqual([]);
  });

  it('lets grace notes go along with their note', () => {
    const grace =
      '<note><grace/><pitch><step>A</step><octave>5</octave></pitch><voice>1</voice><type>eighth</type></note>';
    const graced = score(
      note('C', 4, 'half') + rest(2, 'quarter') + rest(2, 'quarter'),
      grace + note('D', 8, 'whole'),
    );
    const { text } = after(graced, {
      placed: new Map([[ID(2), { start: 2 * QUARTER, end: 3 * QUARTER }]]),
    });
    expect(bars(text)[0]!.replace(ATTRIBUTES, '')).toBe(
      note('C', 4, 'half') + grace + note('D', 2, 'quarter') + rest(2, 'quarter'),
    );
    expect(bars(text)[1]).toContain('measure="yes"');
    expect(after(graced, { dropped: new Set([ID(2)]) }).text).not.toContain('<grace/>');
  });

  it('puts a note into another voice, and says where that is taken', () => {
    const { text } = after(PLAIN, { lines: new Map([[ID(4), { voice: 2 }]]) });
    expect(bars(text)[1]).toBe(
      `<note><rest measure="yes"/><duration>8</duration><voice>1</voice></note><backup><duration>8</duration></backup>${note('G', 8, 'whole').replace('<voice>1', '<voice>2')}`,
    );
    const { text: same, refused } = after(text, { lines: new Map([[ID(3), { staff: 2 }]]) });
    expect(same).toBe(text);
    // What cannot be done takes nothing else of its bar with it.
    const both = after(PLAIN, {
      lines: new Map([[ID(3), { staff: 2 }]]),
      placed: new Map([
        [ID(3), {}],
        [ID(2), { end: 7 * (QUARTER / 4) }],
      ]),
    });
    expect(both.refused).toHaveLength(1);
    expect(both.text).toContain('<duration>1</duration><voice>1</voice><type>16th</type>');
    expect(refused).toEqual(['Flute, bar 1: a note stays as it was, its part has no staff 2.']);
  });

  it('spells a note that is put in by the signature, and shows its sign', () => {
    const added = new Map([
      [ID(9_000_000), { strand: '1/t2c1' as const, start: 4 * QUARTER, end: 8 * QUARTER, key: 66 }],
    ]);
    const { text } = after(PLAIN, { added });
    expect(bars(text)[1]).toContain(
      '<chord/><pitch><step>F</step><alter>1</alter><octave>4</octave></pitch>',
    );
  });

  it('leaves a bar alone that changes its divisions halfway, and says so by its number', () => {
    const odd = score(
      `${note('C', 4, 'half')}<attributes><divisions>4</divisions></attributes>${note('D', 8, 'half')}`,
    );
    const { text, refused } = after(odd, { dropped: new Set([ID(1)]) });
    expect(text).toBe(odd);
    expect(refused).toEqual(['Flute, bar 1: a note stays as it was, it changes its divisions halfway.']);
  });
});

/** A voice of one bar in eighths of 4/4, as notes, chords, rests and triplets; counted in twelfths of a quarter. */
const piece = fc.oneof(
  fc
    .constantFrom<[number, string]>([6, 'eighth'], [12, 'quarter'], [24, 'half'])
    .map(([span, type]) => ({ span, type, three: false })),
  fc.constant({ span: 12, type: 'eighth', three: true }),
);
const voice = fc
  .array(
    fc.record({ piece, isRest: fc.boolean(), chord: fc.boolean(), step: fc.constantFrom(...'CDEFGAB') }),
    {
      minLength: 2,
      maxLength: 8,
    },
  )
  .map((all) => {
    let left = 48;
    let out = '';
    const number = (text: string, id: string) => text.replaceAll('VOICE', id);
    const put = (step: string, span: number, type: string, isRest: boolean, more: string, chord: boolean) => {
      const head = (sounds: string) =>
        `<note>${sounds}<duration>${span}</duration><voice>VOICE</voice><type>${type}</type>${more}</note>`;
      out += head(isRest ? '<rest/>' : `<pitch><step>${step}</step><octave>4</octave></pitch>`);
      if (chord && !isRest)
        out += head(`<chord/><pitch><step>${step}</step><octave>5</octave></pitch>`).replaceAll(
          /<notations>.*?<\/notations>/g,
          '',
        );
    };
    const ratio =
      '<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>';
    for (const { piece: each, isRest, chord, step } of all) {
      if (each.span > left) continue;
      left -= each.span;
      if (!each.three) put(step, each.span, each.type, isRest, '', chord);
      else
        for (let at = 0; at < 3; at++) {
          const edge = at === 0 ? 'start' : at === 2 ? 'stop' : '';
          const bracket = edge ? `<notations><tuplet type="${edge}"/></notations>` : '';
          put(step, 4, 'eighth', isRest && at === 1, ratio + bracket, chord);
        }
    }
    for (; left >= 6; left -= 6) put('C', 6, 'eighth', true, '', false);
    return (id: string) => number(out, id);
  });
const madeScore = fc
  .record({
    bars: fc.array(fc.tuple(voice, fc.option(voice)), { minLength: 2, maxLength: 4 }),
    lines: fc.boolean(),
  })
  .map(({ bars: all, lines }) => {
    const text = score(
      ...all.map(
        ([upper, lower]) =>
          upper('1') + (lower ? `<backup><duration>48</duration></backup>${lower('2')}` : ''),
      ),
    ).replace('<divisions>2<', '<divisions>12<');
    return lines
      ? text.replaceAll('><note>', '>\n  <note>').replaceAll('><duration>', '>\n    <duration>')
      : text;
  });

describe('any edits of any score', () => {
  const edits = fc.array(fc.tuple(fc.constantFrom(...EDIT_KINDS), fc.nat()), { minLength: 1, maxLength: 6 });
  const merged = (all: readonly ScoreEdits[]): ScoreEdits => ({
    dropped: new Set(all.flatMap(({ dropped }) => [...dropped])),
    placed: new Map(all.flatMap(({ placed }) => [...placed])),
    added: new Map(all.flatMap(({ added }) => [...added])),
    lines: new Map(all.flatMap(({ lines }) => [...lines])),
  });

  const hasUnisons = (all: readonly { start: number; end: number; key: number }[]): boolean =>
    all.some((one, at) =>
      all.slice(at + 1).some(({ start, end, key }) => key === one.key && start < one.end && end > one.start),
    );

  it('come to what was wanted, within the schema, and leave all other bars to the character', () => {
    fc.assert(
      fc.property(madeScore, edits, (document, wanted) => {
        const before = read(document);
        const stands = standing(before.score);
        const events = [...stands.keys()];
        if (events.length === 0) return;
        const all = merged(
          wanted.flatMap(([kind, at]) => {
            const event = events[at % events.length]!;
            return editOf(kind, event, stands.get(event)!, before.score) ?? [];
          }),
        );
        // A note that is both placed and taken out goes.
        const placed = new Map([...all.placed].filter(([event]) => !all.dropped.has(event)));
        const asked = { ...all, placed };
        const { reading, touched, refused } = rewrittenScore(before, asked);
        const known = new Set(before.mends.map(({ what }) => what));
        expect(reading.mends.filter(({ what }) => !known.has(what))).toEqual([]);
        expect(otherBars(before, reading, touched)).toEqual([]);
        expect(schemaFaults(parseXml(reading.document.text))).toEqual([]);
        const wished = expected(stands, asked, before.score);
        // Of two notes on one key at one time nobody can tell which of them a tie goes on with.
        if (refused.length === 0 && !hasUnisons([...wished.values()]))
          expect(differing(wished, standing(reading.score))).toEqual([]);
        // A second reader counts the same notes.
        const elsewhere = parseElsewhere(reading.document.text).parts.flatMap(({ measures }) =>
          measures.flatMap(({ entries }) => entries.filter((each) => each.type === 'note' && each.pitch)),
        );
        expect(elsewhere).toHaveLength(placesIn(reading.document, 'P1')!.notes.size);
      }),
      { numRuns: 150 },
    );
  });
});

describe('a score in a job', () => {
  const job = (...directives: PlainDirective[]) => {
    const workbench = new Workbench([
      { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(RICH) },
    ]);
    const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
    const written = finished(workbench.write(1));
    const text = new TextDecoder().decode(deliverScore(desk, written.transcription.score, 'musicxml'));
    return { desk, text, written };
  };
  const notesOf = ({ desk }: ReturnType<typeof job>) =>
    desk.performance.strands.flatMap(({ notes }) => notes.map(({ id, key }) => `${id} ${key}`));

  it('sounds as it is written, by the names that its notes have; without the decision it is the very bytes', () => {
    const before = job();
    expect(before.text).toBe(RICH);
    const [first] = before.desk.performance.strands[0]!.notes;
    const out = job({ kind: 'drop', note: first!.id, out: true });
    expect(out.text).not.toBe(RICH);
    // Each time its bar is played.
    const gone = notesOf(before).filter((each) => !notesOf(out).includes(each));
    expect(gone.length).toBeGreaterThan(0);
    expect(notesOf(out).every((each) => notesOf(before).includes(each))).toBe(true);
    expect(
      job({ kind: 'drop', note: first!.id, out: true }, { kind: 'drop', note: first!.id, out: false }).text,
    ).toBe(RICH);
  });

  it('takes other decisions about the same notes along', () => {
    const { id } = job().desk.performance.strands[0]!.notes[0]!;
    const place: PlainDirective = { kind: 'place', note: id, start: '0', end: '1/2' };
    const both = job(place, { kind: 'pitch', note: id, steps: 1, semitones: 2 });
    expect(both.text).toContain('<duration>4</duration>');
    const key = (of: ReturnType<typeof job>) => of.desk.performance.strands[0]!.notes[0]!.key;
    expect(key(both)).toBe(key(job()) + 2);
  });

  it('is tied, untied, copied and written into by what is asked of its notes', () => {
    const document = score(note('C', 4, 'half') + note('C', 4, 'half'), note('G', 8, 'whole'));
    const work = (...directives: PlainDirective[]) => {
      const workbench = new Workbench([
        { id: '1', version: 1, name: 'x.musicxml', bytes: new TextEncoder().encode(document) },
      ]);
      const { desk } = workbench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
      const written = finished(workbench.write(1));
      return {
        desk,
        written,
        stands: [...standing(written.transcription.score).values()].map(
          ({ start, end, key }) => `${start / QUARTER}-${end / QUARTER} ${key}`,
        ),
      };
    };
    const asked = (
      edit: Parameters<typeof decideNotes>[2],
      notes: EventId[],
      ...decided: PlainDirective[]
    ) => {
      const made = decideNotes(work(...decided).written, notes, edit);
      return { made: [...decided, ...made], stands: work(...decided, ...made).stands };
    };
    const tied = asked({ edit: 'join' }, [ID(0)]);
    expect(tied.stands).toEqual(['0-4 72', '4-8 79']);
    const long = asked({ edit: 'arrange', arrangement: 'longer', both: false }, [ID(2)]);
    expect(long.stands).toEqual(['0-2 72', '2-4 72', '4-8 79']);
    const over = asked({ edit: 'arrange', arrangement: 'later', both: false }, [ID(1)]);
    expect(over.stands).toContain('2.25-4.25 72');
    const untied = asked({ edit: 'strike-again' }, [ID(1)], ...over.made);
    expect(untied.stands).toEqual(expect.arrayContaining(['2.25-3 72', '3-4.25 72']));
    const ticks = work().desk.performance.clock.ticksPerQuarter;
    const copy = asked({ edit: 'copy', later: 4 * ticks, instead: true }, [ID(0)]);
    expect(copy.stands).toEqual(['0-2 72', '2-4 72', '4-6 72']);
    const added = asked({ edit: 'add', strand: '1/t2c1', on: 2 * ticks, off: 4 * ticks, key: 76 }, []);
    expect(added.stands).toEqual(['0-2 72', '2-4 72', '2-4 76', '4-8 79']);
  });
});
