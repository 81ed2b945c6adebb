// @vitest-environment jsdom
import '../../../../tests/helpers/page';
import { render } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { EventId } from '../../../core/model/ids';
import type { InterlinearRow, PlayedAndWritten } from '../../../core/workbench/replies';
import { NoteStrip } from './NoteStrip';

const note = (id: EventId, more: Partial<PlayedAndWritten> = {}): PlayedAndWritten => ({
  id,
  key: 60,
  velocity: 127,
  playedStart: 1,
  playedEnd: 2,
  start: 1,
  end: 2,
  grace: false,
  decided: false,
  ...more,
});

const bars = [{ start: 0, end: 4, number: 1, beats: [0, 1, 2, 3] }];

/** A strip of four beats, ten pixels each. */
function drawn(
  notes: PlayedAndWritten[],
  selected: EventId[] = [],
  flags: [EventId, number][] = [],
  unwritable: InterlinearRow['unwritable'] = [],
) {
  const row: InterlinearRow = { part: 'P1/t1c0', staves: 1, notes, unwritable, lowest: 60, highest: 72 };
  const { container } = render(
    <svg>
      <title>strip</title>
      <NoteStrip
        row={row}
        bars={bars}
        axis={(moment) => 10 * moment}
        headOf={(id) => (id === '1/t1c0/1' ? { x: 11, y: 120 } : undefined)}
        width={42}
        flags={new Map(flags)}
        selected={new Set(selected)}
      />
    </svg>,
  );
  return container.querySelectorAll('g[data-note]');
}
const numbers = (element: Element | null, ...names: string[]) =>
  names.map((name) => Number(element?.getAttribute(name)));

describe('the note bars of a part', () => {
  it('show a note as played within the frame that it is written in, joined to its head', () => {
    const [group] = drawn([note('1/t1c0/1', { playedStart: 1.2, playedEnd: 1.9 })]);
    const [frame, bar] = group!.querySelectorAll('rect');
    expect(numbers(frame!, 'x', 'width')).toEqual([10, 9]);
    expect(numbers(bar!, 'x', 'width')[0]).toBeCloseTo(12);
    expect(numbers(bar!, 'x', 'width')[1]).toBeCloseTo(7);
    expect(numbers(group!.querySelector('line'), 'x1', 'x2', 'y2')).toEqual([12, 11, 120]);
  });

  it('end at the edges of the strip', () => {
    const [group] = drawn([note('1/t1c0/2', { playedStart: -3, playedEnd: 9, start: 0, end: 4 })]);
    const bar = group!.querySelectorAll('rect')[1]!;
    expect(numbers(bar, 'x', 'width')).toEqual([0, 40]);
  });

  it('frame no grace note, since it has no written length', () => {
    const [group] = drawn([note('1/t1c0/2', { grace: true })]);
    expect(group!.querySelectorAll('rect').length).toBe(1);
  });

  it('show what no staff can hold at their edge, by name and with its finding', () => {
    const out = { id: '1/t1c0/4', key: 0, playedStart: 1, playedEnd: 1.5 } as const;
    const [group] = drawn([], [], [['1/t1c0/4', 1]], [out]);
    expect(numbers(group!.querySelector('rect'), 'x', 'width')).toEqual([10, 5]);
    expect(Number(group!.querySelector('rect')?.getAttribute('y'))).toBeGreaterThan(90);
    expect([...group!.querySelectorAll('text')].map((text) => text.textContent)).toEqual([
      'C-1, on no staff',
      '1',
    ]);
  });

  it('flag findings, dot decisions and frame what is chosen', () => {
    const [flagged, decided, chosen] = drawn(
      [note('1/t1c0/1'), note('1/t1c0/2', { decided: true }), note('1/t1c0/3')],
      ['1/t1c0/3'],
      [['1/t1c0/1', 12]],
    );
    expect(flagged!.querySelector('text')?.textContent).toBe('12');
    expect(decided!.querySelectorAll('circle').length).toBe(1);
    expect(chosen!.querySelectorAll('rect').length).toBe(3);
  });
});
