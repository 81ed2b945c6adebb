import type { ChordMark, ChordSymbol, Lyric, Mark, TempoText } from '../../model/marks';
import type { Barline, Jump } from '../../model/score';
import type { Span, Value } from '../../model/time';
import type { XmlText } from './xml';

/** What may stand before a note of a bar: directions, chord symbols, figured bass. @param offset in divisions */
export function writeMark(xml: XmlText, mark: Mark, offset: number, staff: number | undefined): void {
  if (mark.kind === 'chord-symbol') return writeChordSymbol(xml, mark.symbol, offset, staff);
  if (mark.kind === 'figured-bass') {
    xml.start('figured-bass');
    for (const { prefix, number, suffix } of mark.figures) {
      xml.start('figure');
      if (prefix) xml.leaf('prefix', prefix);
      if (number) xml.leaf('figure-number', number);
      if (suffix) xml.leaf('suffix', suffix);
      xml.end();
    }
    return xml.end();
  }
  const placement = mark.placement ?? (mark.kind === 'dynamic' ? 'below' : 'above');
  xml.start('direction', { placement });
  if (mark.kind === 'tempo') writeTempoText(xml, mark.tempo);
  else {
    xml.start('direction-type');
    if (mark.kind === 'dynamic') writeDynamic(xml, mark.dynamic);
    else xml.leaf(mark.kind, mark.text);
    xml.end();
  }
  writeOffset(xml, offset);
  if (staff !== undefined) xml.leaf('staff', staff);
  if (mark.kind === 'tempo' && mark.tempo.quartersPerMinute !== undefined)
    xml.leaf('sound', undefined, { tempo: mark.tempo.quartersPerMinute });
  xml.end();
}

const writeOffset = (xml: XmlText, offset: number): void => {
  if (offset > 0) xml.leaf('offset', offset);
};

/** Dynamics that have an element of their own (MusicXML 4.0, `dynamics`). */
const DYNAMICS: ReadonlySet<string> = new Set(
  'p pp ppp pppp ppppp pppppp f ff fff ffff fffff ffffff mp mf sf sfp sfpp fp rf rfz sfz sffz fz n pf sfzp'.split(
    ' ',
  ),
);

function writeDynamic(xml: XmlText, dynamic: string): void {
  xml.start('dynamics');
  if (DYNAMICS.has(dynamic)) xml.leaf(dynamic);
  else xml.leaf('other-dynamics', dynamic);
  xml.end();
}

function writeTempoText(xml: XmlText, { text, metronome }: TempoText): void {
  if (text) {
    xml.start('direction-type');
    xml.leaf('words', text);
    xml.end();
  }
  if (!metronome) return;
  xml.start('direction-type');
  xml.start('metronome');
  writeUnit(xml, metronome.value);
  if ('perMinute' in metronome) xml.leaf('per-minute', metronome.perMinute);
  else writeUnit(xml, metronome.equals);
  xml.end();
  xml.end();
}

function writeUnit(xml: XmlText, { type, dots }: Value): void {
  xml.leaf('beat-unit', type);
  for (let dot = 0; dot < dots; dot++) xml.leaf('beat-unit-dot');
}

function writeChordSymbol(xml: XmlText, symbol: ChordSymbol, offset: number, staff?: number): void {
  const { root, kind, text, degrees = [], bass } = symbol;
  const writeRoot = (name: 'root' | 'bass', { step, alter }: ChordSymbol['root']) => {
    xml.start(name);
    xml.leaf(`${name}-step`, step);
    if (alter !== 0) xml.leaf(`${name}-alter`, alter);
    xml.end();
  };
  xml.start('harmony');
  writeRoot('root', root);
  xml.leaf('kind', kind, text === undefined ? undefined : { text });
  if (bass) writeRoot('bass', bass);
  for (const { value, alter, type } of degrees) {
    xml.start('degree');
    xml.leaf('degree-value', value);
    xml.leaf('degree-alter', alter);
    xml.leaf('degree-type', type);
    xml.end();
  }
  writeOffset(xml, offset);
  if (staff !== undefined) xml.leaf('staff', staff);
  xml.end();
}

/** The order in which kinds of notations are written; within a kind they keep theirs. */
const KINDS = ['ornament', 'technique', 'articulation', 'arpeggio', 'fermata'] as const;
type Group = (typeof KINDS)[number];

const groupOf = ({ kind }: ChordMark): Group =>
  kind === 'tremolo' ? 'ornament' : kind === 'breath' || kind === 'caesura' ? 'articulation' : kind;

const CONTAINERS: Partial<Record<Group, string>> = {
  ornament: 'ornaments',
  technique: 'technical',
  articulation: 'articulations',
};

/** What stands at a chord, inside its notations. @param lead the first note of the chord carries what is said once */
export function writeChordMarks(
  xml: XmlText,
  marks: readonly ChordMark[],
  lead: boolean,
  fretted: { string?: number | undefined; fret?: number | undefined },
): void {
  const isFretted = fretted.string !== undefined || fretted.fret !== undefined;
  for (const group of KINDS) {
    // An arpeggio goes over every note of its chord; all else is said once.
    const own = marks.filter((mark) => groupOf(mark) === group && (lead || group === 'arpeggio'));
    const hasFret = group === 'technique' && isFretted;
    if (own.length === 0 && !hasFret) continue;
    const container = CONTAINERS[group];
    if (container) xml.start(container);
    for (const mark of own) writeChordMark(xml, mark);
    if (hasFret && fretted.string !== undefined) xml.leaf('string', fretted.string);
    if (hasFret && fretted.fret !== undefined) xml.leaf('fret', fretted.fret);
    if (container) xml.end();
  }
}

function writeChordMark(xml: XmlText, mark: ChordMark): void {
  switch (mark.kind) {
    case 'articulation':
      return xml.leaf(mark.name);
    case 'breath':
      return xml.leaf('breath-mark');
    case 'caesura':
      return xml.leaf('caesura');
    case 'ornament':
      xml.leaf(mark.name);
      for (const { name, placement } of mark.accidentals ?? [])
        xml.leaf('accidental-mark', name, { placement });
      return;
    case 'tremolo':
      return xml.leaf('tremolo', mark.strokes, { type: mark.between ?? 'single' });
    case 'technique':
      if (mark.name === 'harmonic') return xml.leaf('harmonic');
      return xml.leaf(mark.name, mark.text);
    case 'fermata':
      return xml.leaf('fermata', mark.shape === 'normal' ? undefined : mark.shape, {
        type: mark.inverted ? 'inverted' : 'upright',
      });
    case 'arpeggio':
      return xml.leaf('arpeggiate', undefined, { direction: mark.direction });
  }
}

export function writeLyrics(xml: XmlText, lyrics: readonly Lyric[]): void {
  for (const { verse = 1, text, syllabic, elided, extends: extend } of lyrics) {
    xml.start('lyric', { number: verse });
    xml.leaf('syllabic', syllabic);
    xml.leaf('text', text);
    if (elided !== undefined) {
      xml.leaf('elision', '\u203f');
      xml.leaf('text', elided);
    }
    if (extend) xml.leaf('extend');
    xml.end();
  }
}

export function writeBarline(xml: XmlText, location: 'left' | 'right', barline: Barline): void {
  const { style, ending, repeat } = barline;
  xml.start('barline', { location });
  if (style) xml.leaf('bar-style', style);
  if (ending) {
    const attributes = { number: ending.numbers.join(', '), type: ending.type };
    xml.leaf('ending', ending.text, attributes);
  }
  if (repeat) xml.leaf('repeat', undefined, { direction: repeat.direction, times: repeat.times });
  xml.end();
}

/** What is printed for a jump where it has no text of its own (common practice). */
const JUMP_WORDS: Partial<Record<Jump['kind'], string>> = {
  fine: 'Fine',
  'to-coda': 'To Coda',
  'da-capo': 'D.C.',
  'dal-segno': 'D.S.',
};
/** What a jump does, as an attribute of `sound` (MusicXML 4.0). */
const JUMP_SOUNDS: Record<Jump['kind'], Record<string, string>> = {
  segno: { segno: 'segno' },
  coda: { coda: 'coda' },
  fine: { fine: 'yes' },
  'to-coda': { tocoda: 'coda' },
  'da-capo': { dacapo: 'yes' },
  'dal-segno': { dalsegno: 'segno' },
};

export function writeJump(xml: XmlText, { kind, text }: Jump, offset: number): void {
  xml.start('direction', { placement: 'above' });
  xml.start('direction-type');
  const words = text ?? JUMP_WORDS[kind];
  if (words === undefined) xml.leaf(kind);
  else xml.leaf('words', words);
  xml.end();
  writeOffset(xml, offset);
  xml.leaf('sound', undefined, JUMP_SOUNDS[kind]);
  xml.end();
}

/** Spans that the divisions of a part must be able to tell, beside those of its notes. */
export const markSpans = (marks: readonly Mark[]): Span[] => marks.map(({ at }) => Math.round(at));
