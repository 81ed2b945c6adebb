import { describe, expect, it } from 'vitest';
import { deskOf, madeFile, madeTrack } from '../../../tests/helpers/made-file';
import { listKits } from '../stock/kits';
import { noteBars, transferable } from './note-bars';

const smf = () =>
  madeFile(
    madeTrack(
      'Fl 1',
      0,
      [
        [480, 960, 72, 90],
        [0, 480, 70, 60],
      ],
      [
        { kind: 'control', tick: 0, channel: 0, controller: 7, value: 100 },
        { kind: 'pitchBend', tick: 240, channel: 0, value: 10_000 },
      ],
    ),
    madeTrack('Drums', 9, [
      [0, 60, 48],
      [480, 540, 50],
      [960, 1020, 48],
    ]),
  );

describe('note bars', () => {
  it('are flat arrays in order of onset, with lanes', () => {
    const [flute, drums] = noteBars(deskOf(smf()), false).strands;
    expect(flute).toMatchObject({
      id: '1/t1c1',
      part: 'Flute 1',
      track: 1,
      channel: 1,
      unpitched: false,
      out: false,
    });
    expect([...flute!.on]).toEqual([0, 480]);
    expect([...flute!.key]).toEqual([70, 72]);
    expect([...flute!.velocity]).toEqual([60, 90]);
    expect(flute!.lanes.map(({ lane, highest, values }) => [lane, highest, ...values])).toEqual([
      ['cc7', 127, 100],
      ['pitch-bend', 16_383, 10_000],
    ]);
    expect(drums!.unpitched).toBe(true);
  });

  it('show pieces, strands left out, and variation where it is asked for', () => {
    const desk = deskOf(
      smf(),
      { kind: 'split', strand: '1/t1c1', by: 'pitch', key: 71 },
      { kind: 'leave-out', strand: '1/t2c10', out: true },
      { kind: 'vary', time: 30, velocity: 20, seed: 3 },
    );
    const plain = noteBars(desk, false);
    expect(plain.strands.map(({ id, piece, out }) => [id, piece, out])).toEqual([
      ['1/t1c1', 'from B4 up', false],
      ['1/t1c1s2', 'below B4', false],
      ['1/t2c10', '', true],
    ]);
    expect(plain.varies).toBe(true);
    expect(noteBars(desk, true).strands[0]!.velocity).not.toEqual(plain.strands[0]!.velocity);
    expect(noteBars(deskOf(smf()), true).varies).toBe(false);
  });

  it('hand over every buffer once', () => {
    const buffers = transferable(noteBars(deskOf(smf()), false));
    expect(new Set(buffers).size).toBe(buffers.length);
    expect(buffers).toHaveLength(2 * 5 + 2 * 2);
  });
});

describe('kits', () => {
  it('count the keys of the source, whatever they are translated to', () => {
    const kit = { kind: 'kit' as const, strand: '1/t2c10' as const, keys: [{ from: 48, to: 36 }] };
    expect(listKits(deskOf(smf(), kit))).toEqual([
      expect.objectContaining({
        strand: '1/t2c10',
        keys: [
          { key: 48, count: 2, to: 36 },
          { key: 50, count: 1, to: 50 },
        ],
      }),
    ]);
  });
});
