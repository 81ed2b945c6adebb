// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { InstrumentPicker } from './InstrumentPicker';

describe('the choice of an instrument', () => {
  it('finds one under its other names, and gives the focus back', async () => {
    const onChange = vi.fn();
    render(<InstrumentPicker value="flute" label="Instrument of Ob" onChange={onChange} />);
    const closed = () => screen.getByRole('button', { name: 'Instrument of Ob: Flute' });
    await userEvent.click(closed());
    await userEvent.keyboard('hautbois');
    await userEvent.click(await screen.findByTitle('Oboe'));
    expect(onChange.mock.calls).toEqual([['oboe']]);
    expect(document.activeElement).toBe(closed());
  });

  it('changes nothing when the same is chosen, or none', async () => {
    const onChange = vi.fn();
    render(<InstrumentPicker value="flute" label="Instrument" onChange={onChange} />);
    await userEvent.click(screen.getByRole('button'));
    await userEvent.click((await screen.findAllByTitle('Flute')).at(-1)!);
    await userEvent.click(screen.getByRole('button'));
    await userEvent.keyboard('{Escape}');
    expect(onChange).not.toHaveBeenCalled();
  });
});
