/**
 * Score time is exact: whole numbers of a unit that divides every value and
 * tuplet in use. One quarter note is 2⁷·3²·5·7·11·13·17·19 units, so 512th notes
 * and tuplets of any number up to 22 fall on whole units, as do most tuplets in
 * these; the longest score that may be (`MAX_BARS`) stays far within what is exact.
 */
export const QUARTER = 1_862_340_480;
export const WHOLE = 4 * QUARTER;

/** A point in score time, from the start of the piece or of a bar, in units. */
export type Moment = number;
/** A length in score time, in units. */
export type Span = number;

/** MusicXML note types from long to short, each half of the one before. */
export const NOTE_TYPES = [
  'maxima',
  'long',
  'breve',
  'whole',
  'half',
  'quarter',
  'eighth',
  '16th',
  '32nd',
  '64th',
  '128th',
  '256th',
  '512th',
] as const;
export type NoteType = (typeof NOTE_TYPES)[number];

/** A written value: what one note head with its dots stands for. */
export interface Value {
  type: NoteType;
  dots: number;
}

/** Length of a plain note type, in units. */
export const typeSpan = (type: NoteType): Span => (8 * WHOLE) / 2 ** NOTE_TYPES.indexOf(type);

/** Length of a written value, in units. */
export const valueSpan = (value: Value): Span => typeSpan(value.type) * (2 - 0.5 ** value.dots);

/** Values that are written of a length alone; the longest and the shortest are only read. */
const USUAL_TYPES = NOTE_TYPES.slice(NOTE_TYPES.indexOf('breve'), NOTE_TYPES.indexOf('512th'));

const VALUES = new Map<Span, Value>(
  USUAL_TYPES.flatMap((type) =>
    [0, 1, 2].map((dots): [Span, Value] => [valueSpan({ type, dots }), { type, dots }]),
  ),
);

/** The single written value of this length with at most so many dots (0–2), if there is one. */
export function singleValue(span: Span, mostDots = 1): Value | undefined {
  const value = VALUES.get(span);
  return value && value.dots <= mostDots ? value : undefined;
}

/** Greatest common divisor of two whole numbers. */
export function gcd(a: number, b: number): number {
  return b === 0 ? Math.abs(a) : gcd(b, a % b);
}

/** A moment as the brief says it, in quarter notes: `13` or `40/3`. */
export function momentOfText(text: string): Moment {
  const [quarters, parts = '1'] = text.split('/');
  return Math.round((Number(quarters) * QUARTER) / Number(parts));
}

/** The moment in a brief's words, as a fraction in lowest terms. */
export function textOfMoment(moment: Moment): string {
  const common = gcd(moment, QUARTER);
  const parts = QUARTER / common;
  return parts === 1 ? `${moment / common}` : `${moment / common}/${parts}`;
}
