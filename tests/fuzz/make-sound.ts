import { BasicInstrument, BasicPreset, BasicSoundBank, EmptySample } from 'spessasynth_core';
import { WaveFile } from 'wavefile';
import { type Chance, damaged } from './chance';

let bank: Uint8Array | undefined;

/** A small sound bank of one tone. */
export function makeBank(): Uint8Array {
  if (bank) return bank;
  const made = new BasicSoundBank();
  const sample = new EmptySample();
  sample.name = 'Tone';
  sample.originalKey = 69;
  sample.setAudioData(
    Float32Array.from({ length: 2000 }, (_, at) => Math.sin((2 * Math.PI * 440 * at) / 44_100) / 2),
    44_100,
  );
  made.addSamples(sample);
  const instrument = new BasicInstrument();
  instrument.name = 'Tone';
  instrument.createZone(sample);
  made.addInstruments(instrument);
  const preset = new BasicPreset(made);
  preset.name = 'Tone';
  preset.createZone(instrument);
  made.addPresets(preset);
  made.flush();
  bank = new Uint8Array(made.writeSF2());
  return bank;
}

const DEPTHS = ['8', '16', '24', '32', '32f', '64'] as const;

/** A WAV file of any form, at times with samples that are no numbers, at times damaged. */
export function makeWav(chance: Chance): Uint8Array {
  const depth = chance.pick(DEPTHS);
  const channels = chance.pick([1, 2, 1, 8]);
  const rate = chance.pick([44_100, 48_000, 8000, 22_050, 4000, 1, 192_000]);
  const length = chance.pick([0, 1, 300, 4000]);
  const isReal = depth === '32f' || depth === '64';
  const sample = () => {
    if (isReal && chance.is(0.01))
      return chance.pick([Number.NaN, Number.POSITIVE_INFINITY, -1e30, Number.NEGATIVE_INFINITY]);
    return isReal ? chance.share() - 0.5 : chance.below(200);
  };
  const file = new WaveFile();
  const data = chance.times(channels, () => chance.times(length, sample));
  file.fromScratch(channels, rate, depth, channels === 1 ? data[0]! : data);
  const bytes = new Uint8Array(file.toBuffer());
  return chance.is(0.4) ? damaged(bytes, chance) : bytes;
}
