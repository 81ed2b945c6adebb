import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { decide, withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { tidyFile } from '@/core/demo/tidy';
import { untidyFile } from '@/core/demo/untidy';
import { prove } from '@/core/proof';
import { CHECKS, type CheckId, type Finding, subjectOf } from '@/core/proof/finding';
import { sourceLedger } from '@/core/proof/source-ledger';
import type { Smf, SmfEvent } from '@/core/sources/smf/events';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow } from '@/core/transcribe';
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

  it('are all told by name', () => {
    expect(Object.keys(CHECKS)).toHaveLength(20);
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
