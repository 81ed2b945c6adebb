/**
 * Values that MusicXML 4.0 (W3C) has for some elements. Others are not written
 * on, since a strict receiver would refuse the whole score for one of them.
 */
const words = (text: string): ReadonlySet<string> => new Set(text.split(' '));

/** `accidental-value`. */
export const ACCIDENTALS = words(
  'sharp natural flat double-sharp sharp-sharp flat-flat natural-sharp natural-flat quarter-flat ' +
    'quarter-sharp three-quarters-flat three-quarters-sharp sharp-down sharp-up natural-down natural-up ' +
    'flat-down flat-up double-sharp-down double-sharp-up flat-flat-down flat-flat-up arrow-down arrow-up ' +
    'triple-sharp triple-flat slash-quarter-sharp slash-sharp slash-flat double-slash-flat sharp-1 sharp-2 ' +
    'sharp-3 sharp-5 flat-1 flat-2 flat-3 flat-4 sori koron other',
);

/** `kind-value` of a chord symbol. */
export const CHORD_KINDS = words(
  'major minor augmented diminished dominant major-seventh minor-seventh diminished-seventh ' +
    'augmented-seventh half-diminished major-minor major-sixth minor-sixth dominant-ninth major-ninth ' +
    'minor-ninth dominant-11th major-11th minor-11th dominant-13th major-13th minor-13th suspended-second ' +
    'suspended-fourth Neapolitan Italian French German pedal power Tristan other none',
);

/** `notehead-value`. */
export const HEADS: ReadonlySet<string> = new Set([
  ...words('slash triangle diamond square cross x circle-x slashed normal cluster circle rectangle none'),
  ...words('do re mi fa so la ti other'),
  ...[
    'inverted triangle',
    'arrow down',
    'arrow up',
    'circled',
    'back slashed',
    'circle dot',
    'left triangle',
    'fa up',
  ],
]);

/** `bar-style`. */
export const BAR_STYLES = words(
  'regular dotted dashed heavy light-light light-heavy heavy-light heavy-heavy tick short none',
);

/** Names of older documents that mean one of these. */
const OLD: Record<string, string> = {
  'double-flat': 'flat-flat',
  tristan: 'Tristan',
  'minor-major': 'major-minor',
};

/** A value that is one of a set, by its name now; what is none is told and left out. */
export function known(
  values: ReadonlySet<string>,
  text: string | undefined,
  lost: (name: string) => void,
): string | undefined {
  if (!text) return undefined;
  const value = OLD[text] ?? text;
  if (values.has(value)) return value;
  lost(text);
  return undefined;
}
