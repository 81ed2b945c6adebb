// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { Stepwise } from './Stepwise';

const rows = (count: number) => Array.from({ length: count }, (_, index) => <li key={index}>row {index}</li>);
const shown = () => screen.queryAllByRole('listitem').length;

describe('rows drawn step by step', () => {
  it('are all there in the end, in their order, more that come later too', async () => {
    const { rerender } = render(<Stepwise by={3}>{rows(10)}</Stepwise>);
    await vi.waitFor(() => expect(shown()).toBe(10));
    expect(screen.getAllByRole('listitem').map((each) => each.textContent)).toEqual(
      rows(10).map((_, index) => `row ${index}`),
    );
    rerender(<Stepwise by={3}>{rows(20)}</Stepwise>);
    await vi.waitFor(() => expect(shown()).toBe(20));
    rerender(<Stepwise by={3}>{rows(2)}</Stepwise>);
    expect(shown()).toBe(2);
  });
});
