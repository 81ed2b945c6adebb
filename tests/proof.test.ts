import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { decide, withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { tidyFile } from '@/core/demo/tidy';
import { untidyFile } from '@/core/demo/untidy';
import { QUARTER } from '@/core/model/time';
import { prove } from '@/core/proof';
import { CHECKS, type CheckId, type Finding, subjectOf } from '@/core/proof/finding';
import { sourceLedger } from '@/core/proof/source-ledger';
import { AS_HEARD } from '@/core/recording/heard';
import { writeHeard } from '@/core/sources/audio/document';
import type { Smf, SmfEvent } from '@/core/sources/smf/events';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow } from '@/core/transcribe';
import { interlinear } from '@/core/workbench/interlinear';
import { goingOutOf, proofOf } from '@/core/workbench/proof';
import { stockOf } from '@/core/workbench/stock';
import { Workbench, type Written } from '@/core/workbench/workbench';
import { deskOf, madeFile, madeTrack, type Stroke, trackName } from './helpers/made-file';

const Q = 480;

/** Quarter notes, one after the other. */
const line = (keys: readonly number[], from = 0): Stroke[] =>
  keys.map((key, index) => [from + index * Q, from + (index + 1) * Q, key]);
const SCALE = [72, 74, 76, 77, 79, 77, 76, 74];

function provedOf(smf: Smf, ...directives: PlainDirective[]): Finding[] {
  const desk = deskOf(smf, ...directives);
  const result = transcribeNow(desk.performance, desk.brief);
  return finished(prove(subjectOf(desk, result), []));
}
const of = (check: CheckId, findings: readonly Finding[]) => findings.filter((each) => each.check === check);

function writtenOf(bytes: Uint8Array, ...directives: PlainDirective[]): Written {
  const bench = new Workbench([{ id: '1', version: 1, name: 'a.mid', bytes }]);
  bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  return finished(bench.write(1));
}

describe('the demo', () => {
  it('has nothing wrong and nothing doubtful where it is tidy, and agrees with all that goes out', () => {
    const written = writtenOf(tidyFile());
    const { findings, agreement } = finished(proofOf(written));
    expect(findings.filter(({ weight }) => weight !== 'remark')).toEqual([]);
    expect(agreement).toEqual({ notes: 2185, agree: 2185, meant: 0 });
    expect(finished(goingOutOf(written)).map(({ form, differ }) => [form, differ])).toEqual([
      ['MusicXML', 0],
      ['MIDI, notes as written', 0],
    ]);
  });

  it('agrees throughout once its oddities are mended, each difference by a decision', () => {
    const before = writtenOf(untidyFile());
    const { inventory } = finished(stockOf(before));
    const { agreement, findings } = finished(proofOf(before));
    expect(agreement.notes - agreement.agree - agreement.meant).toBe(4);
    expect(of('source', findings)).toHaveLength(inventory.oddities.length);
    expect(of('agreement', findings).map(({ weight }) => weight)).toEqual([
      'wrong',
      'wrong',
      'wrong',
      'doubtful',
    ]);

    const mended = writtenOf(untidyFile(), ...inventory.oddities.flatMap(({ mend }) => mend.directives));
    const after = finished(proofOf(mended));
    expect(after.agreement.agree + after.agreement.meant).toBe(after.agreement.notes);
    expect(after.findings.filter(({ weight }) => weight !== 'remark')).toEqual([]);
    expect(finished(goingOutOf(mended)).every(({ differ }) => differ === 0)).toBe(true);
    const causes = new Set(
      sourceLedger(mended.desk, mended.transcription).entries.map(({ because }) => because),
    );
    expect(causes).toEqual(new Set(['cleaned', 'strand-out', 'pitch-decided']));
  });

  it('has ids that tell findings apart and stay what they are', () => {
    const ids = () => finished(proofOf(writtenOf(untidyFile()))).findings.map(({ id }) => id);
    const once = ids();
    expect(new Set(once).size).toBe(once.length);
    expect(ids()).toEqual(once);
    expect(once.every((id) => id.length <= 160)).toBe(true);
  });

  it('keeps what was said to be meant, with why', () => {
    const brief = withDirectives(EMPTY_BRIEF, [
      { kind: 'meant', oddity: 'ranges 1/t2c1 x', meant: true, note: 'He can.' },
      { kind: 'meant', oddity: 'breath 1/t2c1 y', meant: true },
      { kind: 'meant', oddity: 'breath 1/t2c1 y', meant: false },
    ]);
    expect([...decide(brief).meant]).toEqual([['ranges 1/t2c1 x', 'He can.']]);
  });
});

describe('checks', () => {
  it('find notes that an instrument does not have, and offer the octave', () => {
    // Handbooks give the flute C4 (B3 with the long foot) as its lowest note.
    const [found] = of('ranges', provedOf(madeFile(madeTrack('Flute', 0, line([72, 74, 50, 76])))));
    expect(found).toMatchObject({ weight: 'wrong', part: 0, bar: 0, place: 'beat 3' });
    const [mend] = found!.mends;
    expect(mend!.directives).toEqual([expect.objectContaining({ kind: 'pitch', semitones: 12 })]);
    const mended = provedOf(madeFile(madeTrack('Flute', 0, line([72, 74, 50, 76]))), ...mend!.directives);
    expect(of('ranges', mended).filter(({ weight }) => weight === 'wrong')).toEqual([]);
  });

  it('tell many notes out of range as one thing', () => {
    const low = Array.from({ length: 20 }, (_, bar): Stroke[] => line([72, 74, 50, 76], 8 * bar * Q)).flat();
    const found = of('ranges', provedOf(madeFile(madeTrack('Flute', 0, low))));
    expect(found).toHaveLength(1);
    expect(found[0]!.notes).toHaveLength(20);
  });

  it('find what one hand cannot take', () => {
    const chord = (keys: readonly number[], at: number): Stroke[] => keys.map((key) => [at, at + Q, key]);
    const harp = madeTrack('Harp', 0, [
      ...chord([48, 52, 55, 60], 0),
      ...chord([72, 76, 79, 84], 0),
      ...chord([41, 45, 48, 53, 57], 4 * Q),
      ...chord([72, 76, 79, 84], 4 * Q),
    ]);
    expect(of('hands', provedOf(madeFile(harp)))).toEqual([
      expect.objectContaining({
        weight: 'wrong',
        bar: 1,
        what: '5 notes in one hand, which has 4 fingers for them.',
      }),
    ]);
    // Two notes below the second string of a violin have one string between them.
    const violin = madeTrack('Violin', 1, [...chord([57, 59], 0), ...chord([62, 69], 4 * Q)]);
    expect(of('hands', provedOf(madeFile(violin))).map(({ bar }) => bar)).toEqual([0]);
  });

  it('find chords for who plays one note at a time', () => {
    const flute = madeTrack('Flute', 0, [...line(SCALE), [0, Q, 76], [4 * Q, 5 * Q, 83]]);
    expect(of('single', provedOf(madeFile(flute)))).toHaveLength(1);
    expect(of('single', provedOf(madeFile(madeTrack('Flute 1+2', 0, [...line(SCALE), [0, Q, 76]]))))).toEqual(
      [],
    );
  });

  it('find passages without a breath, but not where notes are long or slurs end', () => {
    const run = Array.from({ length: 200 }, (_, at): Stroke => [at * 240, at * 240 + 240, 72 + (at % 5)]);
    const found = of('breath', provedOf(madeFile(madeTrack('Trumpet', 0, run))));
    expect(found).toHaveLength(1);
    expect(found[0]!.what).toBe('50 seconds without a place to breathe.');
    expect(
      of('breath', provedOf(madeFile(madeTrack('Trumpet', 0, line([...SCALE, ...SCALE, ...SCALE]))))),
    ).toEqual([]);
    expect(of('breath', provedOf(madeFile(madeTrack('Violin', 0, run))))).toEqual([]);
  });

  it('find names that are missing or twice, and silent strands', () => {
    const two = madeFile(madeTrack('Oboe', 0, line(SCALE)), madeTrack('Oboe', 1, line(SCALE)));
    expect(
      of(
        'names',
        provedOf(
          two,
          { kind: 'name', strand: '1/t1c1', name: 'Oboe' },
          { kind: 'name', strand: '1/t2c2', name: 'Oboe' },
        ),
      ),
    ).toHaveLength(2);
    const off: SmfEvent = { kind: 'control', tick: 0, channel: 0, controller: 7, value: 0 };
    const [muted] = of('silence', provedOf(madeFile(madeTrack('Oboe', 0, line(SCALE), [off]))));
    expect(muted!.mends[0]!.directives).toEqual([{ kind: 'leave-out', strand: '1/t1c1', out: true }]);
  });

  it('find markers that miss their bar line', () => {
    const marker = (tick: number, text: string): SmfEvent => ({
      kind: 'marker',
      tick,
      type: 6,
      bytes: new TextEncoder().encode(text),
    });
    const file = madeFile(
      { events: [trackName('x'), marker(4 * Q - 40, 'A'), marker(8 * Q, 'B'), marker(10 * Q, 'hit')] },
      madeTrack('Oboe', 0, line([...SCALE, ...SCALE])),
    );
    expect(of('markers', provedOf(file)).map(({ what }) => what)).toEqual([
      'Marker “A” stands 42 ms before the bar line.',
    ]);
  });

  it('find techniques without return, and those that are asked for twice', () => {
    const long = line(Array.from({ length: 64 }, () => 60));
    const text = (bar: number, words: string) => ({ bar, words });
    const said = (...texts: { bar: number; words: string }[]) => {
      const desk = deskOf(madeFile(madeTrack('Violin', 0, long)));
      const result = transcribeNow(desk.performance, desk.brief);
      const part = result.score.parts[0]!;
      const bars = part.bars.map((bar, index) => ({
        ...bar,
        marks: texts
          .filter((each) => each.bar === index)
          .map(({ words }) => ({ kind: 'words' as const, at: 0, text: words })),
      }));
      const own = { ...result, score: { ...result.score, parts: [{ ...part, bars }] } };
      return of('techniques', finished(prove(subjectOf(desk, own), []))).map(({ what, weight }) => [
        weight,
        what,
      ]);
    };
    expect(said(text(2, 'pizz.'), text(5, 'arco'))).toEqual([]);
    expect(said(text(0, 'con sord.'))).toEqual([]);
    expect(said(text(2, 'con sord.'))).toEqual([
      ['remark', '“con sord.” is never taken back: no senza sord. or open after it.'],
    ]);
    expect(said(text(2, 'pizz.'), text(5, 'pizz.'), text(8, 'arco'))).toEqual([
      [
        'doubtful',
        '“pizz.” is asked for again, though it holds since bar 3: is a return to arco missing between?',
      ],
    ]);
    // Another mute is no second asking for the same one.
    expect(said(text(2, 'cup mute'), text(5, 'harmon mute'), text(8, 'open'))).toEqual([]);
  });

  it('find keys that are struck while the other hand holds them', () => {
    const held: Stroke[] = [
      [0, 4 * Q, 60],
      ...line([72, 74, 76, 77]),
      [2 * Q, 3 * Q, 36],
      ...line([72, 74, 76, 77], 4 * Q),
    ];
    const desk = deskOf(madeFile(madeTrack('Piano', 0, held)));
    const result = transcribeNow(desk.performance, desk.brief);
    const subject = subjectOf(desk, result);
    expect(of('struck', finished(prove(subject, [])))).toEqual([]);
    // The note of the left hand that lasts the bar, and one of the right hand on the same key.
    const [own] = subject.sounded;
    const long = own!.find(({ notes }) => notes.some(({ key }) => key === 60))!;
    const again = { ...long, start: long.start + QUARTER, end: long.start + 2 * QUARTER, staff: 2 };
    const both = { ...subject, sounded: [[long, again]] };
    const [found] = of('struck', finished(prove(both, [])));
    expect(found!.what).toMatch(/^C4 is struck while another voice holds it until .* of bar 1/);
    const violins = of('struck', provedOf(madeFile(madeTrack('Violin', 0, held))));
    expect(violins).toEqual([]);
  });

  it('find notes that sound on and are written short, and write them as long as they sound', () => {
    const held: Stroke[] = Array.from({ length: 4 }, (_, bar): Stroke[] => [
      [4 * bar * Q, 4 * (bar + 1) * Q, 65 + bar],
      ...line([72, 74, 76, 77], 4 * bar * Q),
    ]).flat();
    const smf = (name: string) => madeFile(madeTrack(name, 0, held));
    expect(of('agreement', provedOf(smf('Organ')))).toEqual([]);
    // In one voice nothing can be held under what moves.
    const oneVoice: PlainDirective = { kind: 'voices', most: 1, strand: '1/t1c1' };
    const found = of('agreement', provedOf(smf('Organ'), oneVoice));
    expect(found.map(({ what, weight, bar }) => [what, weight, bar])).toEqual(
      [0, 1, 2, 3].map((bar) => ['Held for 4 quarters, written as a quarter.', 'doubtful', bar]),
    );
    // What was decided is meant.
    const [{ mends }] = found as [Finding];
    expect(mends.map(({ label }) => label)).toEqual(['End as played']);
    expect(of('agreement', provedOf(smf('Organ'), oneVoice, ...mends[0]!.directives))).toHaveLength(3);
    // A harp rings on, whatever is written: that is told once, and nothing differs.
    expect(
      of('agreement', provedOf(smf('Harp'), oneVoice)).map(({ what, weight, notes }) => [
        what,
        weight,
        notes.length,
      ]),
    ).toEqual([['4 notes ring on past their written ends, as what is plucked or struck does.', 'remark', 4]]);
    // A voice sings one note at a time: what it holds under another is cut, and told.
    const sung = of('agreement', provedOf(smf('Soprano'), oneVoice));
    expect(sung.map(({ what, bar }) => [what, bar])).toEqual(
      [0, 1, 2, 3].map((bar) => ['Held for 4 quarters, written as a quarter.', bar]),
    );
  });

  it('find leaps over a string that no bow makes in time', () => {
    // Sixteenths at 180: 83 ms from note to note. G3 is the open lowest string, E6 lies on the highest.
    const fast = (keys: number[]): Stroke[] => keys.map((key, at): Stroke => [at * 120, at * 120 + 110, key]);
    const at = (bpm: number, keys: number[]) =>
      of(
        'crossings',
        provedOf(
          madeFile(
            {
              events: [
                { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(6e7 / bpm) },
                { kind: 'endOfTrack', tick: 0 },
              ],
            },
            madeTrack('Violin', 0, fast(keys)),
          ),
        ),
      ).length;
    const leaps = [55, 88, 55, 88, 55, 88, 55, 88];
    expect(at(180, leaps)).toBe(7);
    expect(at(60, leaps)).toBe(0);
    expect(at(180, [62, 69, 62, 69, 62, 69])).toBe(0);
  });

  it('find what another source of the job says differently of tempo, meter and numbers', () => {
    const clock = (bpm: number): SmfEvent[] => [
      { kind: 'tempo', tick: 0, microsPerQuarter: Math.round(6e7 / 100) },
      { kind: 'timeSignature', tick: 0, numerator: 4, denominator: 4, clocks: 24, thirtySeconds: 8 },
      { kind: 'tempo', tick: 8 * 4 * Q, microsPerQuarter: Math.round(6e7 / bpm) },
      { kind: 'endOfTrack', tick: 40 * 4 * Q },
    ];
    const music = madeTrack('Flute', 0, line(Array.from({ length: 64 }, (_, at) => 60 + ((at * 5) % 12))));
    const proof = (bpm: number, directive?: PlainDirective) => {
      const bench = new Workbench([
        { id: '1', version: 1, name: 'cue.mid', bytes: writeSmf(madeFile({ events: clock(100) }, music)) },
        { id: '2', version: 1, name: 'clock.mid', bytes: writeSmf(madeFile({ events: clock(bpm) })) },
      ]);
      bench.layOut(1, withDirectives(EMPTY_BRIEF, directive ? [directive] : []));
      return of('others', finished(proofOf(finished(bench.write(1)))).findings);
    };
    expect(proof(100)).toEqual([]);
    const [found] = proof(120);
    expect(found).toMatchObject({ bar: 8, weight: 'doubtful' });
    expect(found!.what).toBe('clock.mid has another tempo from here on: 120.0, and not 100.0.');
    // The one that gives the clock cannot differ from it.
    expect(proof(120, { kind: 'clock-from', source: '2' })).toEqual([]);
  });

  it('are all told by name', () => {
    expect(Object.keys(CHECKS)).toHaveLength(27);
  });
});

describe('a second voice', () => {
  const BAR = 4 * Q;
  const eighths = Array.from(
    { length: 32 },
    (_, at): Stroke => [at * (Q / 2), (at + 1) * (Q / 2), 72 + 2 * (at % 4)],
  );
  const organ = (...more: Stroke[]) => madeFile(madeTrack('Organ', 0, [...eighths, ...more]));
  const short: Stroke = [BAR, BAR + Q, 67];

  it('for one short note is asked about, and mended; one that is held under moving notes is what it is for', () => {
    const smf = organ(short, [3 * BAR, 3 * BAR + 3 * Q, 67]);
    const found = of('lone', provedOf(smf));
    expect(found).toMatchObject([{ bar: 1, place: 'beat 1', weight: 'doubtful' }]);
    const [mend] = found[0]!.mends;
    const mended = provedOf(smf, ...mend!.directives);
    expect(of('lone', mended)).toEqual([]);
    // The note is in the score as before.
    expect(of('agreement', mended).filter(({ weight }) => weight === 'wrong')).toEqual([]);
  });

  it('of drums and of a document is left as it is', () => {
    const kit = madeFile(
      madeTrack('Drums', 9, [...eighths.map(([on, off]): Stroke => [on, off, 42]), [BAR, BAR + Q, 36]]),
    );
    expect(of('lone', provedOf(kit))).toEqual([]);
  });
});

describe('a recording', () => {
  it('has what is doubtful in it listed, one action leaves it out, and another threshold takes no such note', () => {
    const doubts = new Set([5, 11]);
    const heard = Array.from({ length: 24 }, (_, at) => ({
      on: 0.2 + at * 0.5,
      off: 0.65 + at * 0.5,
      key: SCALE[at % SCALE.length]!,
      velocity: 80,
      cents: 0,
      says: doubts.has(at) ? 0.4 : 4,
    }));
    const bytes = writeHeard({
      facts: { seconds: 13, peak: 0.5, clipped: 0, silentBefore: 0.2, silentAfter: 0.5 },
      tuning: 0,
      guess: 'line',
      line: heard,
      many: [],
      mix: null,
    });
    const { findings } = finished(proofOf(writtenOf(bytes)));
    const found = of('heard', findings);
    expect(found).toHaveLength(doubts.size);
    expect(found[0]).toMatchObject({ weight: 'doubtful', what: 'F5 is 60 % sure in the recording.' });
    const mended = writtenOf(bytes, ...found[0]!.mends[0]!.directives);
    expect(of('heard', finished(proofOf(mended)).findings)).toHaveLength(1);
    const stricter = writtenOf(bytes, {
      kind: 'hearing',
      ...AS_HEARD,
      rules: [...AS_HEARD.rules],
      threshold: 0.8,
    });
    expect(of('heard', finished(proofOf(stricter)).findings)).toEqual([]);
    const stock = finished(stockOf(stricter));
    expect(stock.heard).toMatchObject({ read: 'line', taken: 22, below: 2, doubtful: 0, kept: null });
  });
});

describe('what is missing in the score', () => {
  it('is told with the strand that has it', () => {
    const file = madeFile(madeTrack('Cello', 0, [...line([48, 50, 52, 53]), [Q, Q + 20, 0]]));
    const [found] = of('agreement', provedOf(file));
    expect(found).toMatchObject({
      weight: 'wrong',
      part: 0,
      what: 'C-1 of Cello is not in the score: no staff has room for it.',
    });
    // The bars in which it is shown have it, though no staff does.
    const { desk, transcription } = writtenOf(writeSmf(file));
    const parts = new Set(transcription.score.parts.map(({ id }) => id));
    const [row] = interlinear(transcription, desk.decisions, parts, 0, 1)!.rows;
    expect(row!.unwritable).toMatchObject([{ id: found!.notes[0], key: 0 }]);
    // And it can be left out, after which nothing is missing.
    const mended = deskOf(file, ...found!.mends[0]!.directives);
    const ledger = sourceLedger(mended, transcribeNow(mended.performance, mended.brief));
    expect(ledger.entries.filter(({ because }) => because === null)).toEqual([]);
  });

  it('is meant where it was left out', () => {
    const file = madeFile(madeTrack('Cello', 0, line([48, 50, 52, 53])));
    const desk = deskOf(file, { kind: 'drop', note: '1/t1c1/3', out: true });
    const ledger = sourceLedger(desk, transcribeNow(desk.performance, desk.brief));
    expect(ledger).toMatchObject({ notes: 4, agree: 3, meant: 1 });
    expect(ledger.entries[0]).toMatchObject({ because: 'note-out', differs: ['missing'] });
  });

  it('survives being written and read: the file is its own witness', () => {
    const bytes = writeSmf(madeFile(madeTrack('Cello', 0, line([48, 50, 52, 53]))));
    const outward = finished(goingOutOf(writtenOf(bytes)));
    expect(outward.map(({ agree, differ }) => [agree, differ])).toEqual([
      [4, 0],
      [4, 0],
    ]);
  });
});
