/** The styles of the text face. */
const STYLES = ['text', 'italic', 'bold', 'bold italic'] as const;
type Style = (typeof STYLES)[number];

/** Letters that the text face has in files of their own, one for each style: by the ranges that its package gives them. */
const SCRIPTS = {
  'latin-ext': /[\u0100-\u0130\u0132-\u0151\u0154-\u02ba\u1e00-\u1eff\u2020\u2113]/,
  greek: /[\u0370-\u03ff]/,
  cyrillic: /[\u0400-\u045f\u0490\u0491\u04b0\u04b1\u2116]/,
} as const;
type Script = keyof typeof SCRIPTS;

/** Flats, sharps and naturals, which the text face lacks. */
const SIGN = /[♭♮♯𝄪𝄫]/u;
const LATIN =
  /[\s -\u00ff\u0131\u0152\u0153\u02bb\u02bc\u02c6\u02da\u02dc\u2000-\u206f\u20ac\u2122\u2191\u2193\u2212\u2215\ufeff]/;
/** Where music fonts have their signs (SMuFL): they are set in that of the engraver. */
const MUSIC = /[\ue000-\uf8ff]/;

export type Face = Style | `${Style} ${Script}` | 'signs' | 'music';

/** A file each, TTF, OTF or WOFF. */
export type Fonts = ReadonlyMap<Face, Uint8Array>;

const scriptOf = (letter: string): Script | 'signs' | null => {
  if (SIGN.test(letter)) return 'signs';
  const found = Object.entries(SCRIPTS).find(([, letters]) => letters.test(letter));
  return found ? (found[0] as Script) : null;
};

/** Whether a letter stands in any face of a PDF. */
const isThere = (letter: string): boolean =>
  LATIN.test(letter) || MUSIC.test(letter) || scriptOf(letter) !== null;

/** A text in pieces that one face has each; `family` is null for the text face itself. */
export function piecesOf(text: string): { piece: string; family: Script | 'signs' | null }[] {
  const pieces: { piece: string; family: Script | 'signs' | null }[] = [];
  // Letters with their accents beside them are one with them, where there is one.
  for (const letter of text.normalize('NFC')) {
    const family = scriptOf(letter);
    const last = pieces.at(-1);
    if (last && last.family === family) last.piece += letter;
    else pieces.push({ piece: letter, family });
  }
  return pieces;
}

/** The face of a family in a style, as the engraver and `piecesOf` name families. */
export function faceOf(family: string, bold: boolean, italic: boolean): Face {
  if (/leipzig/i.test(family)) return 'music';
  if (/signs/.test(family)) return 'signs';
  const style: Style = bold ? (italic ? 'bold italic' : 'bold') : italic ? 'italic' : 'text';
  const script = (Object.keys(SCRIPTS) as Script[]).find((name) => family.includes(name));
  return script ? `${style} ${script}` : style;
}

/** The faces that some texts need, of those that there are, and the letters that stand in none of them. */
export function facesFor(texts: Iterable<string>): { faces: Face[]; missing: string[] } {
  const scripts = new Set<Script>();
  const missing = new Set<string>();
  for (const text of texts)
    for (const letter of text.normalize('NFC')) {
      if (LATIN.test(letter)) continue;
      const script = scriptOf(letter);
      if (script !== null && script !== 'signs') scripts.add(script);
      if (!isThere(letter)) missing.add(letter);
    }
  return {
    faces: [
      ...STYLES,
      ...[...scripts].flatMap((script) => STYLES.map((style): Face => `${style} ${script}`)),
      'signs',
      'music',
    ],
    missing: [...missing],
  };
}
