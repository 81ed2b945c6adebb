import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plansOf } from '@/core/cast/written';
import { layOut } from '@/core/clean/desk';
import { type Brief, EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { performanceReading } from '@/core/sources';
import type { SmfEvent } from '@/core/sources/smf/events';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

const control = (tick: number, controller: number, value: number, channel = 0): SmfEvent => ({
  kind: 'control',
  tick,
  channel,
  controller,
  value,
});
const program = (tick: number, number: number, channel = 0): SmfEvent => ({
  kind: 'program',
  tick,
  channel,
  program: number,
});
const line: Stroke[] = [
  [0, 480, 60],
  [480, 960, 64],
  [960, 1440, 67],
  [1440, 1920, 72],
];
const strandsOf = (desk: ReturnType<typeof deskOf>) =>
  desk.performance.strands.map((strand) => [strand.id, strand.notes.map((note) => note.key)]);

describe('splitting a strand', () => {
  const smf = () => madeFile(madeTrack('celli', 0, line, [program(0, 42), program(960, 45)]));

  it('by pitch: the upper piece keeps the id', () => {
    expect(strandsOf(deskOf(smf(), { kind: 'split', strand: '1/t1c1', by: 'pitch', key: 65 }))).toEqual([
      ['1/t1c1', [67, 72]],
      ['1/t1c1s2', [60, 64]],
    ]);
  });

  it('by program, each piece with its own', () => {
    const desk = deskOf(smf(), { kind: 'split', strand: '1/t1c1', by: 'program' });
    expect(
      desk.performance.strands.map((strand) => [strand.id, strand.programs, strand.notes.length]),
    ).toEqual([
      ['1/t1c1', [42], 2],
      ['1/t1c1s2', [45], 2],
    ]);
  });

  it('by passage: a solo goes onto its own track', () => {
    const desk = deskOf(smf(), { kind: 'split', strand: '1/t1c1', by: 'passage', from: 480, to: 1440 });
    expect(strandsOf(desk)).toEqual([
      ['1/t1c1', [60, 72]],
      ['1/t1c1s2', [64, 67]],
    ]);
  });

  it('by key switch: the switches go, and what they command parts', () => {
    const played: Stroke[] = [[0, 30, 24], ...line.slice(0, 2), [950, 955, 25], ...line.slice(2)];
    const desk = deskOf(madeFile(madeTrack('celli', 0, played)), {
      kind: 'split',
      strand: '1/t1c1',
      by: 'key-switch',
      keys: [24, 25],
    });
    expect(strandsOf(desk)).toEqual([
      ['1/t1c1', [60, 64]],
      ['1/t1c1s2', [67, 72]],
    ]);
    expect(desk.changes).toContainEqual(
      expect.objectContaining({ step: 'split', what: 'notes', before: 6, after: 4 }),
    );
  });

  it('splits pieces again, and the id of a note stays that of the source', () => {
    const desk = deskOf(
      smf(),
      { kind: 'split', strand: '1/t1c1', by: 'pitch', key: 65 },
      { kind: 'split', strand: '1/t1c1s2', by: 'pitch', key: 62 },
    );
    expect(strandsOf(desk).map(([id]) => id)).toEqual(['1/t1c1', '1/t1c1s2', '1/t1c1s2s2']);
    const ids = (d: typeof desk) =>
      d.performance.strands.flatMap((each) => each.notes.map((note) => note.id));
    expect(ids(desk).sort()).toEqual(ids(deskOf(smf())).sort());
  });
});

describe('mending notes', () => {
  const strokes = (desk: ReturnType<typeof deskOf>) =>
    desk.performance.strands[0]!.notes.map((note) => [note.on, note.off, note.key]);

  it('closes a hanging note at the next attack, or at its bar line', () => {
    const smf = madeFile(
      madeTrack('Flute', 0, [
        [600, 700, 62],
        [2000, 2100, 65],
      ]),
    );
    smf.tracks[0]!.events.splice(1, 0, { kind: 'noteOn', tick: 0, channel: 0, key: 50, velocity: 9 });
    smf.tracks[0]!.events.splice(-1, 0, { kind: 'noteOn', tick: 2100, channel: 0, key: 70, velocity: 9 });
    expect(strokes(deskOf(smf, { kind: 'hanging', close: true }))).toEqual([
      [0, 600, 50],
      [600, 700, 62],
      [2000, 2100, 65],
      [2100, 3840, 70],
    ]);
  });

  it('ends a stacked note at the next stroke and joins double strikes', () => {
    const smf = madeFile(
      madeTrack('Marimba', 0, [
        [0, 400, 60],
        [3, 410, 60],
        [480, 900, 64],
        [800, 960, 64],
      ]),
    );
    const desk = deskOf(smf, { kind: 'stacked', strand: '1/t1c1', mend: true });
    expect(strokes(desk)).toEqual([
      [0, 410, 60],
      [480, 800, 64],
      [800, 960, 64],
    ]);
    expect(desk.performance.strands[0]!.notes.some((note) => note.stacked)).toBe(false);
  });

  it('leaves out specks; a strand of nothing else goes with them', () => {
    const smf = madeFile(
      madeTrack('Guitar', 0, [
        [0, 10, 40],
        [480, 960, 52],
      ]),
      madeTrack('Oboe', 1, [[0, 5, 70]]),
    );
    expect(strandsOf(deskOf(smf, { kind: 'specks', under: 30 }))).toEqual([['1/t1c1', [52]]]);
  });

  it('translates a kit key by key', () => {
    const smf = madeFile(
      madeTrack('Drums', 9, [
        [0, 60, 48],
        [240, 300, 50],
      ]),
    );
    const desk = deskOf(smf, { kind: 'kit', strand: '1/t1c10', keys: [{ from: 48, to: 36 }] });
    expect(strandsOf(desk)).toEqual([['1/t1c10', [36, 50]]]);
  });

  it('levels and scales velocities within 1–127', () => {
    const smf = madeFile(
      madeTrack('Flute', 0, [
        [0, 480, 60, 20],
        [480, 960, 62, 120],
      ]),
    );
    const velocities = (scale: number, level: number, strength: number) =>
      deskOf(smf, { kind: 'velocities', scale, level, strength }).performance.strands[0]!.notes.map(
        (note) => note.velocity,
      );
    expect(velocities(100, 80, 100)).toEqual([80, 80]);
    expect(velocities(200, 80, 0)).toEqual([40, 127]);
    expect(velocities(100, 70, 50)).toEqual([45, 95]);
  });
});

describe('thinning controllers', () => {
  const smf = () =>
    madeFile(
      madeTrack('Flute', 0, line, [
        control(0, 0, 1),
        program(0, 73),
        control(0, 7, 100),
        control(480, 7, 90),
        control(0, 1, 64),
        control(960, 21, 3),
        { kind: 'pitchBend', tick: 10, channel: 0, value: 9000 },
      ]),
    );
  const left = (...directives: PlainDirective[]) =>
    deskOf(smf(), ...directives).performance.strands[0]!.shaping.map(({ event }) => event);
  const controllers = (
    lanes: string[],
    use: 'keep' | 'remove' | 'first' | 'neutral',
    more = {},
  ): PlainDirective => ({
    kind: 'controllers',
    lanes,
    use,
    ...more,
  });

  it('removes a kind, a range of numbers, or a stretch of time', () => {
    expect(left(controllers(['cc7', 'pitch-bend'], 'remove'))).toHaveLength(4);
    expect(left(controllers(['cc20-31'], 'remove'))).toHaveLength(6);
    expect(left(controllers(['cc7'], 'remove', { from: 480 }))).toContainEqual(control(0, 7, 100));
  });

  it('keeps the first value only, or one that is neutral', () => {
    expect(
      left(controllers(['cc7'], 'first')).filter((e) => e.kind === 'control' && e.controller === 7),
    ).toEqual([control(0, 7, 100)]);
    expect(left(controllers(['cc1'], 'neutral'))).toContainEqual(control(0, 1, 0));
  });

  it('lets a strand keep what goes elsewhere', () => {
    expect(
      left(controllers(['cc7'], 'remove'), {
        ...controllers(['cc7'], 'keep'),
        strand: '1/t1c1',
      } as PlainDirective),
    ).toHaveLength(7);
  });

  it('says how many of each there were and are', () => {
    expect(deskOf(smf(), controllers(['cc7'], 'first')).changes).toEqual([
      { strand: '1/t1c1', step: 'controllers', what: 'Volume (7)', before: 2, after: 1 },
    ]);
  });

  it('leaves programs and banks to their own directive', () => {
    expect(left(controllers(['cc0-127'], 'remove')).map((event) => event.kind)).toEqual([
      'control',
      'program',
      'pitchBend',
    ]);
    const set = left({ kind: 'programs', use: 'number', program: 5, bank: 129 });
    expect(set.slice(0, 3)).toEqual([control(0, 0, 1), control(0, 32, 1), program(0, 4)]);
    expect(left({ kind: 'programs', use: 'instrument' })).toContainEqual(program(0, 73));
    expect(left({ kind: 'programs', use: 'none' }).some((event) => event.kind === 'program')).toBe(false);
  });

  it('still casts by the programs of the source', () => {
    const unnamed = madeFile(madeTrack('', 0, line, [program(0, 42)]));
    expect(deskOf(unnamed, { kind: 'programs', use: 'none' }).performance.strands[0]!.programs).toEqual([42]);
  });
});

describe('the clock', () => {
  const head = {
    events: [
      { kind: 'timeSignature', tick: 0, numerator: 4, denominator: 4, clocks: 24, thirtySeconds: 8 },
      { kind: 'timeSignature', tick: 3960, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
      { kind: 'tempo', tick: 0, microsPerQuarter: 500_000 },
      { kind: 'tempo', tick: 4200, microsPerQuarter: 400_000 },
    ] as SmfEvent[],
  };
  const smf = () =>
    madeFile(
      head,
      madeTrack('Flute', 0, [
        [3840, 4320, 60],
        [5280, 5400, 62],
      ]),
    );

  it('moves a meter and a tempo to the nearest bar line', () => {
    const { performance } = deskOf(
      smf(),
      { kind: 'clock-event', what: 'meter', tick: 3960, mend: 'to-bar' },
      { kind: 'clock-event', what: 'tempo', tick: 4200, mend: 'to-bar' },
    );
    expect(performance.meters.map((meter) => meter.tick)).toEqual([0, 3840]);
    expect(performance.tempos.map((tempo) => tempo.tick)).toEqual([0, 3840]);
  });

  it('trims whole empty bars, and everything moves along', () => {
    const { performance, changes } = deskOf(smf(), { kind: 'silence', trim: true });
    expect(performance.strands[0]!.notes[0]!.on).toBe(0);
    expect(performance.tempos).toEqual([
      { tick: 0, microsPerQuarter: 500_000 },
      { tick: 360, microsPerQuarter: 400_000 },
    ]);
    expect(changes).toContainEqual(expect.objectContaining({ step: 'silence', before: 2, after: 0 }));
  });
});

describe('identity', () => {
  it('keeps the same strand where no decision, or the same decision, touches it', () => {
    const reading = performanceReading(madeFile(madeTrack('Flute', 0, line), madeTrack('Oboe', 1, line)));
    const under = (brief: Brief) => layOut([reading], brief);
    const plain = under(EMPTY_BRIEF);
    expect(plain.performance).toBe(plain.source);
    const first = withDirectives(EMPTY_BRIEF, [
      { kind: 'specks', strand: '1/t1c1', under: 30 },
      { kind: 'velocities', strand: '1/t1c1', scale: 50, level: 64, strength: 0 },
    ]);
    const once = under(first);
    const twice = under(
      withDirectives(first, [{ kind: 'velocities', strand: '1/t2c2', scale: 50, level: 64, strength: 0 }]),
    );
    expect(once.performance.strands[1]).toBe(plain.performance.strands[1]);
    expect(twice.performance.strands[0]).toBe(once.performance.strands[0]);
  });

  it('cleaning what is clean changes nothing, over generated strands', () => {
    const stroke = fc.tuple(fc.nat(3000), fc.integer({ min: 1, max: 600 }), fc.integer({ min: 30, max: 90 }));
    fc.assert(
      fc.property(fc.array(stroke, { minLength: 1, maxLength: 30 }), (made) => {
        const smf = madeFile(
          madeTrack(
            'Flute',
            0,
            made.map(([on, length, key]): Stroke => [on, on + length, key]),
          ),
        );
        const mends: PlainDirective[] = [
          { kind: 'stacked', mend: true },
          { kind: 'hanging', close: true },
        ];
        const { performance } = deskOf(smf, ...mends);
        for (const { notes } of performance.strands)
          for (const note of notes) {
            const clash = notes.find(
              (other) =>
                other !== note && other.key === note.key && other.on <= note.on && other.off > note.on,
            );
            expect(clash).toBeUndefined();
          }
      }),
      { numRuns: 200 },
    );
  });
});

describe('a section divided over its chairs', () => {
  /** Four horns in chords that move, then the two upper ones alone, then all on one note. */
  const horns = () => {
    const chord = (on: number, keys: number[]): Stroke[] => keys.map((key) => [on, on + 950, key]);
    return madeFile(
      madeTrack('Horns 1-4', 0, [
        ...chord(0, [53, 60, 65, 69]),
        ...chord(960, [53, 58, 65, 70]),
        ...chord(1920, [65, 69]),
        ...chord(2880, [67, 70]),
        ...chord(3840, [53, 60, 65, 69]),
      ]),
    );
  };
  const chairs = ['horn-f', 'horn-f', 'horn-f', 'horn-f'];

  it('has a strand for each player, from the top, and every note once', () => {
    const desk = deskOf(horns(), { kind: 'split', strand: '1/t1c1', by: 'chairs', chairs });
    expect(strandsOf(desk)).toEqual([
      ['1/t1c1', [69, 70, 69, 70, 69]],
      ['1/t1c1s2', [65, 65, 65, 67, 65]],
      ['1/t1c1s3', [60, 58, 60]],
      ['1/t1c1s4', [53, 53, 53]],
    ]);
    expect(plansOf(desk.performance, desk.decisions, null).map(({ name }) => name)).toEqual([
      'Horn 1',
      'Horn 2',
      'Horn 3',
      'Horn 4',
    ]);
  });

  it('may share staves by two, and is whole again', () => {
    const desk = deskOf(
      horns(),
      { kind: 'split', strand: '1/t1c1', by: 'chairs', chairs },
      { kind: 'join', strand: '1/t1c1s2', into: '1/t1c1' },
      { kind: 'join', strand: '1/t1c1s4', into: '1/t1c1s3' },
    );
    const plans = plansOf(desk.performance, desk.decisions, null);
    expect(plans.map(({ name, players }) => [name, players])).toEqual([
      ['Horn 1+2', [1, 2]],
      ['Horn 3+4', [3, 4]],
    ]);
    const whole = deskOf(
      horns(),
      { kind: 'split', strand: '1/t1c1', by: 'chairs', chairs },
      { kind: 'join', strand: '1/t1c1s2', into: '1/t1c1' },
      { kind: 'split', strand: '1/t1c1', by: null },
    );
    expect(whole.refusals).toEqual([]);
    expect(strandsOf(whole)).toEqual(strandsOf(deskOf(horns())));
  });

  it('puts strings from one patch on what can play them', () => {
    const file = madeFile(
      madeTrack('Strings', 0, [
        ...[36, 48, 60, 67, 76].map((key): Stroke => [0, 950, key]),
        ...[38, 50, 62, 69, 77].map((key): Stroke => [960, 1900, key]),
      ]),
    );
    const seats = ['violin', 'violin', 'viola', 'cello', 'double-bass'];
    const desk = deskOf(file, { kind: 'split', strand: '1/t1c1', by: 'chairs', chairs: seats });
    expect(plansOf(desk.performance, desk.decisions, null).map(({ name }) => name)).toEqual([
      'Violin I',
      'Violin II',
      'Viola',
      'Violoncello',
      'Contrabass',
    ]);
  });

  it('loses no note, whatever is divided', () => {
    const stroke = fc.tuple(
      fc.integer({ min: 0, max: 8000 }),
      fc.integer({ min: 1, max: 900 }),
      fc.integer({ min: 0, max: 127 }),
    );
    fc.assert(
      fc.property(
        fc.array(stroke, { minLength: 1, maxLength: 40 }),
        fc.array(fc.constantFrom('flute', 'violin', 'tuba', 'piano'), { minLength: 2, maxLength: 6 }),
        (strokes, seats) => {
          const file = madeFile(
            madeTrack(
              'all',
              0,
              strokes.map(([on, length, key]): Stroke => [on, on + length, key]),
            ),
          );
          const keys = (desk: ReturnType<typeof deskOf>) =>
            desk.performance.strands
              .flatMap(({ notes }) => notes.map(({ id, key }) => `${id} ${key}`))
              .sort();
          const divided = deskOf(file, { kind: 'split', strand: '1/t1c1', by: 'chairs', chairs: seats });
          expect(keys(divided)).toEqual(keys(deskOf(file)));
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('techniques inside a strand', () => {
  const smf = () => madeFile(madeTrack('celli', 0, line, [program(0, 42), program(960, 45)]));

  it('are told by its programs, and by what was decided', () => {
    const split: PlainDirective[] = [
      { kind: 'split', strand: '1/t1c1', by: 'program' },
      { kind: 'join', strand: '1/t1c1s2', into: '1/t1c1' },
    ];
    const techniques = (...more: PlainDirective[]) => {
      const desk = deskOf(smf(), ...split, ...more);
      return plansOf(desk.performance, desk.decisions, null).map((plan) => plan.techniques);
    };
    expect(techniques()).toEqual([[null, 'pizzicato']]);
    expect(techniques({ kind: 'technique', strand: '1/t1c1s2', technique: 'ordinary' })).toEqual([
      [null, null],
    ]);
    expect(techniques({ kind: 'technique', strand: '1/t1c1', technique: 'muted' })).toEqual([
      ['muted', 'pizzicato'],
    ]);
  });
});
