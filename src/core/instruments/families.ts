import type { Family } from './catalogue';

/** Families of instruments, for people, in score order. */
export const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  woodwind: 'Woodwind',
  brass: 'Brass',
  percussion: 'Percussion',
  keyboard: 'Keyboard',
  plucked: 'Plucked',
  voice: 'Voice',
  strings: 'Strings',
  electronic: 'Electronic',
};
