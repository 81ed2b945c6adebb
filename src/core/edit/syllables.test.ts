import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { divide, WORD_LANGUAGES, type WordLanguage } from './syllables';

const divided = (words: string, language: WordLanguage) =>
  words
    .split(' ')
    .map((word) => divide(word.replaceAll('-', ''), language).join('-'))
    .join(' ');

/** As the dictionaries of each language divide them; from memory, those of German as hymn books print them. */
const WORDS: Record<WordLanguage, string> = {
  en: 'a-way o-pen on-ly lit-tle ta-ble peo-ple flow-er be-ing beau-ti-ful hal-le-lu-jah wan-ted loved called saved grace white name Je-sus na-tion',
  de: 'A-bend Him-mel Kö-nig ge-trost ver-traut wan-dern ü-ber Schwe-ster Sün-de lie-ben auf-er-stan-den neu-e Ruh',
  fr: 'a-mour bel-le chan-son é-toi-le oi-seau pe-ti-te',
  it: 'a-mo-re cuo-re gior-no cie-lo fo-glia que-sta do-lo-re bel-lo o-gni',
  es: 'co-ra-zón no-che gui-ta-rra llu-via dí-a ai-re ciu-dad',
  la: 'glo-ri-a ex-cel-sis De-o Do-mi-ne mi-se-re-re no-bis be-ne-dic-tus al-le-lu-i-a cae-li san-ctus'.replace(
    'san-ctus',
    'sanc-tus',
  ),
};

describe('syllables of a word', () => {
  it.each(WORD_LANGUAGES)('are those of the dictionary (%s)', (language) => {
    expect(divided(WORDS[language], language)).toBe(WORDS[language]);
  });

  it('keep the signs that stand at the word, and its capitals', () => {
    expect(divide('(Lantern,', 'en')).toEqual(['(Lan', 'tern,']);
    expect(divide('“Über”!', 'de')).toEqual(['“Ü', 'ber”!']);
    expect(divide('…', 'en')).toEqual(['…']);
  });

  it('are joined the word, whatever it is, and none is empty', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 1, unit: 'grapheme' }),
        fc.constantFrom(...WORD_LANGUAGES),
        (word, language) => {
          const parts = divide(word, language);
          expect(parts.join('')).toBe(word);
          expect(parts.every((part) => part !== '')).toBe(true);
        },
      ),
    );
    fc.assert(
      fc.property(
        fc.string({ minLength: 1, unit: fc.constantFrom(...'aeiouybcdghklmnrstzé') }),
        fc.constantFrom(...WORD_LANGUAGES),
        (word, language) => {
          const parts = divide(word, language);
          expect(parts.join('')).toBe(word);
          expect(parts.every((part) => part !== '')).toBe(true);
        },
      ),
    );
  });
});
