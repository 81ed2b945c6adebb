import type { ChordSymbol, Root } from '../../model/marks';
import type { TextAt } from '../../model/performance';
import { STEPS } from '../../model/pitch';

/** What is written after a root, as MusicXML 4.0 names it (`kind-value`); the longest that fits counts (common practice). */
const KINDS: readonly (readonly [written: RegExp, kind: string])[] = [
  [/^(m7b5|m7-5|m7♭5|ø7?|half-?dim)$/i, 'half-diminished'],
  [/^(maj7|ma7|M7|Δ7?|j7|major7)$/, 'major-seventh'],
  [/^(mmaj7|mM7|m\(maj7\)|minmaj7)$/, 'major-minor'],
  [/^(m7|min7|mi7|-7)$/, 'minor-seventh'],
  [/^(dim7|°7|o7)$/i, 'diminished-seventh'],
  [/^(dim|°|o)$/i, 'diminished'],
  [/^(aug7|\+7|7\+|7#5)$/i, 'augmented-seventh'],
  [/^(aug|\+)$/i, 'augmented'],
  [/^(maj9|M9)$/, 'major-ninth'],
  [/^(m9|min9)$/, 'minor-ninth'],
  [/^9$/, 'dominant-ninth'],
  [/^11$/, 'dominant-11th'],
  [/^13$/, 'dominant-13th'],
  [/^(m6|min6)$/, 'minor-sixth'],
  [/^6$/, 'major-sixth'],
  [/^(sus2)$/i, 'suspended-second'],
  [/^(sus4?|sus)$/i, 'suspended-fourth'],
  [/^7$/, 'dominant'],
  [/^(m|min|mi|-)$/, 'minor'],
  [/^(maj|M|major)?$/, 'major'],
  [/^5$/, 'power'],
];

const NAME = /^([A-H])([#♯b♭]?)([^/]*)(?:\/\s*([A-H])([#♯b♭]?))?$/;

/** The chord that a text names, such as "F 7", "Dm7" or "B♭/D"; null for other texts. */
export function chordNamed(text: string): ChordSymbol | null {
  const match = NAME.exec(text.trim());
  if (!match) return null;
  const [, letter = '', sign = '', spaced = '', bassLetter, bassSign = ''] = match;
  const written = spaced.replaceAll(/\s/g, '');
  const root = rootOf(letter, sign);
  const kind = KINDS.find(([spelled]) => spelled.test(written))?.[1];
  const bass = bassLetter ? rootOf(bassLetter, bassSign) : undefined;
  if (!root || !kind || bass === null) return null;
  return { root, kind, ...(written && { text: written }), ...(bass && { bass }) };
}

/** H is the German name of B natural. */
function rootOf(letter: string, sign: string): Root | null {
  const step = STEPS.find((each) => each === (letter === 'H' ? 'B' : letter));
  return step ? { step, alter: /[#♯]/.test(sign) ? 1 : /[b♭]/.test(sign) ? -1 : 0 } : null;
}

/** So many markers, and this share of them, name chords where chords are meant: a lone "A" is a rehearsal mark. */
const ENOUGH = 4;
const MOSTLY = 0.7;

/** The markers of a file that are chord names, and the others. Letters alone are chords only among such with more to them, or where they are said to be. */
export function chordMarkers(markers: readonly TextAt[]): {
  chords: { tick: number; symbol: ChordSymbol }[];
  others: TextAt[];
} {
  const named = markers.map((marker) => ({ marker, symbol: chordNamed(marker.text) }));
  const telling = named.filter(({ marker, symbol }) => symbol && marker.text.trim().length > 1);
  const count = named.filter(({ symbol }) => symbol).length;
  const areNamed = markers.some(({ chord }) => chord);
  if (!areNamed && (telling.length < ENOUGH || count < MOSTLY * markers.length))
    return { chords: [], others: [...markers] };
  return {
    chords: named.flatMap(({ marker, symbol }) => (symbol ? [{ tick: marker.tick, symbol }] : [])),
    others: named.flatMap(({ marker, symbol }) => (symbol ? [] : [marker])),
  };
}
