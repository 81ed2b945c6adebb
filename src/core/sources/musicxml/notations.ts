import {
  ARTICULATIONS,
  type ChordMark,
  type Lyric,
  type Mark,
  ORNAMENTS,
  type Placement,
  type Spanner,
  TECHNIQUES,
} from '../../model/marks';
import type { Span } from '../../model/time';
import { child, childrenOf, numberFrom, textOf, type XmlElement } from './elements';

/** One end of something that stretches, as it stands in the document. */
export interface ReadEnd {
  kind: Spanner['kind'];
  /** Tells those apart that are open together. */
  number: string;
  type: 'start' | 'stop';
  /** What the spanner is like, as its start says. */
  is: Record<string, unknown>;
  placement?: Placement;
}

/** What the notations of one note say. */
export interface ReadNotations {
  tieStart: boolean;
  tieStop: boolean;
  ringsOn: boolean;
  ends: ReadEnd[];
  tuplets: XmlElement[];
  marks: ChordMark[];
  /** Dynamics that stand at the note. */
  dynamics: string[];
  string?: number;
  fret?: number;
}

const isOneOf = <T extends string>(all: readonly T[], name: string): name is T =>
  (all as readonly string[]).includes(name);

export const placementOf = ({ attributes }: XmlElement): { placement?: Placement } =>
  attributes.placement === 'above' || attributes.placement === 'below'
    ? { placement: attributes.placement }
    : {};

/** Reads all `notations` of a note. @param lost told of each element that the model has no place for */
export function readNotations(note: XmlElement, lost: (name: string) => void): ReadNotations {
  const found: ReadNotations = {
    tieStart: false,
    tieStop: false,
    ringsOn: false,
    ends: [],
    tuplets: [],
    marks: [],
    dynamics: [],
  };
  for (const notations of childrenOf(note, 'notations'))
    for (const each of notations.children) readNotation(each, found, lost);
  return found;
}

function readNotation(each: XmlElement, found: ReadNotations, lost: (name: string) => void): void {
  const { type, number = '1' } = each.attributes;
  switch (each.name) {
    case 'tied':
      if (type === 'start' || type === 'continue') found.tieStart = true;
      if (type === 'stop' || type === 'continue') found.tieStop = true;
      if (type === 'let-ring') found.ringsOn = true;
      return;
    case 'slur':
      if (type === 'start' || type === 'stop')
        found.ends.push({ kind: 'slur', number, type, is: {}, ...placementOf(each) });
      return;
    case 'glissando':
    case 'slide':
      if (type === 'start' || type === 'stop')
        found.ends.push({
          kind: each.name,
          number,
          type,
          is: { line: lineType(each), ...(each.text.trim() && { text: each.text.trim() }) },
        });
      return;
    case 'tuplet':
      found.tuplets.push(each);
      return;
    case 'dynamics':
      found.dynamics.push(...each.children.map(dynamicOf));
      return;
    case 'fermata':
      found.marks.push({
        kind: 'fermata',
        shape:
          each.text.trim() === 'angled' || each.text.trim() === 'square'
            ? (each.text.trim() as 'angled')
            : 'normal',
        ...(type === 'inverted' && { inverted: true as const }),
      });
      return;
    case 'arpeggiate': {
      const { direction } = each.attributes;
      found.marks.push({
        kind: 'arpeggio',
        ...((direction === 'up' || direction === 'down') && { direction }),
      });
      return;
    }
    case 'ornaments':
      return readOrnaments(each, found, lost);
    case 'articulations':
      for (const mark of each.children)
        if (mark.name === 'breath-mark') found.marks.push({ kind: 'breath' });
        else if (mark.name === 'caesura') found.marks.push({ kind: 'caesura' });
        else if (isOneOf(ARTICULATIONS, mark.name))
          found.marks.push({ kind: 'articulation', name: mark.name });
        else lost(mark.name);
      return;
    case 'technical':
      return readTechnical(each, found, lost);
    default:
      lost(each.name);
  }
}

function lineType({ attributes }: XmlElement): 'solid' | 'dashed' | 'dotted' | 'wavy' {
  const type = attributes['line-type'];
  return type === 'dashed' || type === 'dotted' || type === 'wavy' ? type : 'solid';
}

export const dynamicOf = (element: XmlElement): string =>
  element.name === 'other-dynamics' ? element.text.trim() : element.name;

function readOrnaments(ornaments: XmlElement, found: ReadNotations, lost: (name: string) => void): void {
  for (const each of ornaments.children) {
    const { type, number = '1' } = each.attributes;
    const last = found.marks.at(-1);
    if (each.name === 'tremolo') {
      const between = type === 'start' || type === 'stop' ? ({ between: type } as const) : {};
      found.marks.push({ kind: 'tremolo', strokes: numberFrom(each.text) ?? 3, ...between });
    } else if (each.name === 'wavy-line') {
      if (type === 'start' || type === 'stop') found.ends.push({ kind: 'wavy-line', number, type, is: {} });
    } else if (each.name === 'accidental-mark' && last?.kind === 'ornament') {
      const accidentals = last.accidentals ?? [];
      accidentals.push({ name: each.text.trim(), placement: placementOf(each).placement ?? 'above' });
      last.accidentals = accidentals;
    } else if (isOneOf(ORNAMENTS, each.name)) found.marks.push({ kind: 'ornament', name: each.name });
    else lost(each.name);
  }
}

function readTechnical(technical: XmlElement, found: ReadNotations, lost: (name: string) => void): void {
  for (const each of technical.children) {
    const number = numberFrom(each.text);
    if (each.name === 'string' && number !== undefined) found.string = number;
    else if (each.name === 'fret' && number !== undefined) found.fret = number;
    else if (isOneOf(TECHNIQUES, each.name)) {
      const text = each.text.trim();
      found.marks.push({ kind: 'technique', name: each.name, ...(text && { text }) });
    } else lost(each.name);
  }
}

const SYLLABIC = ['single', 'begin', 'middle', 'end'] as const;

/** The lyrics under a note, verse by verse. */
export function readLyrics(note: XmlElement): Lyric[] {
  return childrenOf(note, 'lyric').flatMap((each, index): Lyric[] => {
    const texts = childrenOf(each, 'text').map((text) => text.text);
    const [text, ...others] = texts;
    const extend = child(each, 'extend');
    // A line alone goes on from a syllable before.
    if (text === undefined) return [];
    const syllabic = textOf(each, 'syllabic');
    const verse = numberFrom(each.attributes.number) ?? index + 1;
    return [
      {
        ...(verse !== 1 && { verse }),
        text,
        syllabic: SYLLABIC.find((known) => known === syllabic) ?? 'single',
        ...(others.length > 0 && { elided: others.join('\u203f') }),
        ...(extend && { extends: true as const }),
      },
    ];
  });
}

/** Dynamics at a note as marks of the bar. */
export const dynamicMarks = (dynamics: readonly string[], at: Span, staff: number): Mark[] =>
  dynamics.map((dynamic) => ({ kind: 'dynamic', dynamic, at, staff }));
