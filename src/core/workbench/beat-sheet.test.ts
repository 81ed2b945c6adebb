import { describe, expect, it } from 'vitest';
import { deskOf, madeFile, madeTrack, meterAt, type Stroke } from '../../../tests/helpers/made-file';
import type { PlainDirective } from '../decisions/kinds';
import { secondsAt } from '../model/clock';
import { beatSheet, decideBeats } from './beat-sheet';

const strokes = Array.from(
  { length: 32 },
  (_, at): Stroke => [1920 + at * 480, 1920 + at * 480 + 400, 60 + (at % 5)],
);
const smf = madeFile(madeTrack('Flute', 0, strokes));

describe('the beats over the notes', () => {
  it('are the file’s, in seconds, until they are decided', () => {
    const sheet = beatSheet(deskOf(smf));
    expect(sheet.from).toBe('file');
    expect([...sheet.seconds.slice(0, 4)]).toEqual([0, 0.5, 1, 1.5]);
    expect(sheet.beats.bars.slice(0, 3)).toEqual([0, 4, 8]);
    expect(sheet.notes.on).toHaveLength(32);
    expect([sheet.notes.on[0], sheet.notes.off[0], sheet.notes.key[0]]).toEqual([2, 2 + 400 / 960, 60]);
    expect([sheet.firstBar, sheet.ahead]).toEqual([1, 0]);
  });

  it('tell how much silence was taken off what plays', () => {
    const sheet = beatSheet(deskOf(smf, { kind: 'silence', trim: true }));
    expect(sheet.ahead).toBeCloseTo(2, 6);
  });

  it('change by decisions, one after the other', () => {
    const [moved] = decideBeats(deskOf(smf), { edit: 'move', index: 4, seconds: 2.1 });
    expect(moved).toMatchObject({ kind: 'beats', unit: 1 });
    const after = deskOf(smf, moved as PlainDirective);
    expect(beatSheet(after).seconds[4]).toBeCloseTo(2.1, 2);
    expect(beatSheet(after).from).toBe('decided');
    // The music stays where it sounds.
    const note = after.performance.strands[0]!.notes[0]!;
    expect(secondsAt(after.performance.clock, note.on)).toBeCloseTo(2, 2);
    const [back] = decideBeats(after, { edit: 'file' });
    expect(beatSheet(deskOf(smf, moved as PlainDirective, back as PlainDirective)).from).toBe('file');
  });

  it('come with the meters that the accents suggest, the best first', () => {
    const bass = Array.from(
      { length: 24 },
      (_, bar): Stroke => [bar * 1440, bar * 1440 + 1400, 36 + 5 * (bar % 3), 100],
    );
    const chords = Array.from({ length: 24 }, (_, bar): Stroke[] =>
      [480, 960].flatMap((at): Stroke[] =>
        [60, 64].map((key): Stroke => [bar * 1440 + at, bar * 1440 + at + 200, key]),
      ),
    ).flat();
    const { meters } = beatSheet(deskOf(madeFile(madeTrack('Piano', 0, [...bass, ...chords]))));
    expect(meters[0]!.meter).toEqual({ numerator: 3, denominator: 4 });
    expect(meters[0]!.worth).toBeGreaterThan(0);
    expect(meters.slice(1).every(({ worth }) => worth < 0)).toBe(true);
    const changing = madeFile(
      { events: [meterAt(0, 4, 4), meterAt(5760, 3, 4)] },
      madeTrack('Piano', 0, [...bass, ...chords]),
    );
    expect(beatSheet(deskOf(changing)).meters).toEqual([]);
  });

  it('show the bars of a meter that was taken, and carry them on', () => {
    const waltz: PlainDirective = { kind: 'meter', numerator: 3, denominator: 4, upbeatQuarters: 1 };
    const desk = deskOf(smf, waltz);
    expect(beatSheet(desk).beats.bars.slice(0, 4)).toEqual([1, 4, 7, 10]);
    const [moved, without] = decideBeats(desk, { edit: 'move', index: 4, seconds: 2.05 });
    expect(without).toMatchObject({ kind: 'meter', numerator: null });
    const after = deskOf(smf, waltz, moved!, without!);
    expect(beatSheet(after).beats.bars.slice(0, 4)).toEqual([1, 4, 7, 10]);
    expect(after.performance.meters[0]).toMatchObject({ numerator: 3, denominator: 4 });
  });

  it('stay where a change changes nothing', () => {
    expect(decideBeats(deskOf(smf), { edit: 'file' })).toEqual([]);
    expect(decideBeats(deskOf(smf), { edit: 'remove', index: 4000 })).toEqual([]);
    const empty = deskOf(madeFile(madeTrack('Flute', 0, [[0, 10, 60]])));
    expect(decideBeats(empty, { edit: 'find' })).toEqual([]);
  });

  it('are found where they can be heard', () => {
    const [found] = decideBeats(deskOf(smf), { edit: 'find' }) as { ticks: number[] }[];
    const steps = found!.ticks.slice(1).map((tick, index) => tick - found!.ticks[index]!);
    for (const step of steps) expect(Math.abs(step - 480)).toBeLessThan(30);
  });
});
