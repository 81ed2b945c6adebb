// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { EditableText } from './EditableText';

const field = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'Name' });

beforeEach(() => sessionStorage.clear());

describe('a text edited in place', () => {
  it('is saved once, by Enter', async () => {
    const onSave = vi.fn();
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.clear(field());
    await userEvent.type(field(), ' Cor anglais {Enter}');
    expect(onSave.mock.calls).toEqual([['Cor anglais']]);
    expect(field()).not.toBe(document.activeElement);
  });

  it('is saved by leaving, and not where nothing changed', async () => {
    const onSave = vi.fn();
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.click(field());
    await userEvent.tab();
    expect(onSave).not.toHaveBeenCalled();
    await userEvent.type(field(), ' 2');
    await userEvent.tab();
    expect(onSave.mock.calls).toEqual([['Oboe 2']]);
  });

  it('is as it was after Escape', async () => {
    const onSave = vi.fn();
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.type(field(), 'xyz{Escape}');
    expect(field().value).toBe('Oboe');
    await userEvent.tab();
    expect(onSave).not.toHaveBeenCalled();
  });

  it('is never empty, unless it may be', async () => {
    const onSave = vi.fn();
    const { rerender } = render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.clear(field());
    await userEvent.tab();
    expect(onSave).not.toHaveBeenCalled();
    expect(field().value).toBe('Oboe');
    rerender(<EditableText value="Oboe" label="Name" onSave={onSave} mayBeEmpty />);
    await userEvent.clear(field());
    await userEvent.tab();
    expect(onSave.mock.calls).toEqual([['']]);
  });

  it('belongs to who types: another name from outside waits', async () => {
    const { rerender } = render(<EditableText value="Oboe" label="Name" onSave={() => {}} />);
    await userEvent.type(field(), ' 2');
    rerender(<EditableText value="Hautbois" label="Name" onSave={() => {}} />);
    expect(field().value).toBe('Oboe 2');
  });

  it('is edited on from what is shown while that is still being kept, and Escape goes back to it', async () => {
    const onSave = vi.fn(() => new Promise(() => {}));
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.type(field(), ' 2{Enter}');
    await userEvent.click(field());
    expect(field().value).toBe('Oboe 2');
    await userEvent.type(field(), 'b{Escape}');
    expect(field().value).toBe('Oboe 2');
    await userEvent.clear(field());
    await userEvent.type(field(), 'Cor anglais{Enter}');
    expect(onSave.mock.calls).toEqual([['Oboe 2'], ['Cor anglais']]);
  });

  it('leaves what is typed alone when what was typed before was not kept', async () => {
    let refuse: (isKept: boolean) => void = () => {};
    const onSave = () => new Promise<boolean>((resolve) => (refuse = resolve));
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await userEvent.type(field(), ' 2{Enter}');
    await userEvent.type(field(), 'b');
    await act(async () => refuse(false));
    expect(field().value).toBe('Oboe 2b');
  });

  it('is saved when the page went away while it was typed', async () => {
    const before = render(<EditableText value="Oboe" label="Name" onSave={() => {}} />);
    await userEvent.type(field(), ' 2');
    before.unmount();
    const onSave = vi.fn();
    render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    expect(onSave.mock.calls).toEqual([['Oboe 2']]);
  });

  it('is saved again when the page went away before it was kept', async () => {
    const before = render(<EditableText value="Oboe" label="Name" onSave={() => new Promise(() => {})} />);
    await userEvent.type(field(), ' 2{Enter}');
    before.unmount();
    const onSave = vi.fn(() => Promise.resolve(true));
    const after = render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
    await vi.waitFor(() => expect(onSave.mock.calls).toEqual([['Oboe 2']]));
    await vi.waitFor(() => expect(sessionStorage.length).toBe(0));
    after.unmount();
    const none = vi.fn();
    render(<EditableText value="Oboe 2" label="Name" onSave={none} />);
    expect(none).not.toHaveBeenCalled();
  });

  it('shows the old text again where the new one was not kept, as when the storage is full', async () => {
    for (const onSave of [() => Promise.resolve(false), () => Promise.reject(new Error('full'))]) {
      const { unmount } = render(<EditableText value="Oboe" label="Name" onSave={onSave} />);
      await userEvent.type(field(), ' 2{Enter}');
      await vi.waitFor(() => expect(field().value).toBe('Oboe'));
      unmount();
    }
  });
});
