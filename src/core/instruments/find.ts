import { CATALOGUE, type Instrument, LANGUAGES } from './catalogue';
import { inFull, wordsOf } from './name-words';

/** All that an instrument is called, as plain words. */
const CALLED = CATALOGUE.map((instrument) => ({
  instrument,
  names: [
    ...LANGUAGES.flatMap((language) => Object.values<string>({ ...instrument.names[language] })),
    ...instrument.aliases,
  ].map((name) => wordsOf(name)),
}));

/**
 * Instruments that something typed stands for, in any language, as far as it
 * is typed: those that are called so, then those with a name that begins so,
 * then those that have these words somewhere; each in score order.
 */
export function findInstruments(typed: string): Instrument[] {
  const asked = wordsOf(typed);
  const tries = [asked, inFull(asked)];
  /** 0 for the very name, 3 for none. */
  const farness = (names: readonly (readonly string[])[]): number =>
    Math.min(
      ...names.flatMap((name) =>
        tries.map((words) => {
          const text = words.join(' ');
          const whole = name.join(' ');
          if (whole === text) return 0;
          if (whole.startsWith(text)) return 1;
          return words.every((word) => name.some((own) => own.startsWith(word))) ? 2 : 3;
        }),
      ),
    );
  return CALLED.map(({ instrument, names }) => ({ instrument, far: farness(names) }))
    .filter(({ far }) => far < 3)
    .sort((a, b) => a.far - b.far)
    .map(({ instrument }) => instrument);
}
