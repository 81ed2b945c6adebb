// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { PartSummary } from '../../core/workbench/replies';
import { BarMap } from './BarMap';

const parts = ['Flute', 'Oboe', 'Horn'].map((name) => ({ name }) as PartSummary);

/** The map of three parts over ten bars, a hundred pixels wide. @param told parts of which there is something to tell */
function drawn(from: number, told: readonly number[] = []) {
  const onGo = vi.fn();
  const findings = told.map((part) => ({ part, at: { bar: 5 } }));
  render(<BarMap parts={parts} findings={findings} bars={10} from={from} to={from + 4} onGo={onGo} />);
  const map = screen.getByRole('img', { name: /^Bar map: 3 parts, 10 bars/ });
  map.getBoundingClientRect = () => ({ left: 0, top: 0, width: 100, height: 27 }) as DOMRect;
  return { onGo, map };
}

describe('the bar map', () => {
  it('has a row for each part of which there is something to tell, and goes to its bar', () => {
    const { onGo, map } = drawn(0, [2, 1]);
    fireEvent.click(map, { clientX: 75, clientY: 2 });
    fireEvent.click(map, { clientX: 100, clientY: 12 });
    expect(onGo.mock.calls).toEqual([
      [7, parts[1]],
      [9, parts[2]],
    ]);
  });

  it('is one line where there is nothing to tell, and goes to the bar alone', () => {
    const { onGo, map } = drawn(0);
    fireEvent.click(map, { clientX: 50, clientY: 3 });
    expect(onGo.mock.calls).toEqual([[5, undefined]]);
  });

  it('goes from bar to bar by arrow keys, and not beyond the piece', async () => {
    const { onGo } = drawn(9);
    await userEvent.tab();
    await userEvent.keyboard('{ArrowLeft}{ArrowRight}{ArrowUp}');
    expect(onGo.mock.calls).toEqual([[8], [9]]);
  });
});
