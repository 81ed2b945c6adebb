// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { fireEvent, render } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { isAnswered, press, useKeys, useKeysLater } from './keys';

function Stage({ onStage, onUndo }: { onStage: (key: string) => void; onUndo: () => void }) {
  useKeys({ stage: ({ key }) => onStage(key), undo: onUndo, search: () => false });
  return null;
}

function Job({
  isOpen,
  ...handlers
}: {
  isOpen: boolean;
  onStage: (key: string) => void;
  onUndo: () => void;
}) {
  useKeysLater(!isOpen);
  return isOpen ? <Stage {...handlers} /> : null;
}

describe('keys of the page', () => {
  it('that are pressed before anything listens do what they do once it does, in their order', () => {
    const [onStage, onUndo] = [vi.fn(), vi.fn()];
    const handlers = { onStage, onUndo };
    const { rerender } = render(<Job isOpen={false} {...handlers} />);
    fireEvent.keyDown(window, { key: '4' });
    fireEvent.keyDown(window, { key: 'z', ctrlKey: true });
    fireEvent.keyDown(window, { key: 'ä' });
    expect(onStage).not.toHaveBeenCalled();
    rerender(<Job isOpen {...handlers} />);
    expect(onStage.mock.calls).toEqual([['4']]);
    expect(onUndo).toHaveBeenCalledTimes(1);
    expect(onStage.mock.invocationCallOrder[0]).toBeLessThan(onUndo.mock.invocationCallOrder[0] ?? 0);
    // From then on they are pressed once.
    fireEvent.keyDown(window, { key: '2' });
    expect(onStage.mock.calls).toEqual([['4'], ['2']]);
  });

  it('are answered as long as somebody listens, and can be pressed by name', () => {
    const onUndo = vi.fn();
    const { unmount } = render(<Stage onStage={vi.fn()} onUndo={onUndo} />);
    expect(isAnswered('undo')).toBe(true);
    expect(isAnswered('tap')).toBe(false);
    press('undo');
    expect(onUndo).toHaveBeenCalledTimes(1);
    unmount();
    expect(isAnswered('undo')).toBe(false);
    press('undo');
    expect(onUndo).toHaveBeenCalledTimes(1);
  });
});
