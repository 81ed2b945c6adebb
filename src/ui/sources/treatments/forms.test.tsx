// @vitest-environment jsdom
import '../../../../tests/helpers/page';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { parseBrief } from '../../../core/decisions/brief';
import type { PlainDirective } from '../../../core/decisions/kinds';
import type { StrandId } from '../../../core/model/ids';
import type { FormProps } from './form';
import { ProgramForm } from './ProgramForm';
import { VaryForm } from './VaryForm';
import { VelocityForm } from './VelocityForm';

const STRANDS: StrandId[] = ['1/t1c0', '1/t2c9'];

/** What a form decides for all chosen strands, and whether it went away. */
function decisionsOf(Form: (props: FormProps) => React.ReactNode) {
  const decided: PlainDirective[] = [];
  const close = vi.fn();
  render(<Form forAll={(make) => decided.push(...STRANDS.map(make))} close={close} />);
  return { decided, close };
}

/** Every decision of a form must be one that a brief may hold. */
const isAllowed = (decided: PlainDirective[]) =>
  expect(() => parseBrief({ format: 'dragoman-brief', version: 2, directives: decided })).not.toThrow();

const type = async (label: RegExp, value: string) => {
  const field = screen.getByRole('spinbutton', { name: label });
  await userEvent.clear(field);
  if (value) await userEvent.type(field, value);
};
const press = (name: string | RegExp) => userEvent.click(screen.getByRole('button', { name }));

describe('what treatments decide for all chosen strands', () => {
  it('shapes velocities', async () => {
    const { decided, close } = decisionsOf(VelocityForm);
    await type(/Scale/, '120');
    await type(/Draw towards/, '64');
    await press('Shape');
    expect(decided).toEqual(
      STRANDS.map((strand) => ({ kind: 'velocities', strand, scale: 120, level: 64, strength: 0 })),
    );
    isAllowed(decided);
    expect(close).toHaveBeenCalledOnce();
  });

  it('takes an emptied field for what it was at first', async () => {
    const { decided } = decisionsOf(VelocityForm);
    await type(/Scale/, '');
    await press('Shape');
    expect(decided[0]).toMatchObject({ scale: 100 });
    isAllowed(decided);
  });

  it('gives velocities back', async () => {
    const { decided } = decisionsOf(VelocityForm);
    await type(/Scale/, '50');
    await press('As in the source');
    expect(decided[0]).toMatchObject({ scale: 100, strength: 0 });
  });

  it('chooses programs, with a number only where one is chosen', async () => {
    const { decided } = decisionsOf(ProgramForm);
    await press('Set');
    expect(decided).toEqual(STRANDS.map((strand) => ({ kind: 'programs', strand, use: 'instrument' })));
    isAllowed(decided);
  });

  it('varies with a seed that a brief may hold', async () => {
    const { decided } = decisionsOf(VaryForm);
    await press(/^Vary|^Set|^Play/);
    expect(decided.length).toBe(STRANDS.length);
    isAllowed(decided);
  });
});
