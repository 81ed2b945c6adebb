import { describe, expect, it } from 'vitest';
import { chordMarkers, chordNamed } from './chord-names';

describe('names of chords', () => {
  it.each([
    ['F 7', 'F', 0, 'dominant'],
    ['C M7', 'C', 0, 'major-seventh'],
    ['Dm 7', 'D', 0, null],
    ['Dm7', 'D', 0, 'minor-seventh'],
    ['Db 7', 'D', -1, 'dominant'],
    ['F#m7b5', 'F', 1, 'half-diminished'],
    ['B♭', 'B', -1, 'major'],
    ['Hm', 'B', 0, 'minor'],
    ['Gsus4', 'G', 0, 'suspended-fourth'],
    ['E°7', 'E', 0, 'diminished-seventh'],
    ['A-7', 'A', 0, 'minor-seventh'],
  ])('%s', (text, step, alter, kind) => {
    const symbol = chordNamed(text);
    if (kind === null) expect(symbol?.kind).toBe('minor-seventh');
    else expect(symbol).toMatchObject({ root: { step, alter }, kind });
  });

  it('have a bass where they say so', () => {
    expect(chordNamed('C/E')).toMatchObject({ root: { step: 'C' }, bass: { step: 'E', alter: 0 } });
    expect(chordNamed('Am7/G')).toMatchObject({ kind: 'minor-seventh', bass: { step: 'G' } });
  });

  it('are no words, sections or rehearsal marks', () => {
    for (const text of ['Chorus 1', 'Bridge', 'Elision', 'Ending', 'A2x', 'Fine', 'Break', '', '7'])
      expect(chordNamed(text)).toBeNull();
    const at = (texts: string[]) => texts.map((text, tick) => ({ text, tick, track: 0 }));
    expect(chordMarkers(at(['A', 'B', 'C', 'D', 'E', 'F'])).chords).toEqual([]);
    const said = at(['A', 'D', 'E']).map((each) => ({ ...each, chord: true as const }));
    expect(chordMarkers(said).chords).toHaveLength(3);
    expect(chordMarkers(at(['Intro', 'Verse', 'Am', 'Chorus'])).chords).toEqual([]);
    const { chords, others } = chordMarkers(at(['C 7', 'F 7', 'C', 'G 7', 'Dm', 'Solo', 'C']));
    expect(chords).toHaveLength(6);
    expect(others.map(({ text }) => text)).toEqual(['Solo']);
  });
});
