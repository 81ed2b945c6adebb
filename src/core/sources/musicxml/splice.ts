import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import type { Instrument } from '../../instruments/catalogue';
import type { PartGroup } from '../../model/score';
import { applied, type Change, innerOf, putText, spaceBefore, takeOut } from './changes';
import { child, childrenOf, type XmlElement } from './elements';
import { groupEdges } from './groups';
import { insideOfMeasure, type MadePart } from './made-part';
import type { Place, Places } from './part-reader';
import { escapeXml } from './xml';

/** A document as it came, and where in its text things stand. */
export interface KeptDocument {
  /** Decoded. */
  text: string;
  /** Elements beside the music, by their names. */
  header: ReadonlyMap<string, XmlElement>;
  /** The elements that hold the music of each part by its id; more than one where bars hold parts. */
  music: ReadonlyMap<string, readonly XmlElement[]>;
  /** Where the music of each part was read, by the part's id, and how many characters farther on it stands now. */
  read: ReadonlyMap<string, { places: Places; by: number }>;
  /** Ids of the parts in the order in which they were read: that of the list, which need not be that of the music. */
  order: readonly string[];
  /** Where the first element stands, after the root's own tag. */
  inside: number;
}

/** Where the music of a part stands in a document; undefined for a part that it has not. */
export function placesIn({ read }: Pick<KeptDocument, 'read'>, part: string): Places | undefined {
  const found = read.get(part);
  if (!found || found.by === 0) return found?.places;
  return remembered(found.places, MOVED, found);
}

const MOVED = node('moved places', ({ places, by }: { places: Places; by: number }): Places => {
  const moved = <T extends Place>(place: T): T => ({ ...place, from: place.from + by, to: place.to + by });
  return {
    said: places.said,
    bars: places.bars.map(moved),
    signs: places.signs.map(moved),
    notes: new Map([...places.notes].map(([id, place]) => [id, moved(place)])),
  };
});

/** What a document is to say instead. */
export interface Wanted {
  /** Where it is another one. */
  title?: string;
  /** Where they are others; empty for none. */
  composer?: string;
  copyright?: string;
  /** The parts that stay, in their order, by their ids in the document. */
  parts: readonly WantedPart[];
  /** Brackets and braces over these, where they are others. */
  groups?: readonly PartGroup[];
}

interface WantedPart {
  id: string;
  name?: string;
  abbreviation?: string;
  instrument?: Instrument;
  /** Made for this document. */
  music?: readonly Change[];
  /** Written anew, in the place of the part of this id or as one more. */
  made?: MadePart;
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
  credit(document, wanted, changes);
  const listed = childrenOf(header.get('part-list'), 'score-part');
  const inList = new Map(listed.map((each) => [each.attributes.id ?? '', each]));
  for (const { id, name, abbreviation, instrument, music = [], made } of wanted.parts) {
    if (made) continue;
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
  // What was changed inside an element moves with it.
  const own = (element: XmlElement): string => applied(text, changes, element.from, element.to);
  const moves = [...listMoves(document, wanted, own, changes), ...musicMoves(document, wanted.parts, own)];
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

/** Who made it and whose it is, where the document has its place for that (MusicXML 4.0: creators, then rights, come first). */
function credit({ text, header, inside }: KeptDocument, wanted: Wanted, changes: Change[]): void {
  const identification = header.get('identification');
  const creators = childrenOf(identification, 'creator');
  const composer = creators.find(({ attributes }) => attributes.type === 'composer');
  const rights = child(identification, 'rights');
  const missing: string[] = [];
  const put = (
    element: XmlElement | undefined,
    value: string | undefined,
    made: (text: string) => string,
  ) => {
    if (value === undefined) return;
    const inner = element && innerOf(text, element);
    if (inner) changes.push({ ...inner, text: escapeXml(value) });
    else if (value) missing.push(made(escapeXml(value)));
  };
  put(composer, wanted.composer, (value) => `<creator type="composer">${value}</creator>`);
  put(rights, wanted.copyright, (value) => `<rights>${value}</rights>`);
  if (missing.length === 0) return;
  const inner = identification && innerOf(text, identification);
  if (inner) {
    // A creator stands before all else, rights after all creators.
    const [first] = missing;
    const isRightsOnly = missing.length === 1 && first!.startsWith('<rights');
    const at = isRightsOnly ? (creators.at(-1)?.to ?? inner.from) : inner.from;
    changes.push({ from: at, to: at, text: missing.join('') });
    return;
  }
  const after = header.get('movement-title') ?? header.get('movement-number') ?? header.get('work');
  const at = after?.to ?? inside;
  changes.push({ from: at, to: at, text: `<identification>${missing.join('')}</identification>` });
}

type Element = readonly [id: string, element: XmlElement];

/**
 * Puts elements into each other's places, in the order wanted; those that are
 * not wanted go, with their line; more than there were follow the last.
 *
 * @param contentOf the text of a part that is wanted; null for one that has none here
 * @param isNew some of these texts are not just the elements
 */
function reordered(
  elements: readonly Element[],
  order: readonly string[],
  text: string,
  contentOf: (id: string) => string | null,
  isNew: boolean,
): Change[] {
  const kept = order.flatMap((id) => {
    const content = contentOf(id);
    return content === null ? [] : [{ id, content }];
  });
  const isSame = kept.length === elements.length && kept.every(({ id }, at) => id === elements[at]![0]);
  const last = elements.at(-1)?.[1];
  if ((isSame && !isNew) || !last) return [];
  const moves = elements.map(([, slot], index): Change => {
    const own = kept[index];
    if (own) return { from: slot.from, to: slot.to, text: own.content };
    return { from: slot.from - spaceBefore(text, slot.from).length, to: slot.to, text: '' };
  });
  const more = kept.slice(elements.length).map(({ content }) => spaceBefore(text, last.from) + content);
  return more.length > 0 ? [...moves, { from: last.to, to: last.to, text: more.join('') }] : moves;
}

/** The list of parts, with the groups over them. */
function listMoves(
  { text, header }: KeptDocument,
  { parts, groups }: Wanted,
  own: (element: XmlElement) => string,
  changes: Change[],
): Change[] {
  const list = header.get('part-list');
  const listed = childrenOf(list, 'score-part').map((each): Element => [each.attributes.id ?? '', each]);
  const inList = new Map(listed);
  if (groups) for (const each of childrenOf(list, 'part-group')) takeOut(text, each, changes);
  const edges = groups ? groupEdges(groups, parts.length) : null;
  const contents = new Map(
    parts.flatMap(({ id, made }, index): [string, string][] => {
      const element = inList.get(id);
      const content = made?.listed ?? (element && own(element));
      const { before = [], after = [] } = edges?.[index] ?? {};
      return content === undefined ? [] : [[id, [...before, content, ...after].join('\n    ')]];
    }),
  );
  const order = parts.map(({ id }) => id);
  const isNew = edges !== null || parts.some(({ made }) => made);
  return reordered(listed, order, text, (id) => contents.get(id) ?? null, isNew);
}

const sameIds = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((id, at) => id === other[at]);

function musicMoves(
  { text, music, order: asRead }: KeptDocument,
  parts: readonly WantedPart[],
  own: (element: XmlElement) => string,
): Change[] {
  const lengths = [...music.values()].map((each) => each.length);
  const isTimewise = lengths.some((length) => length > 1);
  const made = new Map(parts.flatMap((part) => (part.made ? [[part.id, part.made] as const] : [])));
  const wanted = parts.map(({ id }) => id);
  const stay = new Set(wanted);
  // Parts that are where they were stay where their music stands.
  const isAsRead = sameIds(
    wanted,
    asRead.filter((id) => stay.has(id)),
  );
  const moves: Change[] = [];
  // Where bars hold parts, each bar is put in order by itself.
  for (let bar = 0; bar < Math.max(0, ...lengths); bar++) {
    const here = [...music]
      .flatMap(([id, elements]): Element[] => {
        const element = elements[bar];
        return element ? [[id, element]] : [];
      })
      .sort((a, b) => a[1].from - b[1].from);
    const elements = new Map(here);
    const contentOf = (id: string): string | null => {
      const anew = made.get(id);
      if (anew)
        return isTimewise
          ? `<part id="${id}">${insideOfMeasure(anew.measures[bar] ?? '')}</part>`
          : `<part id="${id}">\n${anew.measures.join('\n')}\n</part>`;
      const element = elements.get(id);
      return element ? own(element) : null;
    };
    const order = isAsRead ? here.flatMap(([id]) => (stay.has(id) ? [id] : [])) : wanted;
    moves.push(...reordered(here, order, text, contentOf, made.size > 0));
  }
  return moves;
}
