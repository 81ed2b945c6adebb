import { wordsOf } from './name-words';

/**
 * Words for techniques in names of tracks, in the languages and shortenings of
 * sample libraries and scores (common practice): the first that fits counts,
 * so what is more special stands first.
 */
const TECHNIQUES: readonly (readonly [words: RegExp, technique: string])[] = [
  [/\b(palm mutes?|pm)\b/, 'palm mute'],
  [/\bharmon\b/, 'harmon mute'],
  [/\bcup\b/, 'cup mute'],
  [/\bbucket\b/, 'bucket mute'],
  [/\b(straight|str mutes?)\b/, 'straight mute'],
  [/\bplunger\b/, 'plunger'],
  [/\b(stopped|gest|gestopft|chiuso)\b/, 'stopped'],
  [/\b(snap pizz|bartok)/, 'snap pizzicato'],
  [/\bcol legno\b|\bclb\b/, 'col legno'],
  [/\bsul pont|\bam steg\b|\bchevalet\b/, 'sul ponticello'],
  [/\bsul tasto|\bsur la touche\b|\bflautando\b|\bgriffbrett\b/, 'sul tasto'],
  [/\b(flz|flutter\w*|flatt\w*|frull\w*)\b/, 'flutter-tonguing'],
  [/\b(harm|harms|harmonics?|flag|flageolett?s?)\b/, 'harmonics'],
  [/\b(sord\w*|sourd\w*|muted?|mutes|dampfer|gedampft|sordo)\b/, 'muted'],
  [/\bpizz\w*\b/, 'pizzicato'],
  [/\bspicc\w*\b/, 'spiccato'],
  [/\b(stacc?\w*|shorts?|stc)\b/, 'staccato'],
  [/\b(trem\w*|rolls?)\b/, 'tremolo'],
  [/\b(trills?|trl)\b/, 'trill'],
  [/\b(marc|marcato)\b/, 'marcato'],
  [/\b(leg|legato|lgt)\b/, 'legato'],
  [/\b(sus|sust|sustains?|sustained|longs?)\b/, 'sustained'],
  [/\b(brush|brushes|balais|besen)\b/, 'brushes'],
  [/\b(dist|distorted|distortion|verzerrt|overdrive|od)\b/, 'distorted'],
  [/\bclean\b/, 'clean'],
];

/** Closed by hand or by a mute, as the instrument has it: a horn is stopped, a trumpet muted (French). */
const CLOSED = /\bbouchee?s?\b/;

/** The technique that a name tells; null for none. @param isHorn whether it is a horn's name */
export function techniqueIn(name: string, isHorn: boolean): string | null {
  const text = wordsOf(name).join(' ');
  if (CLOSED.test(text)) return isHorn ? 'stopped' : 'muted';
  return TECHNIQUES.find(([words]) => words.test(text))?.[1] ?? null;
}

/** Names of all techniques that strands are told apart by. */
export const TECHNIQUE_NAMES: readonly string[] = [
  ...new Set(TECHNIQUES.map(([, technique]) => technique)),
].sort();

/** General MIDI programs, 0–127, that are a technique of an instrument. */
const OF_PROGRAMS: Readonly<Record<number, string>> = {
  28: 'palm mute',
  31: 'harmonics',
  44: 'tremolo',
  45: 'pizzicato',
  59: 'muted',
};

/** The technique that programs tell, where there is one alone; null for none. */
export const techniqueOfPrograms = (programs: readonly number[]): string | null =>
  programs.length === 1 ? (OF_PROGRAMS[programs[0]!] ?? null) : null;
