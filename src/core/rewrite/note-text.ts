import type { Pitch } from '../model/pitch';
import type { Beam } from '../model/score';
import type { Value } from '../model/time';
import { NOTE_ORDER, spaceBefore } from '../sources/musicxml/changes';
import { child, childrenOf, type XmlElement } from '../sources/musicxml/elements';

/** How long a note is on paper, and what goes with that. */
export interface Shape {
  /** In divisions. */
  duration: number;
  value: Value;
  /** `time-modification` as the document has it or as it is made. */
  ratio?: string;
  /** `tuplet` elements. */
  brackets: readonly string[];
  tieStart: boolean;
  tieStop: boolean;
  /** It belongs to the chord that the note before it begins. */
  inChord: boolean;
  beams: readonly Beam[];
}

/** What a note says besides how long it is. */
export interface Content {
  /** Elements by name, each with its text; those that say how long it is are not among them. */
  children: readonly (readonly [name: string, text: string])[];
  /** What stands in its `notations`, but for ties and tuplets. */
  notations: readonly string[];
  /** Attributes with the space before them. */
  attributes: string;
}

/** How the text of a document is laid out around its notes. */
export interface Manner {
  /** Before an element of a bar. */
  outer: string;
  /** Before a child of one. */
  inner: string;
}

const OF_LENGTH = new Set([
  'chord',
  'duration',
  'tie',
  'type',
  'dot',
  'time-modification',
  'stem',
  'beam',
  'notations',
]);
/** They stand at the first of notes that are tied: an accidental where the pitch says what it does. */
const isOnce = (name: string, note: XmlElement): boolean =>
  name === 'lyric' || (name === 'accidental' && child(child(note, 'pitch'), 'alter') !== undefined);
/** Where a note is printed is no longer true where it is another. */
const LAYOUT = /\s+(?:default-x|default-y|relative-x|relative-y)\s*=\s*(?:"[^"]*"|'[^']*')/g;
const ID = /\s+id\s*=\s*(?:"[^"]*"|'[^']*')/;

/** The elements in the `notations` of a note. */
export const notationsIn = (note: XmlElement): XmlElement[] =>
  childrenOf(note, 'notations').flatMap(({ children }) => children);

/** What a note of the document says, as the first or a later one of notes that are tied. */
export function contentOf(text: string, note: XmlElement, isFirst: boolean): Content {
  const tag = /^<note((?:[^"'>/]|"[^"]*"|'[^']*'|\/(?!>))*)/.exec(text.slice(note.from, note.to))?.[1] ?? '';
  const attributes = tag.replaceAll(LAYOUT, '').trimEnd();
  return {
    attributes: isFirst ? attributes : attributes.replace(ID, ''),
    children: note.children
      .filter(({ name }) => !OF_LENGTH.has(name) && (isFirst || !isOnce(name, note)))
      .map((each) => [each.name, text.slice(each.from, each.to)] as const),
    notations: notationsIn(note)
      .filter(({ name }) => name !== 'tied' && name !== 'tuplet')
      .map(({ from, to }) => text.slice(from, to)),
  };
}

/** A new note at a pitch. @param staff null in a part of one */
export const pitched = ({ step, alter, octave }: Pitch, voice: string, staff: number | null): Content => ({
  attributes: '',
  children: [
    [
      'pitch',
      `<pitch><step>${step}</step>${alter === 0 ? '' : `<alter>${alter}</alter>`}<octave>${octave}</octave></pitch>`,
    ],
    ['voice', `<voice>${voice}</voice>`],
    ...(staff === null ? [] : [['staff', `<staff>${staff}</staff>`] as const]),
  ],
  notations: [],
});

/** The same in another voice. */
export const inVoice = (content: Content, voice: string): Content => ({
  ...content,
  children: [...content.children.filter(([name]) => name !== 'voice'), ['voice', `<voice>${voice}</voice>`]],
});

/** The same on a staff. @param staff null in a part of one */
export const onStaff = (content: Content, staff: number | null): Content => ({
  ...content,
  children: [
    ...content.children.filter(([name]) => name !== 'staff'),
    ...(staff === null ? [] : [['staff', `<staff>${staff}</staff>`] as const]),
  ],
});

/** The text of a note. */
export function noteText({ children, notations, attributes }: Content, shape: Shape, manner: Manner): string {
  const { value, ratio, tieStart, tieStop } = shape;
  const own: (readonly [string, string])[] = [
    ...children,
    ...(shape.inChord ? [['chord', '<chord/>'] as const] : []),
    ['duration', `<duration>${shape.duration}</duration>`],
    ...(tieStop ? [['tie', '<tie type="stop"/>'] as const] : []),
    ...(tieStart ? [['tie', '<tie type="start"/>'] as const] : []),
    ['type', `<type>${value.type}</type>`],
    ...Array.from({ length: value.dots }, () => ['dot', '<dot/>'] as const),
    ...(ratio ? [['time-modification', ratio] as const] : []),
    ...beamTexts(shape.beams).map((each) => ['beam', each] as const),
  ];
  const inside = [
    ...(tieStop ? ['<tied type="stop"/>'] : []),
    ...(tieStart ? ['<tied type="start"/>'] : []),
    ...shape.brackets,
    ...notations,
  ];
  if (inside.length > 0) own.push(['notations', `<notations>${inside.join('')}</notations>`]);
  return element('note', attributes, inOrder(own), manner);
}

export const beamTexts = (beams: readonly Beam[]): string[] =>
  beams.map((each, index) => `<beam number="${index + 1}">${each}</beam>`);

/** The text of a rest. @param isWhole it stands for the whole bar, whatever its length */
export function restText(
  shape: Pick<Shape, 'duration' | 'value' | 'ratio' | 'brackets'>,
  voice: string,
  staff: number | null,
  isWhole: boolean,
  manner: Manner,
): string {
  const children = [
    isWhole ? '<rest measure="yes"/>' : '<rest/>',
    `<duration>${shape.duration}</duration>`,
    `<voice>${voice}</voice>`,
    ...(isWhole
      ? []
      : [
          `<type>${shape.value.type}</type>`,
          ...Array.from({ length: shape.value.dots }, () => '<dot/>'),
          ...(shape.ratio ? [shape.ratio] : []),
        ]),
    ...(staff === null ? [] : [`<staff>${staff}</staff>`]),
    ...(shape.brackets.length > 0 ? [`<notations>${shape.brackets.join('')}</notations>`] : []),
  ];
  return element('note', '', children, manner);
}

/** The order of a note’s children (MusicXML 4.0, `note`). */
const inOrder = (children: readonly (readonly [name: string, text: string])[]): string[] =>
  children
    .toSorted(([one], [other]) => NOTE_ORDER.indexOf(one) - NOTE_ORDER.indexOf(other))
    .map(([, text]) => text);

const element = (
  name: string,
  attributes: string,
  children: readonly string[],
  { outer, inner }: Manner,
): string =>
  `<${name}${attributes}>${children.map((each) => inner + each).join('')}${inner === '' ? '' : outer}</${name}>`;

/** How the elements of a bar are laid out: as its first note is. */
export function mannerOf(text: string, measure: XmlElement): Manner {
  const one = measure.children.find(({ name }) => name === 'note') ?? measure.children[0];
  if (!one) return { outer: '', inner: '' };
  const inside = one.children[0];
  return { outer: spaceBefore(text, one.from), inner: inside ? spaceBefore(text, inside.from) : '' };
}

/** The `time-modification` of a note as it is written; undefined outside of tuplets. */
export function ratioOf(text: string, note: XmlElement): string | undefined {
  const found = child(note, 'time-modification');
  return found && text.slice(found.from, found.to);
}

/** The `tuplet` elements of a note as they are written. */
export const bracketsOf = (text: string, note: XmlElement): string[] =>
  notationsIn(note)
    .filter(({ name }) => name === 'tuplet')
    .map(({ from, to }) => text.slice(from, to));
