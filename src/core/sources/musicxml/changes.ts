import { child, type XmlElement } from './elements';
import { escapeXml } from './xml';

/** A stretch of a text, and what is to stand there instead. */
export interface Change {
  from: number;
  to: number;
  text: string;
}

/** Order of the children (MusicXML 4.0, `note`). */
export const NOTE_ORDER: readonly string[] = [
  'grace',
  'chord',
  'pitch',
  'unpitched',
  'rest',
  'duration',
  'tie',
  'cue',
  'instrument',
  'footnote',
  'level',
  'voice',
  'type',
  'dot',
  'accidental',
  'time-modification',
  'stem',
  'notehead',
  'notehead-text',
  'staff',
  'beam',
  'notations',
  'lyric',
  'play',
  'listen',
];

/** Order of the children (MusicXML 4.0, `attributes`). */
export const ATTRIBUTE_ORDER: readonly string[] = [
  'footnote',
  'level',
  'divisions',
  'key',
  'time',
  'staves',
  'part-symbol',
  'instruments',
  'clef',
  'staff-details',
  'transpose',
  'for-part',
  'directive',
  'measure-style',
];
/** A stretch of a text with the changes that lie in it; what is put in at one place stands in its order, before what is taken out there. */
export function applied(text: string, changes: readonly Change[], from: number, to: number): string {
  let out = '';
  let at = from;
  for (const change of changes
    .filter((each) => each.from >= from && each.to <= to)
    .sort((a, b) => a.from - b.from || a.to - b.to)) {
    out += text.slice(at, change.from) + change.text;
    at = change.to;
  }
  return out + text.slice(at, to);
}

/** The place of an element's own text, between its tags. */
export function innerOf(text: string, { from, to }: XmlElement): { from: number; to: number } | null {
  const open = text.indexOf('>', from) + 1;
  // An empty element has no inside.
  if (open >= to || text[open - 2] === '/') return null;
  return { from: open, to: text.lastIndexOf('<', to - 1) };
}

/** Puts a value into a child that is there. */
export function putText(
  text: string,
  parent: XmlElement,
  name: string,
  value: string,
  changes: Change[],
): void {
  const element = child(parent, name);
  if (element) putValue(text, element, value, changes);
}

/** Puts a value into an element. */
export function putValue(text: string, element: XmlElement, value: string, changes: Change[]): void {
  const inner = innerOf(text, element);
  const { name } = element;
  changes.push(
    inner
      ? { ...inner, text: escapeXml(value) }
      : { from: element.from, to: element.to, text: `<${name}>${escapeXml(value)}</${name}>` },
  );
}

/** Takes an element out, with the white space before it. */
export function takeOut(text: string, { from, to }: XmlElement, changes: Change[]): void {
  changes.push({ from: from - spaceBefore(text, from).length, to, text: '' });
}

/** Puts a new element among the children of one, in the order that its kind has. */
export function putIn(
  text: string,
  parent: XmlElement,
  name: string,
  xml: string,
  order: readonly string[],
  changes: Change[],
): void {
  const rank = order.indexOf(name);
  const before = parent.children.findLast((each) => order.indexOf(each.name) < rank);
  const [first] = parent.children;
  if (before) changes.push({ from: before.to, to: before.to, text: spaceBefore(text, before.from) + xml });
  else if (first)
    changes.push({ from: first.from, to: first.from, text: xml + spaceBefore(text, first.from) });
  else
    changes.push({
      from: parent.from,
      to: parent.to,
      text: `<${parent.name}>${xml}</${parent.name}>`,
    });
}

/** White space of a line at most: a document in one line has none. */
const SPACE = 200;

export const spaceBefore = (text: string, at: number): string =>
  /\s*$/.exec(text.slice(Math.max(0, at - SPACE), at))?.[0] ?? '';

/** Puts lines in before a child of an element, or behind the last. */
export function putLines(
  text: string,
  measure: XmlElement,
  before: XmlElement | undefined,
  lines: string,
  changes: Change[],
): void {
  const like = before ?? measure.children.at(-1);
  if (!like) return;
  const gap = spaceBefore(text, like.from);
  const at = before ? before.from - gap.length : like.to;
  changes.push({ from: at, to: at, text: gap + inManner(lines, text, like.from) });
}

/** Lines indented as the element is that stands at a place of a text; on one line where the text has no others. */
export function inManner(lines: string, text: string, at: number): string {
  const gap = spaceBefore(text, at);
  const indent = gap.slice(gap.lastIndexOf('\n') + 1);
  return gap.includes('\n') ? lines.replaceAll('\n', `\n${indent}`) : lines.replaceAll(/\n\s*/g, '');
}
