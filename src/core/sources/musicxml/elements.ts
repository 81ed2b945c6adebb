import { SaxesParser } from 'saxes';
import { finished, type Steps } from '../../basics/steps';
import { BadSourceError } from '../refused';

/** An element of a document, with where it stands in the text: offsets of its first character and after its last. */
export interface XmlElement {
  name: string;
  attributes: Readonly<Record<string, string>>;
  children: XmlElement[];
  /** Its own text, without that of its children. */
  text: string;
  from: number;
  to: number;
  /** From 1. */
  line: number;
}

/** What is handed over as soon as it is read; `within` are the elements around it, the root first. */
export type OnElement = (element: XmlElement, within: readonly XmlElement[]) => void;

/** Deeper or larger than any score. */
const DEEPEST = 60;
const MOST_ELEMENTS = 30_000_000;
/** Characters that are parsed without giving way. */
const CHUNK = 65_536;

/**
 * Reads a document element by element: those below one of the `open` ones are
 * handed over whole and forgotten, so that a long score never stands in memory
 * as a tree. Strict, and without entities but those of XML itself: nothing is
 * fetched and nothing is expanded (XML 1.0, fifth edition).
 *
 * @param open names of elements that are not handed over themselves: the root, and e.g. `part`
 * @throws BadSourceError naming the line of the first fault
 */
export function* readElements(
  text: string,
  open: (name: string, depth: number) => boolean,
  onElement: OnElement,
): Steps<void> {
  const parser = new SaxesParser({ position: true });
  const around: XmlElement[] = [];
  const building: XmlElement[] = [];
  let count = 0;
  let from = 0;
  let line = 0;
  const add = (more: string) => {
    const last = building.at(-1);
    if (last) last.text += more;
  };
  parser.on('error', (error) => {
    const what = error.message.replace(/^\d+:\d+: /, '').replace(/\.$/, '');
    throw new BadSourceError(`This is not well-formed XML: line ${parser.line}, ${what}.`);
  });
  parser.on('opentagstart', () => {
    from = text.lastIndexOf('<', parser.position - 1);
    line = parser.line;
  });
  parser.on('opentag', ({ name, attributes }) => {
    if (++count > MOST_ELEMENTS || around.length + building.length > DEEPEST)
      throw new BadSourceError('This document is deeper or larger than any score: it is not read.');
    const element: XmlElement = {
      name,
      attributes: attributes as Record<string, string>,
      children: [],
      text: '',
      from,
      to: 0,
      line,
    };
    if (building.length === 0 && open(name, around.length)) around.push(element);
    else {
      building.at(-1)?.children.push(element);
      building.push(element);
    }
  });
  parser.on('text', add);
  parser.on('cdata', add);
  parser.on('closetag', () => {
    const element = building.pop();
    if (!element) {
      const closed = around.pop();
      if (closed) closed.to = parser.position;
      return;
    }
    element.to = parser.position;
    if (building.length === 0) onElement(element, around);
  });
  for (let at = 0; at < text.length; at += CHUNK) {
    parser.write(text.slice(at, at + CHUNK));
    yield;
  }
  parser.close();
}

/** An element of a document that is well-formed, by its place in the text. */
export function elementAt(text: string, { from, to }: Pick<XmlElement, 'from' | 'to'>): XmlElement {
  const found: XmlElement[] = [];
  finished(
    readElements(
      text.slice(from, to),
      () => false,
      (element) => found.push(element),
    ),
  );
  const element = found[0]!;
  shift(element, from);
  return element;
}

function shift(element: XmlElement, by: number): void {
  element.from += by;
  element.to += by;
  for (const each of element.children) shift(each, by);
}

export const child = (element: XmlElement | undefined, name: string): XmlElement | undefined =>
  element?.children.find((each) => each.name === name);

export const childrenOf = (element: XmlElement | undefined, name: string): XmlElement[] =>
  element?.children.filter((each) => each.name === name) ?? [];

/** The text of a child, without white space around it; undefined where there is none. */
export const textOf = (element: XmlElement | undefined, name: string): string | undefined =>
  child(element, name)?.text.trim();

/** A number, or undefined for what is none. */
export function numberFrom(text: string | undefined): number | undefined {
  if (text === undefined || text.trim() === '') return undefined;
  const number = Number(text);
  return Number.isFinite(number) ? number : undefined;
}

export const numberOf = (element: XmlElement | undefined, name: string): number | undefined =>
  numberFrom(textOf(element, name));
