import { instrumentOf } from '../../instruments/catalogue';
import { recogniseInstrument } from '../../instruments/recognise';
import { PERCUSSION_CHANNEL } from '../../model/performance';
import { GROUP_SYMBOLS, type PartGroup, type Score } from '../../model/score';
import { childrenOf, numberOf, textOf, type XmlElement } from './elements';

/** What the part list says of one part (MusicXML 4.0, `score-part`). */
export interface ListedPart {
  xmlId: string;
  name: string;
  abbreviation: string;
  /** Catalogue id, by the name first, then by sound and program. */
  instrument: string;
  /** MIDI keys of its unpitched instruments by their ids. */
  unpitched: ReadonlyMap<string, number>;
}

/** The parts in their order, and the groups over them. */
export function readPartList(list: XmlElement | undefined): { parts: ListedPart[]; groups: PartGroup[] } {
  const parts: ListedPart[] = [];
  const groups: PartGroup[] = [];
  const open = new Map<string, PartGroup>();
  for (const each of list?.children ?? []) {
    if (each.name === 'score-part') parts.push(readScorePart(each));
    if (each.name !== 'part-group') continue;
    const number = each.attributes.number ?? '1';
    const group = open.get(number);
    if (each.attributes.type === 'stop') {
      // One that holds no part is none.
      if (group && parts.length > group.from) groups.push({ ...group, to: parts.length - 1 });
      open.delete(number);
    } else open.set(number, readGroup(each, parts.length));
  }
  for (const group of open.values())
    if (parts.length > group.from) groups.push({ ...group, to: parts.length - 1 });
  return { parts, groups };
}

function readGroup(element: XmlElement, from: number): PartGroup {
  const symbol = textOf(element, 'group-symbol');
  const name = textOf(element, 'group-name');
  return {
    from,
    to: from,
    symbol: GROUP_SYMBOLS.find((each) => each === symbol) ?? 'none',
    joined: textOf(element, 'group-barline') === 'yes',
    ...(name && { name }),
  };
}

function readScorePart(element: XmlElement): ListedPart {
  const midi = childrenOf(element, 'midi-instrument');
  const channel = Math.min(16, Math.max(1, numberOf(midi[0], 'midi-channel') ?? 1));
  const said = numberOf(midi[0], 'midi-program');
  const program = said !== undefined && said >= 1 && said <= 128 ? said : undefined;
  const name = textOf(element, 'part-name') ?? '';
  const instrumentNames = childrenOf(element, 'score-instrument').map(
    (each) => textOf(each, 'instrument-name') ?? '',
  );
  const evidence = {
    channel: channel - 1,
    programs: program === undefined ? [] : [program - 1],
  };
  const guesses = [name, ...instrumentNames.slice(0, 1)].map((each) =>
    recogniseInstrument({ ...evidence, name: each }),
  );
  const best = guesses.toSorted((a, b) => b.confidence - a.confidence)[0]!;
  const unpitched = new Map<string, number>();
  for (const each of midi) {
    const key = numberOf(each, 'midi-unpitched');
    if (key !== undefined && each.attributes.id) unpitched.set(each.attributes.id, key - 1);
  }
  const isKit = channel - 1 === PERCUSSION_CHANNEL || unpitched.size > 1;
  return {
    xmlId: element.attributes.id ?? '',
    name,
    abbreviation: textOf(element, 'part-abbreviation') ?? '',
    instrument: isKit && !best.instrument.unpitched ? instrumentOf('drum-set').id : best.instrument.id,
    unpitched,
  };
}

/** Who made the piece, and whose it is. */
export function readCredits(header: ReadonlyMap<string, XmlElement>): Pick<Score, 'composer' | 'copyright'> {
  const identification = header.get('identification');
  const composer = childrenOf(identification, 'creator')
    .find(({ attributes }) => attributes.type === 'composer')
    ?.text.trim();
  const copyright = textOf(identification, 'rights');
  return { ...(composer && { composer }), ...(copyright && { copyright }) };
}

/** What a document says of itself besides its parts. */
export function readTitle(header: ReadonlyMap<string, XmlElement>): string {
  return (
    textOf(header.get('work'), 'work-title') ||
    header.get('movement-title')?.text.trim() ||
    textOf(header.get('credit'), 'credit-words') ||
    ''
  );
}
