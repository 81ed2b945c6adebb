import { ATTRIBUTE_ORDER, type Change, putIn, putLines } from '../sources/musicxml/changes';
import { childrenOf, type XmlElement } from '../sources/musicxml/elements';

/**
 * What a bar says for all that follow it (MusicXML 4.0, `attributes`): the text of each element, by its name and, where
 * it is for one staff, its number. What is for all staves has the name alone.
 */
export type Standing = ReadonlyMap<string, string>;

const OF_STANDING: ReadonlySet<string> = new Set([
  'divisions',
  'key',
  'time',
  'staves',
  'part-symbol',
  'instruments',
  'clef',
  'staff-details',
  'transpose',
]);
/** Of these one without a number is for all staves; a clef without one is for the first. */
const FOR_ALL: ReadonlySet<string> = new Set(['key', 'time', 'transpose', 'staff-details']);

/** What takes time, after which a bar says nothing for its start. */
export const TIMED: ReadonlySet<string> = new Set(['note', 'backup', 'forward']);

/** What holds where nothing is said (common practice: C major, a treble clef, sounding as written, one staff). */
const USUAL: Readonly<Record<string, (number: string) => string>> = {
  key: (number) => `<key${number}><fifths>0</fifths></key>`,
  transpose: (number) => `<transpose${number}><chromatic>0</chromatic></transpose>`,
  clef: (number) => `<clef${number}><sign>G</sign><line>2</line></clef>`,
  staves: () => '<staves>1</staves>',
};

const nameOf = ({ name, attributes: { number } }: XmlElement): string =>
  name === 'clef' ? `clef ${number ?? '1'}` : FOR_ALL.has(name) && number ? `${name} ${number}` : name;

const kindOf = (name: string): string => name.split(' ')[0]!;

/** What holds after some elements, from what held before them. */
function after(before: Standing, text: string, elements: readonly XmlElement[]): Standing {
  const own = elements
    .filter(({ name }) => name === 'attributes')
    .flatMap(({ children }) => children.filter(({ name }) => OF_STANDING.has(name)));
  if (own.length === 0) return before;
  const next = new Map(before);
  for (const each of own) {
    const name = nameOf(each);
    if (FOR_ALL.has(name))
      for (const other of [...next.keys()]) if (other.startsWith(`${name} `)) next.delete(other);
    next.set(name, text.slice(each.from, each.to).replace(/>\s+</g, '><'));
  }
  return next;
}

/** What a bar says before anything in it takes time. */
export const opening = ({ children }: XmlElement): readonly XmlElement[] => {
  const begun = children.findIndex(({ name }) => TIMED.has(name));
  return begun < 0 ? children : children.slice(0, begun);
};

/** What holds before each bar of a part, and after the last. */
export function standings(text: string, measures: readonly XmlElement[]): Standing[] {
  const found: Standing[] = [new Map()];
  for (const { children } of measures) found.push(after(found.at(-1)!, text, children));
  return found;
}

/** What holds once a bar has begun. */
export const standingIn = (before: Standing, text: string, measure: XmlElement): Standing =>
  after(before, text, opening(measure));

/**
 * The elements that a bar must say at its start so that it is read as before, in the order of their kind.
 * @param now what holds before it where it is to stand
 * @param before what held before it where it stood
 * @param measure null for an empty one
 */
export function missingIn(
  now: Standing,
  before: Standing,
  measure: XmlElement | null,
): { name: string; xml: string }[] {
  const said = new Set(measure ? childrenOfAll(opening(measure)).map(nameOf) : []);
  return [...new Set([...before.keys(), ...now.keys()])]
    .filter((name) => now.get(name) !== before.get(name) && !said.has(name) && !said.has(kindOf(name)))
    .flatMap((name) => {
      const [kind, number] = name.split(' ');
      const xml = before.get(name) ?? USUAL[kind!]?.(number ? ` number="${number}"` : '');
      return xml ? [{ name: kind!, xml }] : [];
    })
    .sort((a, b) => ATTRIBUTE_ORDER.indexOf(a.name) - ATTRIBUTE_ORDER.indexOf(b.name));
}

const childrenOfAll = (elements: readonly XmlElement[]): XmlElement[] =>
  elements.filter(({ name }) => name === 'attributes').flatMap(({ children }) => children);

/** Puts attributes at the start of a bar, in the order of their kind. @param indent of a level */
export function putAttributes(
  text: string,
  measure: XmlElement,
  items: readonly { name: string; xml: string }[],
  indent: string,
  changes: Change[],
): void {
  if (items.length === 0 || measure.children.length === 0) return;
  const [attributes] = childrenOf({ ...measure, children: [...opening(measure)] }, 'attributes');
  if (attributes && attributes.children.length > 0) {
    for (const { name, xml } of items) putIn(text, attributes, name, xml, ATTRIBUTE_ORDER, changes);
    return;
  }
  const first = measure.children.find(
    ({ name, attributes: { location } }) => name !== 'print' && !(name === 'barline' && location === 'left'),
  );
  putLines(
    text,
    measure,
    first,
    attributesLines(
      items.map(({ xml }) => xml),
      indent,
    ),
    changes,
  );
}

/** Attributes as lines of text. */
export const attributesLines = (items: readonly string[], indent: string): string =>
  ['<attributes>', ...items.map((item) => indent + item), '</attributes>'].join('\n');
