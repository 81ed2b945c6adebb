import type { Anchor, Spanner } from '../../model/marks';
import type { Moment } from '../../model/time';
import type { XmlText } from './xml';

/** One end of a spanner with the number that tells it from others open at the same time. */
export interface SpannerEnd {
  spanner: Spanner;
  type: 'start' | 'stop';
  /** 1–16 (MusicXML 4.0, `number-level`). */
  number: number;
}

/** Kinds that MusicXML writes at a note; the others are directions. */
const AT_NOTES: ReadonlySet<Spanner['kind']> = new Set(['slur', 'glissando', 'slide', 'wavy-line']);

const MOST_OPEN = 16;

/** The ends of a part's spanners by where they stand, each numbered. */
export class SpannerEnds {
  private readonly byNote = new Map<string, SpannerEnd[]>();
  private readonly byBar = new Map<number, (SpannerEnd & { at: Moment })[]>();

  /**
   * @param orderOf where a note or moment stands in the part, for telling which are open together;
   *   undefined for a note that is not there, as in a window on the score
   * @param placeOf the bar and moment of a note, for what is written as a direction
   */
  constructor(
    spanners: readonly Spanner[],
    orderOf: (anchor: Anchor) => number | undefined,
    placeOf: (note: string) => { bar: number; at: Moment } | undefined,
  ) {
    const ends = spanners.flatMap((spanner) => {
      const from = orderOf(spanner.from);
      const to = orderOf(spanner.to);
      return [
        ...(from === undefined ? [] : [{ spanner, type: 'start' as const, order: from }]),
        ...(to === undefined ? [] : [{ spanner, type: 'stop' as const, order: to }]),
      ];
    });
    // What ends frees its number before what begins at the same place takes one.
    ends.sort((a, b) => a.order - b.order || (a.type === b.type ? 0 : a.type === 'stop' ? -1 : 1));
    const open = new Map<string, Set<number>>();
    const numbers = new Map<string, number>();
    for (const { spanner, type } of ends) {
      const used = open.get(spanner.kind) ?? new Set<number>();
      open.set(spanner.kind, used);
      let number = numbers.get(spanner.id) ?? 1;
      if (type === 'start') {
        while (used.has(number) && number < MOST_OPEN) number++;
        used.add(number);
        numbers.set(spanner.id, number);
      } else used.delete(number);
      this.put({ spanner, type, number }, type === 'start' ? spanner.from : spanner.to, placeOf);
    }
  }

  private put(
    end: SpannerEnd,
    anchor: Anchor,
    placeOf: (note: string) => { bar: number; at: Moment } | undefined,
  ): void {
    if ('note' in anchor && AT_NOTES.has(end.spanner.kind)) {
      this.byNote.set(anchor.note, [...(this.byNote.get(anchor.note) ?? []), end]);
      return;
    }
    const place = 'note' in anchor ? placeOf(anchor.note) : anchor;
    if (place) this.byBar.set(place.bar, [...(this.byBar.get(place.bar) ?? []), { ...end, at: place.at }]);
  }

  /** Ends at a note, those of what ends first. */
  atNote(id: string): readonly SpannerEnd[] {
    return this.byNote.get(id) ?? [];
  }

  /** Ends that are directions in a bar, with their moments. */
  inBar(bar: number): readonly (SpannerEnd & { at: Moment })[] {
    return this.byBar.get(bar) ?? [];
  }
}

/** An end inside the notations of a note. */
export function writeNoteEnd(xml: XmlText, { spanner, type, number }: SpannerEnd): void {
  switch (spanner.kind) {
    case 'glissando':
    case 'slide':
      return xml.leaf(spanner.kind, type === 'start' ? spanner.text : undefined, {
        type,
        number,
        'line-type': type === 'start' ? spanner.line : undefined,
      });
    case 'slur':
      return xml.leaf('slur', undefined, { type, number, placement: spanner.placement });
    default:
      return;
  }
}

/** An end of a line of trills, inside the ornaments of a note. */
export function writeWavyEnd(xml: XmlText, { type, number }: SpannerEnd): void {
  xml.leaf('wavy-line', undefined, { type, number });
}

/** An end as a direction. @param offset in divisions */
export function writeDirectionEnd(
  xml: XmlText,
  { spanner, type, number }: SpannerEnd,
  offset: number,
  staff: number | undefined,
): void {
  xml.start('direction', { placement: spanner.placement });
  xml.start('direction-type');
  switch (spanner.kind) {
    case 'wedge':
      xml.leaf('wedge', undefined, {
        type: type === 'stop' ? 'stop' : spanner.opens ? 'crescendo' : 'diminuendo',
        number,
        niente: type === (spanner.opens ? 'start' : 'stop') && spanner.niente ? 'yes' : undefined,
      });
      break;
    case 'octave':
      xml.leaf('octave-shift', undefined, {
        // Notes that sound higher than they are written are shifted down on paper.
        type: type === 'stop' ? 'stop' : spanner.octaves > 0 ? 'down' : 'up',
        number,
        size: 7 * Math.abs(spanner.octaves) + 1,
      });
      break;
    case 'pedal':
      xml.leaf('pedal', undefined, {
        type,
        line: spanner.line ? 'yes' : 'no',
        sign: spanner.line ? 'no' : 'yes',
      });
      break;
    case 'bracket':
      xml.leaf('bracket', undefined, { type, number, 'line-end': spanner.end, 'line-type': spanner.line });
      break;
    case 'dashes':
      xml.leaf('dashes', undefined, { type, number });
      break;
    default:
      xml.leaf('words', '');
  }
  xml.end();
  if (offset > 0) xml.leaf('offset', offset);
  if (staff !== undefined) xml.leaf('staff', staff);
  xml.end();
}
