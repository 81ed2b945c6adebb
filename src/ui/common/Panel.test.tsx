// @vitest-environment jsdom
import '../../../tests/helpers/page';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Panel } from './Panel';

let revision = 1;
vi.mock('../job/session', () => ({ useSession: () => ({ stock: { revision }, summary: null }) }));

let isBroken = true;
function Fragile() {
  if (isBroken) throw new Error('Bar 12 has no notes.');
  return <p>The bars</p>;
}
const page = (inLine: boolean) => (
  <>
    <Panel name="The bar map" inLine={inLine}>
      <Fragile />
    </Panel>
    <p>What stands beside it</p>
  </>
);

beforeEach(() => {
  [revision, isBroken] = [1, true];
  // React tells the console of each.
  vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(() => vi.restoreAllMocks());

describe('a panel that fails', () => {
  it.each([false, true])(
    'says so by its name, leaves the others, and is shown again (in a line: %s)',
    async (inLine) => {
      render(page(inLine));
      expect(screen.getByText(/The bar map (cannot be shown|failed)/)).toBeTruthy();
      expect(screen.getByText('What stands beside it')).toBeTruthy();
      isBroken = false;
      await userEvent.click(screen.getByRole('button', { name: /show it again/i }));
      expect(screen.getByText('The bars')).toBeTruthy();
    },
  );

  it('tells why, and is drawn by itself when something was decided', () => {
    const { rerender } = render(page(false));
    expect(screen.getByText(/Bar 12 has no notes\. Your decisions are kept\./)).toBeTruthy();
    [isBroken, revision] = [false, 2];
    rerender(page(false));
    expect(screen.getByText('The bars')).toBeTruthy();
  });
});
