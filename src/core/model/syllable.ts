import type { Lyric } from './marks';

/** Between two syllables that are sung on one note. */
const ELISION = '~';
/** A line goes on under the notes that follow. */
const HELD = '_';

/**
 * A syllable as it is typed: a hyphen says that its word goes on before or after it, `_` at its end that it is held under the
 * notes that follow, `~` that two are sung on one note.
 */
export function readSyllable(typed: string): Lyric {
  const isHeld = typed.length > 1 && typed.endsWith(HELD);
  const said = isHeld ? typed.slice(0, -1) : typed;
  const before = said.startsWith('-');
  const after = said.endsWith('-');
  const words = said.replace(/^-+|-+$/g, '') || said;
  const [text = words, ...more] = words.split(/(?<=.)~(?=.)/);
  return {
    text,
    syllabic: before ? (after ? 'middle' : 'end') : after ? 'begin' : 'single',
    ...(more.length > 0 && { elided: more.join('\u203f') }),
    ...(isHeld && { extends: true as const }),
  };
}

/** The same the other way: what `readSyllable` makes the syllable of. */
export function typedSyllable({ text, syllabic, elided, extends: isHeld }: Lyric): string {
  const before = syllabic === 'middle' || syllabic === 'end' ? '-' : '';
  const after = syllabic === 'middle' || syllabic === 'begin' ? '-' : '';
  const words = elided === undefined ? text : [text, ...elided.split('\u203f')].join(ELISION);
  return `${before}${words}${after}${isHeld ? HELD : ''}`;
}

/** What a syllable is in a MIDI file: a hyphen where its word goes on. */
export const sungText = ({ text, syllabic, elided }: Lyric): string =>
  `${elided === undefined ? text : `${text}${elided}`}${syllabic === 'begin' || syllabic === 'middle' ? '-' : ''}`;
