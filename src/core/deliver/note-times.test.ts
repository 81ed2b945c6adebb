import { describe, expect, it } from 'vitest';
import { parseXml } from '../../../tests/helpers/schema';
import { differences, factsOf } from '../../../tests/helpers/score-facts';
import { finished } from '../basics/steps';
import { EMPTY_BRIEF } from '../decisions/brief';
import { withDirectives } from '../decisions/decisions';
import { untidyFile } from '../demo/untidy';
import { secondsAt } from '../model/clock';
import type { PlayedNote } from '../model/performance';
import { writeMusicXml } from '../sources/musicxml/write';
import { findOddities } from '../stock/oddities';
import { Workbench } from '../workbench/workbench';
import { deliverMidi } from '.';
import { type TimesChoice, withNoteTimes } from './note-times';

/** The untidy demo, mended, and its score. */
function job(bytes: Uint8Array, mends = true) {
  const workbench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
  const raw = workbench.deskUnder(EMPTY_BRIEF);
  const oddities = mends ? findOddities(raw.performance, raw.decisions) : [];
  const brief = withDirectives(
    EMPTY_BRIEF,
    oddities.flatMap((oddity) => oddity.mend.directives),
  );
  const { desk } = workbench.layOut(1, brief);
  return { desk, transcription: finished(workbench.write(1)).transcription };
}
const untidy = job(untidyFile());
const choice = untidy.desk.decisions.handOver;
const onsets = (bytes: Uint8Array) =>
  job(bytes, false).desk.performance.strands.map(({ notes }) => notes.map(({ on, off }) => [on, off - on]));

describe('where notes stand in a hand-over', () => {
  it('is as played, unless something else is asked for', () => {
    const plain = deliverMidi(untidy.desk, choice);
    expect(deliverMidi(untidy.desk, { ...choice, times: 'played' }, untidy.transcription)).toEqual(plain);
    expect(
      deliverMidi(untidy.desk, { ...choice, times: 'written', strength: 0 }, untidy.transcription),
    ).toEqual(plain);
  });

  it('as written makes the next program show the same page', () => {
    const bytes = deliverMidi(untidy.desk, { ...choice, times: 'written' }, untidy.transcription);
    const again = job(bytes, false);
    const before = factsOf(parseXml(writeMusicXml(untidy.transcription.score)));
    const after = factsOf(parseXml(writeMusicXml(again.transcription.score)));
    const { notes, values, ties, rests } = differences(before, after);
    expect([notes, values, ties, rests]).toEqual([undefined, undefined, undefined, undefined]);
    // The key of the page, which the file does not have.
    const signed = (keys: readonly { fifths: number; minor: boolean }[]) =>
      keys.map(({ fifths, minor }) => [fifths, minor]);
    expect(signed(again.desk.performance.keys)).toEqual(signed(untidy.transcription.score.keys));
  });

  it('goes only part of the way, where that is asked for', () => {
    const at = (strength: number) =>
      onsets(deliverMidi(untidy.desk, { ...choice, times: 'written', strength }, untidy.transcription));
    const [none, half, whole] = [at(0), at(50), at(100)];
    none.forEach((strand, s) => {
      strand.forEach(([on], n) => {
        const [low, high] = [on!, whole[s]![n]![0]!].sort((a, b) => a - b);
        expect(half[s]![n]![0]).toBeGreaterThanOrEqual(low! - 1);
        expect(half[s]![n]![0]).toBeLessThanOrEqual(high! + 1);
      });
    });
  });

  it('keeps the lengths that were played, where only places are taken', () => {
    const places = onsets(deliverMidi(untidy.desk, { ...choice, times: 'places' }, untidy.transcription));
    const written = onsets(deliverMidi(untidy.desk, { ...choice, times: 'written' }, untidy.transcription));
    const played = onsets(deliverMidi(untidy.desk, choice));
    const lengths = (strands: number[][][]) =>
      strands
        .flat()
        .map(([, length]) => length!)
        .sort((a, b) => a - b);
    const starts = (strands: number[][][]) => strands.map((strand) => strand.map(([on]) => on));
    expect(starts(places)).toEqual(starts(written));
    const [kept, before] = [lengths(places), lengths(played)];
    const away = kept.filter((length, index) => Math.abs(length - before[index]!) > 1).length;
    expect(away / kept.length).toBeLessThan(0.02);
  });

  it('takes leads back or keeps them, as asked', () => {
    const { transcription, desk } = untidy;
    const reading = transcription.readings.find(({ leads }) => leads.some(({ seconds }) => seconds > 0.05))!;
    const index = transcription.readings.indexOf(reading);
    const strand = transcription.plans[index]!.strands[0]!;
    const lead = reading.leads[0]!.seconds;
    const clock = desk.performance.clock;
    const timed = (some: TimesChoice) =>
      withNoteTimes(desk.performance, transcription, some).strands.find(({ id }) => id === strand)!.notes;
    const seconds = (notes: readonly PlayedNote[]) => notes.map(({ on }) => secondsAt(clock, on));
    const played = seconds(timed({ times: 'played', leads: 'kept', strength: 0 }));
    const differences = (some: TimesChoice) =>
      seconds(timed(some)).map((each, at) => Math.round(1000 * (each - played[at]!)) / 1000);
    // As played, but on the beat: all notes of the strand by its lead.
    const taken = differences({ times: 'played', leads: 'taken' });
    const median = (all: number[]) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)]!;
    expect(Math.abs(median(taken) - lead)).toBeLessThan(0.005);
    // Written places, as far ahead as they were: near to where they were played.
    const kept = differences({ times: 'written', leads: 'kept' });
    const written = differences({ times: 'written' });
    expect(Math.abs(median(kept))).toBeLessThan(0.01);
    expect(Math.abs(median(written) - lead)).toBeLessThan(0.01);
  });

  it('leaves strands as they were played where that is asked for', () => {
    const { transcription, desk } = untidy;
    const [first, second] = desk.performance.strands;
    const { strands } = withNoteTimes(desk.performance, transcription, {
      times: 'written',
      asPlayed: [first!.id],
    });
    expect(strands[0]).toBe(first);
    expect(strands[1]!.notes).not.toEqual(second!.notes);
  });
});
