import { describe, expect, it } from 'vitest';
import generalMidi from '../../../tests/conformance/general-midi.json';
import reference from '../../../tests/conformance/instruments-music21.json';
import published from '../../../tests/conformance/musicxml-sounds.json';
import { CATALOGUE, instrumentOf, instrumentOfProgram, LANGUAGES } from './catalogue';
import { recogniseInstrument } from './recognise';

/**
 * Written C5 (the C in the treble staff's third space) sounds as: the table of
 * transposing instruments that orchestration handbooks print (as in Kennan and
 * Grantham, The Technique of Orchestration, and Adler, The Study of
 * Orchestration), from memory. The brass band's basses and the tenor clef
 * voices: common practice.
 */
const HANDBOOK: readonly (readonly [id: string, sounding: string])[] = [
  ['piccolo', 'C6'],
  ['piccolo-dflat', 'Db6'],
  ['flute', 'C5'],
  ['alto-flute', 'G4'],
  ['bass-flute', 'C4'],
  ['recorder', 'C6'],
  ['alto-recorder', 'C5'],
  ['oboe-damore', 'A4'],
  ['english-horn', 'F4'],
  ['bass-oboe', 'C4'],
  ['heckelphone', 'C4'],
  ['clarinet-aflat', 'Ab5'],
  ['clarinet-eflat', 'Eb5'],
  ['clarinet-d', 'D5'],
  ['clarinet-c', 'C5'],
  ['clarinet-bflat', 'Bb4'],
  ['clarinet-a', 'A4'],
  ['basset-horn', 'F4'],
  ['alto-clarinet', 'Eb4'],
  ['bass-clarinet', 'Bb3'],
  ['contra-alto-clarinet', 'Eb3'],
  ['contrabass-clarinet', 'Bb2'],
  ['sopranino-saxophone', 'Eb5'],
  ['soprano-saxophone', 'Bb4'],
  ['alto-saxophone', 'Eb4'],
  ['tenor-saxophone', 'Bb3'],
  ['baritone-saxophone', 'Eb3'],
  ['bass-saxophone', 'Bb2'],
  ['contrabassoon', 'C4'],
  ['horn-bflat-alto', 'Bb4'],
  ['horn-a', 'A4'],
  ['horn-g', 'G4'],
  ['horn-f', 'F4'],
  ['horn-e', 'E4'],
  ['horn-eflat', 'Eb4'],
  ['horn-d', 'D4'],
  ['horn-c', 'C4'],
  ['horn-bflat-basso', 'Bb3'],
  ['wagner-tuba-bflat', 'Bb4'],
  ['wagner-tuba-f', 'F4'],
  ['piccolo-trumpet-bflat', 'Bb5'],
  ['piccolo-trumpet-a', 'A5'],
  ['trumpet-f', 'F5'],
  ['trumpet-e', 'E5'],
  ['trumpet-eflat', 'Eb5'],
  ['trumpet-d', 'D5'],
  ['trumpet-c', 'C5'],
  ['trumpet-bflat', 'Bb4'],
  ['trumpet-a', 'A4'],
  ['bass-trumpet', 'Bb3'],
  ['cornet', 'Bb4'],
  ['soprano-cornet', 'Eb5'],
  ['flugelhorn', 'Bb4'],
  ['alto-horn', 'Eb4'],
  ['euphonium', 'C5'],
  ['euphonium-tc', 'Bb3'],
  ['eflat-bass', 'Eb3'],
  ['bflat-bass', 'Bb2'],
  ['tuba', 'C5'],
  ['glockenspiel', 'C7'],
  ['crotales', 'C7'],
  ['xylophone', 'C6'],
  ['celesta', 'C6'],
  ['classical-guitar', 'C4'],
  ['bass-guitar', 'C4'],
  ['double-bass', 'C4'],
];

const STEPS = 'CDEFGAB';
const SEMITONES = [0, 2, 4, 5, 7, 9, 11];
/** Name of the sounding pitch of written C5. */
function sounding({ diatonic, chromatic }: { diatonic: number; chromatic: number }): string {
  const step = 35 + diatonic;
  const octave = Math.floor(step / 7);
  const letter = step - octave * 7;
  const alter = 60 + chromatic - (octave * 12 + SEMITONES[letter]!);
  return `${STEPS[letter]}${alter === -1 ? 'b' : alter === 1 ? '#' : alter === 0 ? '' : '?'}${octave}`;
}

describe('the catalogue', () => {
  it('is large, and has no id twice', () => {
    expect(new Set(CATALOGUE.map(({ id }) => id)).size).toBe(CATALOGUE.length);
    expect(CATALOGUE.length).toBeGreaterThanOrEqual(250);
  });

  it.each(HANDBOOK)('%s: written C5 sounds %s', (id, pitch) => {
    expect(sounding(instrumentOf(id).transposition)).toBe(pitch);
  });

  it('transposes as a reference library does', () => {
    expect(reference.instruments.length).toBeGreaterThan(10);
    for (const { name, chromatic, diatonic } of reference.instruments) {
      const { transposition } = recogniseInstrument({ name, programs: [], channel: 0 }).instrument;
      expect([name, transposition]).toEqual([name, { chromatic, diatonic }]);
    }
  });

  it('has only sounds of the published list', () => {
    const sounds = new Set(published.sounds);
    expect(CATALOGUE.filter(({ sound }) => !sounds.has(sound)).map(({ id }) => id)).toEqual([]);
  });

  it('orders ranges, and begins them where the lowest string does', () => {
    for (const { id, lowest, comfortable, highest, tuning } of CATALOGUE) {
      const bounds = [lowest, ...comfortable, highest];
      expect([id, bounds]).toEqual([id, [...bounds].sort((a, b) => a - b)]);
      if (tuning) expect([id, Math.min(...tuning) >= lowest]).toEqual([id, true]);
    }
  });

  it('writes every comfortable note of a line within two octaves of its clefs', () => {
    // The middle lines as written pitches in staff steps above C0 (B4, D3, C4, A3, B3).
    const MIDDLE: Record<string, number> = { treble: 34, bass: 22, alto: 28, tenor: 26, treble8vb: 27 };
    for (const { id, clefs, comfortable, transposition, singleLine, family } of CATALOGUE) {
      if (!singleLine || family === 'electronic') continue;
      const middles = clefs.flat().map((clef) => MIDDLE[clef] ?? Number.NaN);
      for (const key of comfortable) {
        const written = ((key - 12 - transposition.chromatic) * 7) / 12;
        expect([id, key, middles.some((middle) => Math.abs(written - middle) <= 15)]).toEqual([
          id,
          key,
          true,
        ]);
      }
    }
  });

  it('has names in every language', () => {
    for (const { id, names } of CATALOGUE)
      for (const language of LANGUAGES) {
        const { one, many, short } = names[language];
        expect([
          id,
          language,
          [one, many, short].every((name) => name.trim() === name && name !== ''),
        ]).toEqual([id, language, true]);
      }
  });

  it('recognises each by its own names', () => {
    // A bass and a baritone sing and are blown: the program says which.
    const missed = CATALOGUE.filter(({ id, name, program }) => {
      const programs = /^(Bass|Baritone)$/.test(name) ? [program] : [];
      return recogniseInstrument({ name, programs, channel: 0 }).instrument.id !== id;
    });
    expect(missed.map(({ id }) => id)).toEqual([]);
  });

  it('takes General MIDI programs for what they are called', () => {
    // Names of the Level 1 sound set that are also names of instruments.
    const named = generalMidi.programs.flatMap((name, program) => {
      const own = CATALOGUE.find((instrument) => instrument.name.toLowerCase() === name.toLowerCase());
      return own ? [{ program, own }] : [];
    });
    expect(named.length).toBeGreaterThan(30);
    for (const { program, own } of named) {
      expect([own.id, own.program]).toEqual([own.id, program]);
      expect(instrumentOfProgram(program).id).toBe(own.id);
    }
  });
});
