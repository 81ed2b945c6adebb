import { describe, expect, it } from 'vitest';
import { instrumentOf, instrumentOfProgram } from './catalogue';
import { KIT } from './kit';
import { recogniseInstrument } from './recognise';

const guess = (name: string, program?: number, channel = 0) =>
  recogniseInstrument({ name, programs: program === undefined ? [] : [program], channel });

describe('names as they are found in files', () => {
  it.each([
    ['1st Vlns sus', 'violin', 1],
    ['Violin II', 'violin', 2],
    ['Tpt 2+3 harmon', 'trumpet-bflat', 2],
    ['Klarinette in B', 'clarinet-bflat', null],
    ['Clarinet in A 1', 'clarinet-a', 1],
    ['ob/ca', 'oboe', null],
    ['Cor anglais', 'english-horn', null],
    ['Horn in F 3', 'horn-f', 3],
    ['4th Horn', 'horn-f', 4],
    ['Bass Clarinet', 'bass-clarinet', null],
    ['BASS TROMBONE', 'bass-trombone', null],
    ['Bratschen', 'viola', null],
    ['VC pizz', 'cello', null],
    ['Kontrabässe', 'double-bass', null],
    ['E-Bass', 'bass-guitar', null],
    ['Bari Sax', 'baritone-saxophone', null],
    ['Arpa', 'harp', null],
    ['Röhrenglocken', 'tubular-bells', null],
    ['lead vox', 'voice', null],
  ])('%s', (name, id, number) => {
    const found = guess(name);
    expect(found.instrument.id).toBe(id);
    expect(found.number).toBe(number);
  });

  it.each([
    ['Hns 1+3', [1, 3]],
    ['Tpts 1-3', [1, 2, 3]],
    ['Corni I II', [1, 2]],
    ['4 Horns ff', [1, 2, 3, 4]],
    ['2. Violinen', [2]],
    ['3rd Horn', [3]],
    ['Zweite Geigen', [2]],
    ['Flûtes 1 et 2', [1, 2]],
    ['Clarinet in Bb 2', [2]],
    ['ViolinI_LEG_01', [1]],
    // Neither tracks nor takes, strings, feet or "both" are numbers of players.
    ['02 - Oboe', []],
    ['[3] Horns', []],
    ['Celli stacc 02', []],
    ['12-str Gtr', []],
    ["Pipe Org 8'", []],
    ['Clarinetti a2', []],
  ])('of %s the players are %j', (name, players) => {
    expect(guess(name).players).toEqual(players);
  });

  it.each([
    ['VC pizz', 'pizzicato'],
    ['1st Vlns sus', 'sustained'],
    ['Tpt 2+3 harmon', 'harmon mute'],
    ['Vln I con sord.', 'muted'],
    ['Cors bouchés', 'stopped'],
    ['Trompettes bouchées', 'muted'],
    ['Harmony 2', null],
    ['Flute 1', null],
  ])('%s is played %s', (name, technique) => {
    expect(guess(name).technique).toBe(technique);
  });

  it('weighs words that are said of anything less than a program', () => {
    expect(guess('Melody', 73).instrument.id).toBe('flute');
    expect(guess('Acc 3', 40).instrument.id).toBe('violin');
    expect(guess('Chorus Gt', 27).instrument.id).toBe('electric-guitar');
    expect(guess('Acc', 21).instrument.id).toBe('accordion');
  });

  it('takes no vibrato for a vibraphone, and no section for its instrument', () => {
    expect(guess('oboe vib sus').instrument.id).toBe('oboe');
    expect(guess('Vibes').instrument.id).toBe('vibraphone');
    expect(guess('Strings Vln 2').instrument.id).toBe('violin');
    expect(guess('PERC timp hits').instrument.id).toBe('timpani');
  });

  it('knows names shortened or misspelt, where only one instrument fits', () => {
    expect(guess('Bassklar.').instrument.id).toBe('bass-clarinet');
    expect(guess('Trombonne 2').instrument.id).toBe('trombone');
    expect(guess('Xx').confidence).toBeLessThan(0.3);
  });

  it('proposes none that cannot play the notes while another can', () => {
    const low = { notes: [36, 40, 43, 48, 55].map((key) => ({ key })) };
    const violin = recogniseInstrument({ name: '', programs: [40], channel: 0, ...low });
    expect(violin.instrument.id).toBe('cello');
    expect(violin.why).toContain('its range');
    const sax = recogniseInstrument({
      name: 'Sax',
      programs: [],
      channel: 0,
      notes: [{ key: 37 }, { key: 50 }],
    });
    expect(sax.instrument.id).toBe('baritone-saxophone');
    expect(guess('Sax').alternatives.map(({ id }) => id)).toContain('tenor-saxophone');
    // A glockenspiel stands two octaves lower in files as often as not.
    const bells = recogniseInstrument({
      name: '',
      programs: [9],
      channel: 0,
      notes: [{ key: 66 }, { key: 73 }],
    });
    expect(bells.instrument.id).toBe('glockenspiel');
  });

  it('lets the program say which guitar, saxophone or bass', () => {
    expect(guess('guitar', 29).instrument.id).toBe('electric-guitar');
    expect(guess('Sax', 66).instrument.id).toBe('tenor-saxophone');
    expect(guess('bass', 32).instrument.id).toBe('double-bass');
    expect(guess('Bass', 33).instrument.id).toBe('bass-guitar');
  });

  it('believes a name over a program', () => {
    expect(guess('Trombone 3', 65).instrument.id).toBe('trombone');
  });

  it('is unsure where only a program speaks, and more so where nothing does', () => {
    expect(guess('Track 4', 60)).toMatchObject({ instrument: instrumentOf('horn-f'), confidence: 0.5 });
    expect(guess('').confidence).toBeLessThan(0.3);
    // What programs put where no name is.
    for (const name of ['MusicXML Part', 'Instrument 3', 'Track 1', 'MIDI 07'])
      expect(guess(name).confidence).toBeLessThan(0.6);
  });

  it('takes the percussion channel for drums unless the name says which', () => {
    expect(guess('beat', 0, 9).instrument.id).toBe('drum-set');
    expect(guess('Snare Drum', 0, 9).instrument.id).toBe('snare-drum');
  });
});

describe('the catalogue', () => {
  it('has every General MIDI program', () => {
    for (let program = 0; program < 128; program++) expect(instrumentOfProgram(program)).toBeDefined();
  });
});

describe('the percussion key map', () => {
  // General MIDI Level 1 percussion key map: 47 sounds on keys 35 to 81.
  it('names every key', () => {
    expect(KIT.map((sound) => sound.key)).toEqual(Array.from({ length: 47 }, (_, index) => index + 35));
    expect(KIT.find((sound) => sound.key === 38)?.name).toBe('Acoustic Snare');
    expect(KIT.find((sound) => sound.key === 81)?.name).toBe('Open Triangle');
  });

  it('writes no two sounds of the drum set alike', () => {
    const set = KIT.filter((sound) => sound.key <= 59);
    const places = set.map((sound) => `${sound.place.step}${sound.place.octave}${sound.head}`);
    expect(places.filter((place, index) => places.indexOf(place) !== index)).toEqual([]);
  });
});

it('takes no player’s number from a mere track number', () => {
  const guess = recogniseInstrument({ name: 'Track 4', programs: [27], channel: 3 });
  expect([guess.instrument.id, guess.number]).toEqual(['electric-guitar', null]);
  expect(recogniseInstrument({ name: 'Horn 4', programs: [], channel: 3 }).number).toBe(4);
});

describe('a number below a name', () => {
  const below = (name: string, heading: string, programs: number[] = [], lowest = 60, highest = 80) =>
    recogniseInstrument({ name, heading, programs, channel: 0, lowest, highest });

  it('goes on from it', () => {
    expect(below('2.', 'Trumpet 1.')).toMatchObject({ number: 2, why: 'It is a number below “Trumpet 1.”.' });
    expect(below('2.', 'Trumpet 1.').instrument.id).toBe('trumpet-bflat');
    expect(below('III', 'Vln I').players).toEqual([3]);
    expect(below('3rd', 'Horns').players).toEqual([3]);
  });

  it('does not where the notes are none of that instrument', () => {
    expect(below('2', 'Flute 1', [32], 28, 45).instrument.id).not.toBe('flute');
  });
});

describe('a name that the notes contradict', () => {
  it('gives way, and is said with what speaks against it', () => {
    const guess = recogniseInstrument({
      name: 'Trombone',
      programs: [65],
      channel: 0,
      lowest: 74,
      highest: 86,
    });
    expect(guess.instrument.id).not.toBe('trombone');
    expect(guess.why).toMatch(/The name says Trombone, which does not have \d+ % of its notes/);
  });

  it('stands where the instrument has them', () => {
    const guess = recogniseInstrument({
      name: 'Trombone',
      programs: [65],
      channel: 0,
      lowest: 45,
      highest: 65,
    });
    expect(guess).toMatchObject({ instrument: { id: 'trombone' } });
    expect(guess.why).not.toContain('does not have');
  });
});
