/** Languages whose words can be divided. */
export const WORD_LANGUAGES = ['en', 'de', 'fr', 'it', 'es', 'la'] as const;
export type WordLanguage = (typeof WORD_LANGUAGES)[number];

interface Manner {
  /** Vowels that are sung as one, the longest first. */
  vowels: RegExp;
  /** Consonants that begin a syllable together. */
  onsets: ReadonlySet<string>;
  /** The same where more consonants stand before them. */
  inner?: ReadonlySet<string>;
  /** A vowel that is not sung. */
  mute?: RegExp;
  /** What words begin with that stays by itself. */
  prefix?: RegExp;
}

const set = (words: string): ReadonlySet<string> => new Set(words.split(' '));

const LIQUIDS = 'bl br cl cr dr fl fr gl gr pl pr tr';

/**
 * How each language joins vowels and begins syllables, as words are divided under notes: German as it was before 1996, which
 * songs keep (st stays together), French with its final e, the others as their dictionaries divide, English by ear. Common
 * practice, from memory.
 */
const MANNERS: Record<WordLanguage, Manner> = {
  en: {
    vowels:
      /eau|(?<=[ct]|ss)i(?:ou|o|a|e)|eo(?=pl)|ai|au|(?<!^)aw|ay|ea|ee|ei(?!ng)|eu|ew|ey|ie|oa|oe|oi|oo|ou|ow|oy|ue|(?<!q)ui|[aeiouy]/g,
    onsets: set(
      `${LIQUIDS} ch ph sh th wh gh qu sc sk sl sm sn sp st sw tw scr spr str thr shr chr sch ${'b c d f g k p s t z'
        .split(' ')
        .map((letter) => `${letter}le`)
        .join(' ')}`,
    ),
    mute: /(?<=[aeiouy].*[^aeiouyl])e(?=$)|(?<=[aeiouy].*[^aeiouylsxzcg])(?<!ch|sh)e(?=s$)|(?<=[aeiouy].*(?:[aeiouy]|[rwnm])l)e(?=s?$)|(?<=[aeiouy].*[^aeioutdyl])e(?=d$)|(?<=[aeiouy](?:l|ll|rl))e(?=d$)/,
  },
  de: {
    vowels: /aa|ai|au|ay|ee|ei|eu|ey|ie|oo|äu|[aeiouyäöü]/g,
    onsets: set('ch sch ph th qu st sp schr schl schm schn schw'),
    prefix:
      /^(?:(?:ge|be|ver|zer|ent|an|nach)(?=(?:[bdfgkpt][lr]|kn)[aeiouäöü])|(?:auf|aus|voll)(?=[aeiouäöü]))/,
  },
  fr: {
    vowels: /eau|œu|oeu|oui|ai|au|ay|ea|ei|eu|ey|ia|ie|io|oi|ou|oy|(?<![gq])ui|[aeiouyàâäéèêëîïôöùûüœæ]/g,
    onsets: set(`${LIQUIDS} vr ch ph th gn chr phr thr`),
  },
  it: {
    vowels: /(?<=[cg]|gl|sc)i[aeou]|[iu][eo]|(?<=[qg])u[aeiou]|ia(?=n|c|m)|au|[aeo]i(?=$)|[aeiouàèéìòù]/g,
    onsets: set(
      `${LIQUIDS} ch gh gn gl sc sch sb sd sf sg sl sm sn sp sq sr st sv scr sdr sfr sgr spr str spl`,
    ),
  },
  es: {
    vowels: /[iu]?[aeoáéó][iuy]?|[iu][iu]|[aeiouáéíóúüy]/g,
    onsets: set(`${LIQUIDS} ch ll rr`),
  },
  la: {
    vowels: /ae|oe|au|æ|œ|[aeiouyáéíóúǽ]/g,
    onsets: set(`${LIQUIDS} ch ph th gn sc sp st str spr scr`),
  },
};

/** Where in consonants between two vowels the next syllable begins. */
function onsetIn(cluster: string, { onsets, inner }: Manner, vowel: string): number {
  for (let from = 0; from < cluster.length - 1; from++) {
    const onset = cluster.slice(from);
    // Of what ends in a silent vowel (lit-tle) that is a part.
    if (onsets.has(onset) || (from > 0 && inner?.has(onset)) || (vowel === 'e' && onsets.has(`${onset}e`)))
      return from;
  }
  return Math.max(0, cluster.length - 1);
}

/**
 * Divides a word into the syllables on which it is sung: one a vowel, or vowels that go together, each begun by as many consonants
 * as can begin one.
 *
 * @param word with the signs that stand at it
 * @returns the parts, which joined are the word; the whole word where it has but one syllable
 */
export function divide(word: string, language: WordLanguage): string[] {
  const manner = MANNERS[language];
  const { vowels, mute, prefix } = manner;
  const [, before = '', letters = ''] = /^([^\p{L}]*)([\p{L}'’]*)/u.exec(word.normalize('NFC')) ?? [];
  const small = letters.toLowerCase();
  if (small.length !== letters.length || word.length !== word.normalize('NFC').length) return [word];
  const silent = mute?.exec(small)?.index;
  const nuclei = [...small.matchAll(vowels)].filter(
    ({ 0: sung, index }) =>
      index !== silent &&
      // The u of qu is none; a y before a vowel begins a syllable.
      !(sung === 'u' && small[index - 1] === 'q') &&
      !(sung === 'y' && /[aeiou]/.test(small[index + 1] ?? '')),
  );
  const start = prefix?.exec(small)?.[0].length;
  const cuts = nuclei.slice(1).map(({ 0: sung, index }, at) => {
    const last = nuclei[at];
    const from = last ? last.index + last[0].length : 0;
    if (at === 0 && start !== undefined && start <= index) return start;
    return from + onsetIn(small.slice(from, index), manner, sung);
  });
  const places = cuts.map((cut) => before.length + cut);
  return [0, ...places].map((from, at) => word.slice(from, places[at] ?? word.length));
}
