import type { Instrument } from '../../instruments/catalogue';
import { applied, type Change, innerOf, putText } from './changes';
import { child, childrenOf, type XmlElement } from './elements';
import type { Places } from './part-reader';
import { escapeXml } from './xml';

/** A document as it came, and where in its text things stand. */
export interface KeptDocument {
  /** Decoded. */
  text: string;
  /** Elements beside the music, by their names. */
  header: ReadonlyMap<string, XmlElement>;
  /** The elements that hold the music of each part by its id; more than one where bars hold parts. */
  music: ReadonlyMap<string, readonly XmlElement[]>;
  /** Where the music of each part stands, by the part's id. */
  places: ReadonlyMap<string, Places>;
  /** Where the first element stands, after the root's own tag. */
  inside: number;
}

/** What a document is to say instead. */
export interface Wanted {
  /** Where it is another one. */
  title?: string;
  /** The parts that stay, in their order, by their ids in the document. */
  parts: readonly WantedPart[];
}

interface WantedPart {
  id: string;
  name?: string;
  abbreviation?: string;
  instrument?: Instrument;
  /** Made for this document. */
  music?: readonly Change[];
}

/**
 * The text of a document with names, title, instruments, order and number of
 * its parts as wanted, each written at its own place: all else stays to the
 * character, understood or not.
 */
export function spliced(document: KeptDocument, wanted: Wanted): string {
  const { text, header } = document;
  const changes: Change[] = [];
  if (wanted.title !== undefined) retitle(document, wanted.title, changes);
  const listed = childrenOf(header.get('part-list'), 'score-part');
  const inList = new Map(listed.map((each) => [each.attributes.id ?? '', each]));
  for (const { id, name, abbreviation, instrument, music = [] } of wanted.parts) {
    changes.push(...music);
    const element = inList.get(id);
    if (!element) continue;
    if (name !== undefined) {
      putText(text, element, 'part-name', name, changes);
      display(text, element, 'part-name-display', name, changes);
    }
    if (abbreviation !== undefined && child(element, 'part-abbreviation')) {
      putText(text, element, 'part-abbreviation', abbreviation, changes);
      display(text, element, 'part-abbreviation-display', abbreviation, changes);
    }
    if (instrument) recast(text, element, instrument, changes);
  }
  const order = wanted.parts.map(({ id }) => id);
  // What was changed inside an element moves with it.
  const own = (element: XmlElement): string => applied(text, changes, element.from, element.to);
  const moves = [
    ...reordered(
      listed.map((each) => [each.attributes.id ?? '', each]),
      order,
      text,
      own,
    ),
    ...musicMoves(document, order, own),
  ];
  const outside = changes.filter(({ from }) => !moves.some((move) => from >= move.from && from < move.to));
  return applied(text, [...outside, ...moves], 0, text.length);
}

/** What is printed instead of a name says the new one too. */
function display(text: string, parent: XmlElement, name: string, value: string, changes: Change[]): void {
  const element = child(parent, name);
  const inner = element && innerOf(text, element);
  if (inner) changes.push({ ...inner, text: `<display-text>${escapeXml(value)}</display-text>` });
}

function recast(text: string, part: XmlElement, instrument: Instrument, changes: Change[]): void {
  const named = child(part, 'score-instrument');
  if (named) {
    putText(text, named, 'instrument-name', instrument.name, changes);
    putText(text, named, 'instrument-sound', instrument.sound, changes);
  }
  const midi = child(part, 'midi-instrument');
  if (midi) putText(text, midi, 'midi-program', String(instrument.program + 1), changes);
}

function retitle({ text, header, inside }: KeptDocument, title: string, changes: Change[]): void {
  const work = header.get('work');
  const before = child(work, 'work-title')?.text.trim() || header.get('movement-title')?.text.trim();
  const movement = header.get('movement-title');
  if (work && child(work, 'work-title')) putText(text, work, 'work-title', title, changes);
  else if (movement) {
    const inner = innerOf(text, movement);
    if (inner) changes.push({ ...inner, text: escapeXml(title) });
  } else
    changes.push({
      from: inside,
      to: inside,
      text: `<work><work-title>${escapeXml(title)}</work-title></work>`,
    });
  // The title on the first page, where it is printed by itself.
  const credit = header.get('credit');
  for (const words of childrenOf(credit, 'credit-words'))
    if (before && words.text.trim() === before) {
      const inner = innerOf(text, words);
      if (inner) changes.push({ ...inner, text: escapeXml(title) });
    }
}

/** Puts elements into each other's places, in the order wanted; those that are not wanted go, with their line. */
function reordered(
  elements: readonly (readonly [id: string, element: XmlElement])[],
  order: readonly string[],
  text: string,
  own: (element: XmlElement) => string,
): Change[] {
  const byId = new Map(elements);
  const kept = order.flatMap((id) => byId.get(id) ?? []);
  const isSame = kept.length === elements.length && kept.every((each, index) => each === elements[index]![1]);
  if (isSame) return [];
  return elements.map(([, slot], index): Change => {
    const element = kept[index];
    if (element) return { from: slot.from, to: slot.to, text: own(element) };
    const line = /\n[ \t]*$/.exec(text.slice(0, slot.from))?.[0].length ?? 0;
    return { from: slot.from - line, to: slot.to, text: '' };
  });
}

function musicMoves(
  { text, music }: KeptDocument,
  order: readonly string[],
  own: (element: XmlElement) => string,
): Change[] {
  const lengths = [...music.values()].map((each) => each.length);
  const moves: Change[] = [];
  // Where bars hold parts, each bar is put in order by itself.
  for (let bar = 0; bar < Math.max(0, ...lengths); bar++) {
    const here = [...music]
      .flatMap(([id, elements]): [string, XmlElement][] => {
        const element = elements[bar];
        return element ? [[id, element]] : [];
      })
      .sort((a, b) => a[1].from - b[1].from);
    moves.push(...reordered(here, order, text, own));
  }
  return moves;
}
