import type { ChordSymbol, Figure, Mark, Root, TempoText } from '../../model/marks';
import { MOST_ALTERED, STEPS } from '../../model/pitch';
import type { Jump } from '../../model/score';
import { NOTE_TYPES, type NoteType, QUARTER, type Span, type Value, valueSpan } from '../../model/time';
import { child, childrenOf, numberFrom, numberOf, textOf, type XmlElement } from './elements';
import { dynamicOf, placementOf, type ReadEnd } from './notations';
import { CHORD_KINDS, known } from './values';

/** What a direction comes to, at one moment of its bar. */
export interface ReadDirection {
  marks: Mark[];
  ends: ReadEnd[];
  jumps: Omit<Jump, 'at'>[];
  /** Quarters a minute from here on, where nothing of it is printed. */
  tempo?: number;
  swing?: { ratio: number; value: 'eighth' | '16th' } | null;
  /** The swing is printed in words of its own. */
  isSwingSaid?: boolean;
}

export const isNoteType = (text: string | undefined): text is NoteType =>
  (NOTE_TYPES as readonly string[]).includes(text ?? '');

/**
 * Reads a direction (MusicXML 4.0, `direction`): its marks, the ends of its lines, and what it does to playing.
 *
 * @param at from the start of the bar, in units
 * @param lost told of each element that the model has no place for
 */
export function readDirection(direction: XmlElement, at: Span, lost: (name: string) => void): ReadDirection {
  const found: ReadDirection = { marks: [], ends: [], jumps: [] };
  const staff = numberOf(direction, 'staff');
  const place = { at, ...(staff !== undefined && { staff }), ...placementOf(direction) };
  const sound = child(direction, 'sound');
  const tempo = numberFrom(sound?.attributes.tempo);
  const words: string[] = [];
  let metronome: TempoText['metronome'];
  for (const type of childrenOf(direction, 'direction-type'))
    for (const each of type.children) {
      if (each.name === 'words') words.push(each.text.trim());
      else if (each.name === 'metronome') metronome = readMetronome(each) ?? metronome;
      else readType(each, place, found, lost);
    }
  const text = words.join(' ').trim();
  const jumps = jumpsOf(sound, text);
  found.jumps.push(...jumps);
  if (metronome || (tempo !== undefined && text)) {
    const sounding = tempo ?? soundingPace(metronome);
    found.marks.push({
      kind: 'tempo',
      tempo: {
        ...(text && { text }),
        ...(metronome && { metronome }),
        ...(sounding !== undefined && { quartersPerMinute: sounding }),
      },
      ...place,
    });
  } else {
    // What a jump prints goes with it; a segno or coda sign has no words.
    if (text && !jumps.some((jump) => jump.text === text))
      found.marks.push({ kind: 'words', text, ...place });
    if (tempo !== undefined) found.tempo = tempo;
  }
  readSwing(sound, found);
  if (found.swing !== undefined && text) found.isSwingSaid = true;
  return found;
}

/** What a `sound` on its own does. */
export function readSound(sound: XmlElement): ReadDirection {
  const found: ReadDirection = { marks: [], ends: [], jumps: jumpsOf(sound, '') };
  const tempo = numberFrom(sound.attributes.tempo);
  if (tempo !== undefined) found.tempo = tempo;
  readSwing(sound, found);
  return found;
}

function readSwing(sound: XmlElement | undefined, found: ReadDirection): void {
  const swing = child(sound, 'swing');
  if (!swing) return;
  if (child(swing, 'straight')) {
    found.swing = null;
    return;
  }
  const [first = 1, second = 1] = [numberOf(swing, 'first'), numberOf(swing, 'second')];
  const value = textOf(swing, 'swing-type') === '16th' ? '16th' : 'eighth';
  found.swing = { ratio: first / (first + second), value };
}

type Place = Pick<Mark, 'at' | 'staff' | 'placement'>;

function readType(each: XmlElement, place: Place, found: ReadDirection, lost: (name: string) => void): void {
  const { type, number = '1' } = each.attributes;
  const end = (kind: ReadEnd['kind'], is: Record<string, unknown>) => {
    found.ends.push({
      kind,
      number,
      type: type === 'stop' ? 'stop' : 'start',
      is,
      ...(place.placement && { placement: place.placement }),
    });
  };
  switch (each.name) {
    case 'rehearsal':
      found.marks.push({ kind: 'rehearsal', text: each.text.trim(), ...place });
      return;
    case 'dynamics':
      for (const dynamic of each.children)
        found.marks.push({ kind: 'dynamic', dynamic: dynamicOf(dynamic), ...place });
      return;
    case 'segno':
    case 'coda':
      // Said by its sound too; once is enough.
      found.jumps.push({ kind: each.name });
      return;
    case 'wedge':
      if (type === 'continue') return;
      return end('wedge', {
        opens: type === 'crescendo',
        ...(each.attributes.niente === 'yes' && { niente: true }),
      });
    case 'octave-shift':
      if (type === 'continue') return;
      return end('octave', {
        octaves: (type === 'up' ? -1 : 1) * ((numberFrom(each.attributes.size) ?? 8) > 8 ? 2 : 1),
      });
    case 'pedal':
      if (type === 'change') {
        end('pedal', {});
        found.ends.at(-1)!.type = 'stop';
        return end('pedal', { line: true });
      }
      if (
        type === 'start' ||
        type === 'stop' ||
        type === 'sostenuto' ||
        type === 'resume' ||
        type === 'discontinue'
      ) {
        end('pedal', { line: each.attributes.line === 'yes' });
        if (type === 'discontinue') found.ends.at(-1)!.type = 'stop';
      }
      return;
    case 'bracket':
      if (type === 'continue') return;
      return end('bracket', {
        end:
          each.attributes['line-end'] === 'up' || each.attributes['line-end'] === 'down'
            ? each.attributes['line-end']
            : 'none',
        line: each.attributes['line-type'] === 'dashed' ? 'dashed' : 'solid',
      });
    case 'dashes':
      if (type === 'continue') return;
      return end('dashes', {});
    default:
      lost(each.name);
  }
}

function readUnit(element: XmlElement): { value: Value; next: number }[] {
  const units: { value: Value; next: number }[] = [];
  element.children.forEach((each, index) => {
    if (each.name === 'beat-unit') {
      const type = each.text.trim();
      if (isNoteType(type)) units.push({ value: { type, dots: 0 }, next: index });
    }
    if (each.name === 'beat-unit-dot' && units.length > 0) units.at(-1)!.value.dots++;
  });
  return units;
}

function readMetronome(element: XmlElement): TempoText['metronome'] {
  const [first, second] = readUnit(element);
  const perMinute = textOf(element, 'per-minute');
  if (first && second) return { value: first.value, equals: second.value };
  return first && perMinute !== undefined ? { value: first.value, perMinute } : undefined;
}

/** Quarters a minute of a printed figure: the first number in it. */
function soundingPace(metronome: TempoText['metronome']): number | undefined {
  if (!metronome || !('perMinute' in metronome)) return undefined;
  const figure = numberFrom(/\d+(\.\d+)?/.exec(metronome.perMinute)?.[0]);
  return figure === undefined ? undefined : (figure * valueSpan(metronome.value)) / QUARTER;
}

/** Words that order the bars, where no `sound` says it (common practice, Italian and as abbreviated). */
const JUMP_WORDS: readonly [RegExp, Jump['kind']][] = [
  [/^\s*(d\.?\s?c\.?|da capo)\b/i, 'da-capo'],
  [/^\s*(d\.?\s?s\.?|dal segno)\b/i, 'dal-segno'],
  [/^\s*(to coda|al coda)\b/i, 'to-coda'],
  [/^\s*fine\s*$/i, 'fine'],
];

function jumpsOf(sound: XmlElement | undefined, text: string): Omit<Jump, 'at'>[] {
  const attributes = sound?.attributes ?? {};
  const jumps: Omit<Jump, 'at'>[] = [];
  const words = text ? { text } : {};
  if (attributes.dacapo === 'yes') jumps.push({ kind: 'da-capo', ...words });
  if (attributes.dalsegno) jumps.push({ kind: 'dal-segno', ...words });
  if (attributes.tocoda) jumps.push({ kind: 'to-coda', ...words });
  if (attributes.fine) jumps.push({ kind: 'fine', ...words });
  if (jumps.length > 0 || !text) return jumps;
  const meant = JUMP_WORDS.find(([pattern]) => pattern.test(text));
  return meant ? [{ kind: meant[1], text }] : [];
}

/** A chord symbol (MusicXML 4.0, `harmony`); null for one by function or by numeral only. */
export function readHarmony(harmony: XmlElement): ChordSymbol | null {
  const root = rootOf(child(harmony, 'root'), 'root');
  const kind = child(harmony, 'kind');
  if (!root || !kind) return null;
  const named = known(CHORD_KINDS, kind.text.trim(), () => {});
  const degrees = childrenOf(harmony, 'degree').map((each) => ({
    value: numberOf(each, 'degree-value') ?? 1,
    alter: numberOf(each, 'degree-alter') ?? 0,
    type: degreeType(textOf(each, 'degree-type')),
  }));
  const bass = rootOf(child(harmony, 'bass'), 'bass');
  return {
    root,
    kind: named ?? 'other',
    ...((kind.attributes.text ?? (named ? undefined : kind.text.trim())) !== undefined && {
      text: kind.attributes.text ?? kind.text.trim(),
    }),
    ...(degrees.length > 0 && { degrees }),
    ...(bass && { bass }),
  };
}

const degreeType = (type: string | undefined): 'add' | 'alter' | 'subtract' =>
  type === 'alter' || type === 'subtract' ? type : 'add';

function rootOf(element: XmlElement | undefined, name: 'root' | 'bass'): Root | null {
  const step = STEPS.find((each) => each === textOf(element, `${name}-step`));
  const alter = numberOf(element, `${name}-alter`) ?? 0;
  return step && Math.abs(alter) <= MOST_ALTERED ? { step, alter } : null;
}

export const readFigures = (figured: XmlElement): Figure[] =>
  childrenOf(figured, 'figure').map((each) => {
    const [number, prefix, suffix] = [
      textOf(each, 'figure-number'),
      textOf(each, 'prefix'),
      textOf(each, 'suffix'),
    ];
    return { ...(number && { number }), ...(prefix && { prefix }), ...(suffix && { suffix }) };
  });
