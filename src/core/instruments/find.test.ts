import { expect, it } from 'vitest';
import { findInstruments } from './find';

const ids = (typed: string) => findInstruments(typed).map(({ id }) => id);

it('finds instruments in any language as far as they are typed, the very name first', () => {
  expect(ids('hautbois')[0]).toBe('oboe');
  expect(ids('Flöte')[0]).toBe('flute');
  expect(ids('bass cl')[0]).toBe('bass-clarinet');
  expect(ids('tromb')).toEqual(expect.arrayContaining(['trombone', 'bass-trombone', 'trumpet-bflat']));
  expect(ids('horn e')).toContain('horn-eflat');
});

it('finds nothing for what no instrument is called', () => {
  expect(ids('xqz')).toEqual([]);
});
