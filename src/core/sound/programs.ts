import type { TimbreId } from './voices';

/** One program: its General MIDI name, its timbre, and a detuned second layer in cents where it has one. */
export interface Program {
  name: string;
  timbre: TimbreId;
  detune?: number;
}

// biome-ignore format: a table, a group of eight a block
/** The General MIDI Level 1 sound set (RP-003): names as published, from memory; checked in the tests against a library. */
const TABLE: readonly [name: string, timbre: TimbreId, detune?: number][] = [
  ['Acoustic Grand Piano', 'piano'], ['Bright Acoustic Piano', 'piano'], ['Electric Grand Piano', 'piano'], ['Honky-tonk Piano', 'piano', 12],
  ['Electric Piano 1', 'tines'], ['Electric Piano 2', 'tines', 6], ['Harpsichord', 'harpsichord'], ['Clavi', 'clav'],
  ['Celesta', 'celesta'], ['Glockenspiel', 'glockenspiel'], ['Music Box', 'celesta'], ['Vibraphone', 'vibraphone'],
  ['Marimba', 'marimba'], ['Xylophone', 'xylophone'], ['Tubular Bells', 'tubular'], ['Dulcimer', 'dulcimer'],
  ['Drawbar Organ', 'drawbars'], ['Percussive Organ', 'percussiveOrgan'], ['Rock Organ', 'rockOrgan'], ['Church Organ', 'churchOrgan'],
  ['Reed Organ', 'reedOrgan'], ['Accordion', 'accordion'], ['Harmonica', 'harmonica'], ['Tango Accordion', 'accordion', 8],
  ['Acoustic Guitar (nylon)', 'nylon'], ['Acoustic Guitar (steel)', 'steel'], ['Electric Guitar (jazz)', 'jazzGuitar'], ['Electric Guitar (clean)', 'cleanGuitar'],
  ['Electric Guitar (muted)', 'mutedGuitar'], ['Overdriven Guitar', 'overdriven'], ['Distortion Guitar', 'distorted'], ['Guitar Harmonics', 'harmonics'],
  ['Acoustic Bass', 'doubleBass'], ['Electric Bass (finger)', 'fingeredBass'], ['Electric Bass (pick)', 'pickedBass'], ['Fretless Bass', 'fretless'],
  ['Slap Bass 1', 'slapBass'], ['Slap Bass 2', 'slapBass', 5], ['Synth Bass 1', 'synthBass'], ['Synth Bass 2', 'squareBass'],
  ['Violin', 'violin'], ['Viola', 'viola'], ['Cello', 'cello'], ['Contrabass', 'contrabass'],
  ['Tremolo Strings', 'tremolo'], ['Pizzicato Strings', 'pizzicato'], ['Orchestral Harp', 'harp'], ['Timpani', 'timpani'],
  ['String Ensemble 1', 'ensemble'], ['String Ensemble 2', 'slowEnsemble'], ['SynthStrings 1', 'synthStrings'], ['SynthStrings 2', 'synthStrings', 10],
  ['Choir Aahs', 'aah'], ['Voice Oohs', 'ooh'], ['Synth Voice', 'synthVoice'], ['Orchestra Hit', 'hit'],
  ['Trumpet', 'trumpet'], ['Trombone', 'trombone'], ['Tuba', 'tuba'], ['Muted Trumpet', 'mutedTrumpet'],
  ['French Horn', 'horn'], ['Brass Section', 'brassSection'], ['SynthBrass 1', 'synthBrass'], ['SynthBrass 2', 'synthBrass', 9],
  ['Soprano Sax', 'sopranoSax'], ['Alto Sax', 'altoSax'], ['Tenor Sax', 'tenorSax'], ['Baritone Sax', 'baritoneSax'],
  ['Oboe', 'oboe'], ['English Horn', 'englishHorn'], ['Bassoon', 'bassoon'], ['Clarinet', 'clarinet'],
  ['Piccolo', 'piccolo'], ['Flute', 'flute'], ['Recorder', 'recorder'], ['Pan Flute', 'panPipe'],
  ['Blown Bottle', 'bottle'], ['Shakuhachi', 'shakuhachi'], ['Whistle', 'whistle'], ['Ocarina', 'ocarina'],
  ['Lead 1 (square)', 'squareLead'], ['Lead 2 (sawtooth)', 'sawLead'], ['Lead 3 (calliope)', 'calliope'], ['Lead 4 (chiff)', 'chiff'],
  ['Lead 5 (charang)', 'charang'], ['Lead 6 (voice)', 'synthVoice'], ['Lead 7 (fifths)', 'fifths'], ['Lead 8 (bass + lead)', 'bassLead'],
  ['Pad 1 (new age)', 'crystal', 8], ['Pad 2 (warm)', 'warmPad'], ['Pad 3 (polysynth)', 'brightPad'], ['Pad 4 (choir)', 'aah', 8],
  ['Pad 5 (bowed)', 'bowedPad'], ['Pad 6 (metallic)', 'metalPad'], ['Pad 7 (halo)', 'airPad'], ['Pad 8 (sweep)', 'brightPad', 10],
  ['FX 1 (rain)', 'crystal'], ['FX 2 (soundtrack)', 'warmPad', 14], ['FX 3 (crystal)', 'crystal', 4], ['FX 4 (atmosphere)', 'harmonics', 9],
  ['FX 5 (brightness)', 'metalPad'], ['FX 6 (goblins)', 'airPad', 16], ['FX 7 (echoes)', 'bowedPad', 12], ['FX 8 (sci-fi)', 'metalPad', 14],
  ['Sitar', 'sitar'], ['Banjo', 'banjo'], ['Shamisen', 'banjo'], ['Koto', 'koto'],
  ['Kalimba', 'kalimba'], ['Bag pipe', 'bagpipe'], ['Fiddle', 'violin'], ['Shanai', 'shanai'],
  ['Tinkle Bell', 'tinkle'], ['Agogo', 'agogo'], ['Steel Drums', 'steelDrum'], ['Woodblock', 'wood'],
  ['Taiko Drum', 'taiko'], ['Melodic Tom', 'taiko'], ['Synth Drum', 'synthDrum'], ['Reverse Cymbal', 'wind'],
  ['Guitar Fret Noise', 'rattle'], ['Breath Noise', 'wind'], ['Seashore', 'wind'], ['Bird Tweet', 'chirp'],
  ['Telephone Ring', 'chirp'], ['Helicopter', 'chopper'], ['Applause', 'wind'], ['Gunshot', 'rattle'],
];

export const PROGRAMS: readonly Program[] = TABLE.map(([name, timbre, detune]) => ({
  name,
  timbre,
  ...(detune !== undefined && { detune }),
}));
