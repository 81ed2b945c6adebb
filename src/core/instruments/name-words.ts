/** A word of a name, and what separates it from the one before. */
export interface NameWord {
  text: string;
  /** Spaces and punctuation before it, as written. */
  before: string;
  /** A mark of feet or inches stands behind it. */
  isMeasure: boolean;
}

/** A name without accents, in lower case, sharps and flats as letters. */
const plain = (name: string): string =>
  name
    .replace(/♭/g, 'b')
    .replace(/♯/g, '#')
    .replace(/œ/gi, 'oe')
    .replace(/ß/g, 'ss')
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    // Names grown together: TSax, ViolinI, Vln1, 16ths.
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Z])([A-Z][a-z])/g, '$1 $2')
    .replace(/([a-zA-Z])(\d)/g, '$1 $2')
    .toLowerCase();

/** The words of a name in their order; digits with an ending, as 2nd, are one word. */
export const nameWords = (name: string): NameWord[] =>
  [...plain(name).matchAll(/([^a-z0-9#]*)([a-z0-9#]+)(?=(['"′]?))/g)].map(
    ([, before = '', text = '', measure]) => ({ text, before, isMeasure: measure !== '' }),
  );

/** The same as plain texts. */
export const wordsOf = (name: string): string[] => nameWords(name).map(({ text }) => text);

/** Words that stand behind others in instruments' names, by how they are shortened (common practice). */
const SHORTENED: Readonly<Record<string, string>> = {
  bar: 'baritone',
  bari: 'baritone',
  bjo: 'banjo',
  bs: 'bass',
  bsn: 'bassoon',
  cb: 'contrabass',
  cl: 'clarinet',
  clar: 'clarinet',
  cnt: 'cornet',
  cym: 'cymbal',
  dr: 'drum',
  fl: 'flute',
  git: 'gitarre',
  gtr: 'guitar',
  guit: 'guitar',
  hn: 'horn',
  hp: 'harp',
  hrn: 'horn',
  kl: 'klarinette',
  mand: 'mandolin',
  mar: 'marimba',
  ob: 'oboe',
  org: 'organ',
  picc: 'piccolo',
  pno: 'piano',
  pos: 'posaune',
  rec: 'recorder',
  sax: 'saxophone',
  sop: 'soprano',
  sx: 'saxophone',
  tba: 'tuba',
  tbn: 'trombone',
  ten: 'tenor',
  tpt: 'trumpet',
  trb: 'trombone',
  uke: 'ukulele',
  xyl: 'xylophone',
};

/** The same words without their shortenings. */
export const inFull = (words: readonly string[]): string[] => words.map((word) => SHORTENED[word] ?? word);
