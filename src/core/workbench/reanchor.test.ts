import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, meterAt, type Stroke } from '../../../tests/helpers/made-file';
import { finished } from '../basics/steps';
import { type Brief, EMPTY_BRIEF } from '../decisions/brief';
import { withDirectives } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { areHeard } from '../decisions/kinds/beats';
import { secondsAt } from '../model/clock';
import { addedNoteId } from '../model/ids';
import { writeSmf } from '../sources/smf/write';
import { Workbench } from './workbench';

/** Twelve bars of quarter notes, 480 ticks each, struck with the beat. */
const strokes = Array.from({ length: 48 }, (_, at): Stroke => [at * 480, at * 480 + 440, 60 + (at % 7)]);
const bytes = writeSmf(madeFile({ events: [meterAt(0, 4, 4)] }, madeTrack('Violin', 0, strokes)));
const bench = () => new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes }]);
const strand = '1/t2c1' as const;

/** Beats that stand where the file has them, but for some that are taken out or put between. */
const beatsAt = (ticks: number[], perBar = 4, bars?: number[]): PlainDirective => ({
  kind: 'beats',
  ticks,
  perBar,
  first: 0,
  ...(bars && { bars }),
});
const every = Array.from({ length: 48 }, (_, at) => at * 480);
/** The first beat parted in four: three beats more before everything else. */
const parted = [0, 120, 240, 360, ...every.slice(1)];
const grid: PlainDirective = {
  kind: 'grid',
  strand,
  from: 4 * 1920,
  to: 6 * 1920,
  smallest: 'eighth',
  triplets: false,
};
const place: PlainDirective = { kind: 'place', note: '1/t2c1/21', start: '41/2', end: '21' };
const decided = (...directives: PlainDirective[]): Brief => withDirectives(EMPTY_BRIEF, directives);
const ofKind = (brief: Brief, kind: string) => brief.directives.find((each) => each.kind === kind);

describe('decisions about moments, where time is laid out anew', () => {
  it('go along with the music: a passage by its bars, a place by its beat', () => {
    // Three beats more in the first bar, which so becomes one of seven.
    const bars = [0, ...Array.from({ length: 11 }, (_, bar) => 7 + 4 * bar)];
    const after = bench().decided(decided(grid, place), [beatsAt(parted, 4, bars)]);
    expect(ofKind(after, 'grid')).toMatchObject({ from: 4 * 1920 + 3 * 480, to: 6 * 1920 + 3 * 480 });
    expect(ofKind(after, 'place')).toMatchObject({ start: '47/2', end: '24' });
    expect(ofKind(after, 'beats')).toMatchObject({ ticks: parted });
  });

  it('keep the score as it was from there on', () => {
    const bars = [0, ...Array.from({ length: 11 }, (_, bar) => 7 + 4 * bar)];
    const workbench = bench();
    const before = decided(grid, place);
    const after = workbench.decided(before, [beatsAt(parted, 4, bars)]);
    const rhythmOf = (brief: Brief) =>
      finished(workbench.transcriptionUnder(brief))
        .score.parts[0]!.bars.slice(1)
        .map((bar) =>
          bar.voices.map((line) => line.items.map((item) => [item.kind, item.onset, item.duration])),
        );
    expect(rhythmOf(after)).toEqual(rhythmOf(before));
    expect(rhythmOf(decided(grid))).not.toEqual(rhythmOf(before));
  });

  it('hold on to what they were where their beats are gone', () => {
    // Every second beat only: a place on an odd one has none, and stands where it sounds.
    const halved = every.filter((_, at) => at % 2 === 0);
    const after = bench().decided(decided(place), [beatsAt(halved)]);
    expect(ofKind(after, 'place')).toMatchObject({ start: '41/4', end: '21/2' });
  });

  it('stay where nothing about time was decided, and where time comes out the same', () => {
    const brief = decided(grid, place);
    const name: PlainDirective = { kind: 'name', strand, name: 'Viola' };
    expect(bench().decided(brief, [name])).toEqual(withDirectives(brief, [name]));
    const meter: PlainDirective = { kind: 'meter', numerator: 3, denominator: 4, upbeatQuarters: 0 };
    expect(ofKind(bench().decided(brief, [meter]), 'place')).toEqual(place);
  });

  it('settle the beats that are heard where those are followed', () => {
    // Quarters at 97 in a file that counts 120: nothing of it is on its beats.
    const beat = (480 * 120) / 97;
    const tick = (at: number) => Math.round(at * beat);
    const free = Array.from({ length: 96 }, (_, at): Stroke => [tick(at), tick(at + 0.9), 60 + (at % 7)]);
    const file = writeSmf(madeFile({ events: [meterAt(0, 4, 4)] }, madeTrack('Violin', 0, free)));
    const workbench = new Workbench([{ id: '1', version: 1, name: 'x.mid', bytes: file }]);
    const followed = workbench.deskUnder(EMPTY_BRIEF);
    expect(areHeard(followed.decisions.beats)).toBe(true);
    const [points] = [
      [
        { tick: 960, value: 40 },
        { tick: 1920, value: 90 },
      ],
    ];
    const added: PlainDirective = {
      kind: 'add',
      note: addedNoteId(strand, []),
      strand,
      on: 960,
      off: 1400,
      key: 40,
      velocity: 80,
    };
    const after = workbench.decided(EMPTY_BRIEF, [
      grid,
      { kind: 'curve', strand, lane: 'cc11', points },
      added,
    ]);
    expect(ofKind(after, 'grid')).toEqual(grid);
    expect(ofKind(after, 'beats')).toMatchObject({ ticks: followed.decisions.beats!.ticks });
    expect(workbench.deskUnder(after).performance.clock).toEqual(followed.performance.clock);
    // Back in the file's own time the curve stands where it sounded.
    const back = workbench.decided(after, [{ kind: 'beats', ticks: [], perBar: 4, first: 0 }]);
    const seconds = secondsAt(followed.performance.clock, 960);
    expect(ofKind(back, 'curve')).toMatchObject({
      points: [{ tick: Math.round(seconds * 960), value: 40 }, {}],
    });
    // So does a note that was added.
    expect(ofKind(after, 'add')).toEqual(added);
    expect(ofKind(back, 'add')).toMatchObject({ on: Math.round(seconds * 960), key: 40 });
    expect(workbench.deskUnder(back).performance.strands[0]!.notes).toHaveLength(free.length + 1);
  });

  it('come back when the beats do', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 46 }), { maxLength: 5 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 46 }), fc.integer({ min: 1, max: 24 })), {
          minLength: 1,
          maxLength: 4,
        }),
        (doubled, places) => {
          // Beats put between others never take a beat away, so each place keeps the one that it stands in.
          const ticks = every.flatMap((tick, at) => (doubled.includes(at) ? [tick, tick + 240] : [tick]));
          const brief = decided(
            ...places.map(
              ([quarter, part], index): PlainDirective => ({
                kind: 'place',
                note: `1/t2c1/${index + 1}`,
                start: part === 24 ? `${quarter + 1}` : `${24 * quarter + part}/24`,
              }),
            ),
          );
          const workbench = bench();
          const there = workbench.decided(brief, [beatsAt(ticks)]);
          const back = workbench.decided(there, [beatsAt([])]);
          const startsOf = ({ directives }: Brief) =>
            directives.flatMap((each) => (each.kind === 'place' ? [toNumber(each.start!)] : []));
          expect(startsOf(back)).toEqual(startsOf(brief));
        },
      ),
      { numRuns: 60 },
    );
  });
});

const toNumber = (text: string): number => {
  const [of, by = '1'] = text.split('/');
  return Number(of) / Number(by);
};
