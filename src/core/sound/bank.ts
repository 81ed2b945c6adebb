import {
  BasicInstrument,
  BasicPreset,
  BasicSoundBank,
  EmptySample,
  GeneratorTypes,
  SampleTypes,
} from 'spessasynth_core';
import { drumSound } from '../instruments/kit';
import { STROKES } from './percussion';
import { PROGRAMS } from './programs';
import { hertzOf, makeSample, makeStroke, type Sample } from './synthesis';
import { TIMBRES, type Timbre, type TimbreId } from './voices';

/** SoundFont 2.04 units: times in timecents, frequencies in cents above 8.176 Hz, levels in centibels. */
const timeCents = (seconds: number): number => Math.round(1200 * Math.log2(Math.max(seconds, 0.001)));
const lfoCents = (hertz: number): number => Math.round(1200 * Math.log2(hertz / 8.176));
const LONG = 20;

/** The bank that ships: all 128 programs and the percussion key map, as a SoundFont 2 file. */
export function makeBank(): ArrayBuffer {
  const bank = new BasicSoundBank('sf2');
  bank.soundBankInfo.name = 'Dragoman stand-in bank';
  const instruments = new Map<TimbreId, BasicInstrument>();
  const instrumentFor = (id: TimbreId): BasicInstrument => {
    const known = instruments.get(id);
    if (known) return known;
    const made = pitchedInstrument(bank, id, TIMBRES[id]);
    instruments.set(id, made);
    return made;
  };
  PROGRAMS.forEach(({ name, timbre, detune }, program) => {
    const preset = new BasicPreset(bank);
    preset.name = name;
    preset.program = program;
    const instrument = instrumentFor(timbre);
    for (const cents of detune === undefined ? [0] : [-detune / 2, detune / 2]) {
      const zone = preset.createZone(instrument);
      if (cents !== 0) zone.setGenerator(GeneratorTypes.fineTune, Math.round(cents));
    }
    bank.addPresets(preset);
  });
  bank.addPresets(drumPreset(bank));
  return bank.writeSF2();
}

function addSample(
  bank: BasicSoundBank,
  name: string,
  { audio, rate, key, cents, loop }: Sample,
): EmptySample {
  const sample = new EmptySample();
  sample.name = name;
  sample.setAudioData(audio, rate);
  sample.originalKey = key;
  sample.pitchCorrection = Math.round(cents);
  sample.sampleType = SampleTypes.monoSample;
  sample.loopStart = loop?.[0] ?? 0;
  sample.loopEnd = loop?.[1] ?? audio.length - 1;
  bank.addSamples(sample);
  return sample;
}

function pitchedInstrument(bank: BasicSoundBank, id: TimbreId, timbre: Timbre): BasicInstrument {
  const instrument = new BasicInstrument();
  instrument.name = id;
  const [low, high, step] = timbre.roots;
  const roots: number[] = [];
  for (let key = low; key <= high; key += step) roots.push(key);
  roots.forEach((root, index) => {
    const made = makeSample(timbre, root, timbre.attack, timbre.loop);
    const zone = instrument.createZone(addSample(bank, `${id} ${root}`, made));
    const next = roots[index + 1];
    zone.keyRange = {
      min: index === 0 ? 0 : root - Math.floor(step / 2),
      max: next === undefined ? 127 : next - Math.floor(step / 2) - 1,
    };
    zone.setGenerator(GeneratorTypes.sampleModes, 1);
    zone.setGenerator(GeneratorTypes.releaseVolEnv, timeCents(timbre.release));
    if (timbre.fadeIn) zone.setGenerator(GeneratorTypes.attackVolEnv, timeCents(timbre.fadeIn));
    if (timbre.softer) zone.setGenerator(GeneratorTypes.initialAttenuation, timbre.softer * 10);
    if (timbre.dies) {
      // Strings and bars ring longer the lower they are: twice as long two octaves down.
      const dies = timbre.dies * Math.sqrt(hertzOf(60) / hertzOf(root));
      zone.setGenerator(GeneratorTypes.decayVolEnv, timeCents(dies * 1.6));
      zone.setGenerator(GeneratorTypes.sustainVolEnv, 1000);
    }
    if (timbre.vibrato) {
      zone.setGenerator(GeneratorTypes.vibLfoToPitch, timbre.vibrato.cents);
      zone.setGenerator(GeneratorTypes.freqVibLFO, lfoCents(timbre.vibrato.hertz));
      zone.setGenerator(GeneratorTypes.delayVibLFO, timeCents(timbre.vibrato.delay));
    }
    if (timbre.tremolo) {
      zone.setGenerator(GeneratorTypes.modLfoToVolume, 40);
      zone.setGenerator(GeneratorTypes.freqModLFO, lfoCents(timbre.tremolo));
    }
  });
  bank.addInstruments(instrument);
  return instrument;
}

/** Hi-hats cut each other off, as one pair of cymbals does; so do the two of a whistle, guiro, cuica and triangle. */
const CHOKES: Readonly<Record<number, number>> = {
  42: 1,
  44: 1,
  46: 1,
  71: 2,
  72: 2,
  73: 3,
  74: 3,
  78: 4,
  79: 4,
  80: 5,
  81: 5,
};

function drumPreset(bank: BasicSoundBank): BasicPreset {
  const instrument = new BasicInstrument();
  instrument.name = 'percussion';
  for (const [text, stroke] of Object.entries(STROKES)) {
    const key = Number(text);
    const zone = instrument.createZone(addSample(bank, drumSound(key).name, makeStroke(stroke, key)));
    zone.keyRange = { min: key, max: key };
    zone.setGenerator(GeneratorTypes.overridingRootKey, key);
    zone.setGenerator(GeneratorTypes.sampleModes, 0);
    // A drum is struck, not held: its release lets it ring.
    zone.setGenerator(GeneratorTypes.releaseVolEnv, timeCents(LONG));
    const choke = CHOKES[key];
    if (choke) zone.setGenerator(GeneratorTypes.exclusiveClass, choke);
  }
  bank.addInstruments(instrument);
  const preset = new BasicPreset(bank);
  preset.name = 'Percussion';
  preset.isGMGSDrum = true;
  preset.createZone(instrument);
  return preset;
}
