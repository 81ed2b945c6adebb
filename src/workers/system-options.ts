/** What tells to which staff a mark or spanner of a bar belongs, since the picture of a bar holds them all. */
const BELONGS = [
  'arpeg',
  'breath',
  'bracketSpan',
  'caesura',
  'dir',
  'dynam',
  'fermata',
  'gliss',
  'hairpin',
  'harm',
  'lv',
  'mordent',
  'octave',
  'ornam',
  'pedal',
  'reh',
  'repeatMark',
  'slur',
  'tempo',
  'tie',
  'trill',
  'turn',
].flatMap((kind) => [`${kind}@staff`, `${kind}@startid`, `${kind}@endid`]);

/** One system to engrave. */
export interface EngraveJob {
  /** MusicXML. */
  document: string;
  /** Of the system, in pixels. */
  width: number;
  /** Percent of the engraver's own size. */
  scale: number;
  /** Equal time takes equal room. */
  even?: boolean;
}

/** The engraver's staff space at full scale, in pixels. */
export const SPACE_AT_100 = 18;

/** How much looser systems are planned after one overflowed, and the loosest plan. */
export const LOOSER = 0.9;
export const LOOSEST = 0.5;

export const countSystems = (svg: string): number => svg.split('class="system"').length - 1;

/** What the engraver is told for one system, stretched to the width. */
export const systemOptions = (request: Omit<EngraveJob, 'document'>) => ({
  // One system, as the document holds no break; unlike 'none', 'auto' stretches it to the width.
  breaks: 'auto',
  header: 'none',
  footer: 'none',
  scale: request.scale,
  pageWidth: Math.round((request.width * 100) / request.scale),
  pageHeight: 60_000,
  adjustPageHeight: true,
  // Room for a brace, where no name stands before it.
  pageMarginLeft: request.even ? 45 : 20,
  pageMarginRight: 20,
  pageMarginTop: 30,
  pageMarginBottom: 30,
  minLastJustification: 0,
  spacingNonLinear: request.even ? 1 : 0.6,
  spacingLinear: request.even ? 0.05 : 0.25,
  svgRemoveXlink: true,
  svgAdditionalAttribute: ['staff@n', ...BELONGS],
});
