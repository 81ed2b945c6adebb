import { finished } from '../../basics/steps';
import { applied, type Change, takeOut } from './changes';
import { readElements, type XmlElement } from './elements';

/** Places and fonts (MusicXML 4.0: `position`, `bezier`, `font`, `measure-attributes`); bold and italic type stays, as it means something. */
const ATTRIBUTES = [
  'default-x',
  'default-y',
  'relative-x',
  'relative-y',
  'bezier-x',
  'bezier-y',
  'bezier-x2',
  'bezier-y2',
  'bezier-offset',
  'bezier-offset2',
  'font-family',
  'font-size',
];
/** Elements that lay out pages, systems and staves (MusicXML 4.0, `layout`). */
const ELEMENTS = new Set(['page-layout', 'system-layout', 'staff-layout', 'measure-layout', 'appearance']);
const FONTS = new Set(['music-font', 'word-font', 'lyric-font', 'scaling']);
/** Where lines and pages break (MusicXML 4.0, `print-attributes`). */
const BREAKS = ['new-system', 'new-page', 'blank-page', 'staff-spacing'];

const attribute = (names: readonly string[]): RegExp =>
  new RegExp(`\\s+(?:${names.join('|')})\\s*=\\s*(?:"[^"]*"|'[^']*')`, 'g');
const PLACES = attribute(ATTRIBUTES);
const PRINTED = attribute(BREAKS);
const WIDTH = attribute(['width']);
/** A tag up to its end, quoted values and all. */
const TAG = /<(?:[^"'>]|"[^"]*"|'[^']*')*>/y;

/**
 * A document without its layout: breaks, places, sizes and fonts. What it says
 * stays: whoever opens it next lays the pages out by rules of their own.
 */
export function withoutLayout(text: string): string {
  const changes: Change[] = [];
  const seen = new Set<number>();
  const strip = (element: XmlElement, patterns: readonly RegExp[]) => {
    TAG.lastIndex = element.from;
    const tag = TAG.exec(text)?.[0] ?? '';
    for (const pattern of patterns)
      for (const found of tag.matchAll(pattern))
        changes.push({
          from: element.from + found.index,
          to: element.from + found.index + found[0].length,
          text: '',
        });
  };
  const visit = (element: XmlElement): void => {
    const { name, children } = element;
    if (isLayout(element) || isOnlyLayout(element)) return takeOut(text, element, changes);
    strip(element, name === 'print' ? [PLACES, PRINTED] : name === 'measure' ? [PLACES, WIDTH] : [PLACES]);
    for (const each of children) visit(each);
  };
  finished(
    readElements(
      text,
      (name, depth) => depth === 0 || (depth === 1 && (name === 'part' || name === 'measure')),
      (element, [, around]) => {
        // Where bars hold parts, a bar is around them.
        if (around?.name === 'measure' && !seen.has(around.from)) {
          seen.add(around.from);
          strip(around, [WIDTH]);
        }
        visit(element);
      },
    ),
  );
  return applied(text, changes, 0, text.length);
}

const isLayout = ({ name, attributes }: XmlElement): boolean =>
  ELEMENTS.has(name) ||
  FONTS.has(name) ||
  // The encoder's word that all breaks are said holds no more.
  (name === 'supports' && attributes.element === 'print');

/** An element with nothing in it but layout. */
const isOnlyLayout = ({ name, children, attributes }: XmlElement): boolean =>
  (name === 'defaults' ||
    (name === 'print' && Object.keys(attributes).every((each) => BREAKS.includes(each)))) &&
  children.every(isLayout);
