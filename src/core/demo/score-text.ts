import { instrumentOf } from '../instruments/catalogue';
import { drumSound } from '../instruments/kit';
import { diatonicHeight, type Pitch, pitchKey, STEPS, type Step } from '../model/pitch';
import type { Bar, Chord, Item, Note, Transposition, VoiceLine } from '../model/score';
import type { NoteType, Value } from '../model/time';
import { barRests } from '../notate/rests';
import { itemSpan } from '../notate/rhythm';

const TYPES: Record<string, NoteType> = {
  '1': 'whole',
  '2': 'half',
  '4': 'quarter',
  '8': 'eighth',
  '16': '16th',
  '32': '32nd',
};
/** Short names of drum sounds, by General MIDI key. */
const DRUMS: Record<string, number> = {
  k: 36,
  s: 38,
  h: 42,
  p: 44,
  o: 46,
  c: 49,
  d: 51,
  x: 37,
  t: 45,
  u: 48,
};
const TOKEN = /^(3\[)?([^/]+)\/(\d+)(\.?)(~?)(>?)(')?(\^?)(?:"([^"]+)")?(\])?$/;

/** How a demo part writes its bars down. */
export interface TextPart {
  id: string;
  instrument: string;
}

/**
 * Reads one voice of one bar from text. Tokens are PITCH/VALUE with concert
 * pitches (`F#4/8`, chords `D4+A4/2.`, rests `r/4`), `~` for a tie, `>` and
 * `'` for accent and staccato, `^` for a fermata, `"syl-"` for a lyric,
 * `3[` … `]` around a triplet; `R` is a whole-bar rest.
 *
 * @param ties sounding keys that the bar before holds over; updated for the next bar
 * @throws Error when the values do not fill the bar
 */
export function readBarText(
  text: string,
  bar: Bar,
  part: TextPart,
  staff: number,
  voice: number,
  ties: Set<number>,
): VoiceLine {
  const instrument = instrumentOf(part.instrument);
  if (text === 'R') return { voice, staff, items: barRests(bar) };
  const items: Item[] = [];
  let onset = 0;
  let inTuplet = false;
  text.split(/\s+/).forEach((token, index) => {
    const match = TOKEN.exec(token);
    if (!match) throw new Error(`${part.id} bar ${bar.number}: "${token}"`);
    const [, opens, pitches, number, dot, tie, accent, staccato, fermata, syllable, closes] = match;
    if (opens) inTuplet = true;
    const value: Value = { type: TYPES[number!]!, dots: dot ? 1 : 0 };
    const tuplet = inTuplet
      ? {
          actual: 3,
          normal: 2,
          unit: 'eighth' as NoteType,
          ...(opens && { edge: 'start' as const }),
          ...(closes && { edge: 'stop' as const }),
        }
      : undefined;
    const timed = { onset, duration: itemSpan(value, tuplet), value, ...(tuplet && { tuplet }) };
    if (closes) inTuplet = false;
    onset += timed.duration;
    if (pitches === 'r') {
      items.push({ kind: 'rest', ...timed });
      return;
    }
    const notes = pitches!.split('+').map((name): Note => {
      const read = instrument.unpitched ? readDrum(name) : readPitch(name, instrument.transposition);
      const note: Note = {
        ...read,
        id: `${part.id}-${bar.index}-${staff}-${voice}-${index}-${name.replace('#', 's')}`,
        sources: [],
      };
      if (ties.delete(note.key)) note.tieStop = true;
      if (tie) note.tieStart = true;
      return note;
    });
    if (tie) for (const note of notes) ties.add(note.key);
    const chord: Chord = { kind: 'chord', ...timed, notes: notes.sort((a, b) => a.key - b.key) };
    if (accent || staccato)
      chord.marks = [
        ...(staccato ? ([{ kind: 'articulation', name: 'staccato' }] as const) : []),
        ...(accent ? ([{ kind: 'articulation', name: 'accent' }] as const) : []),
      ];
    if (fermata) chord.marks = [...(chord.marks ?? []), { kind: 'fermata', shape: 'normal' }];
    if (syllable) chord.lyrics = [{ text: syllable.replace(/^-|-$/g, ''), syllabic: syllabicOf(syllable) }];
    items.push(chord);
  });
  if (onset !== bar.length) throw new Error(`${part.id} bar ${bar.number} is not full: ${text}`);
  return { voice, staff, items };
}

function syllabicOf(syllable: string): 'single' | 'begin' | 'middle' | 'end' {
  const after = syllable.endsWith('-');
  if (syllable.startsWith('-')) return after ? 'middle' : 'end';
  return after ? 'begin' : 'single';
}

function readDrum(name: string): Pick<Note, 'key' | 'pitch' | 'head'> {
  const sound = drumSound(DRUMS[name]!);
  return { key: sound.key, pitch: sound.place, ...(sound.head !== 'normal' && { head: sound.head }) };
}

function readPitch(name: string, transposition: Transposition): Pick<Note, 'key' | 'pitch'> {
  const match = /^([A-G])([#b]?)(\d)$/.exec(name)!;
  const alter = match[2] === '#' ? 1 : match[2] === 'b' ? -1 : 0;
  const concert: Pitch = { step: match[1] as Step, alter, octave: Number(match[3]) };
  return { key: pitchKey(concert), pitch: transposed(concert, transposition) };
}

/** The written pitch of a concert pitch for a transposing instrument. */
function transposed(concert: Pitch, transposition: Transposition): Pitch {
  const height = diatonicHeight(concert) - transposition.diatonic;
  const natural: Pitch = { step: STEPS[height % 7]!, alter: 0, octave: Math.floor(height / 7) };
  return { ...natural, alter: pitchKey(concert) - transposition.chromatic - pitchKey(natural) };
}
