import { instrumentOf } from '../instruments/catalogue';
import { keyAlter, type Pitch, pitchKey, STEPS } from '../model/pitch';
import type { Note, Part } from '../model/score';
import { QUARTER, type Span } from '../model/time';
import type { Stroke } from './ornaments';

/** Where a line leads from a note: to another, gliding or by steps. */
export interface Glide {
  to: Note;
  /** Without steps, as a bend. */
  slides: boolean;
}

/** Bends reach this far in sampled instruments that are told so (RPN 0, MIDI 1.0); wider slides go by steps. Semitones. */
export const BEND_RANGE = 12;

/** Glissandos and slides of a part, by the id of the note that each leaves. */
export function glidesOf(part: Part): Map<string, Glide> {
  const lines = (part.spanners ?? []).filter(({ kind }) => kind === 'glissando' || kind === 'slide');
  const glides = new Map<string, Glide>();
  if (lines.length === 0) return glides;
  const notes = new Map<string, Note>();
  for (const bar of part.bars)
    for (const line of bar.voices)
      for (const item of line.items)
        if (item.kind === 'chord') for (const note of item.notes) notes.set(note.id, note);
  for (const { kind, from, to } of lines) {
    const target = 'note' in to ? notes.get(to.note) : undefined;
    const left = 'note' in from ? notes.get(from.note) : undefined;
    if (left && target && left.key !== target.key)
      glides.set(left.id, {
        to: target,
        slides: kind === 'slide' && Math.abs(target.key - left.key) <= BEND_RANGE,
      });
  }
  return glides;
}

/**
 * A glissando as steps (common practice): the note itself for half its value,
 * at most a quarter's worth of steps, then all between; on a harp the notes of
 * the key, on keyboards the white ones, on all else every semitone.
 *
 * @param fifths of the signature as written
 */
export function glissando(note: Note, to: Note, part: Part, length: Span, fifths: number): Stroke[] {
  const { family, id } = instrumentOf(part.instrument);
  const keys =
    id === 'harp'
      ? scaleBetween(note, to, fifths)
      : family === 'keyboard'
        ? scaleBetween(note, to, 0)
        : semitonesBetween(note.key, to.key);
  const run = Math.min(length / 2, QUARTER);
  const step = run / Math.max(1, keys.length);
  return [
    { from: 0, to: keys.length > 0 ? length - run : length, key: note.key },
    ...keys.map((key, index) => ({
      from: length - run + index * step,
      to: length - run + (index + 1) * step,
      key,
    })),
  ];
}

function semitonesBetween(from: number, to: number): number[] {
  const by = Math.sign(to - from);
  return Array.from({ length: Math.max(0, Math.abs(to - from) - 1) }, (_, index) => from + (index + 1) * by);
}

/** Sounding keys of the notes of a written scale between two notes. */
function scaleBetween(from: Note, to: Note, fifths: number): number[] {
  const transposes = from.key - pitchKey(from.pitch);
  const by = Math.sign(to.key - from.key);
  const keys: number[] = [];
  let { step, octave }: Pitch = from.pitch;
  for (;;) {
    const index = STEPS.indexOf(step) + by;
    octave += Math.floor(index / STEPS.length);
    step = STEPS[(index + STEPS.length) % STEPS.length]!;
    const key = pitchKey({ step, octave, alter: keyAlter(fifths, step) }) + transposes;
    if ((to.key - key) * by <= 0) return keys;
    if ((key - from.key) * by > 0) keys.push(key);
  }
}
