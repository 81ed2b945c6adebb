import { B, C, type Instrument, P, rowsOf } from './instrument';

const row = rowsOf('electronic');

/** Electronic instruments. */
// biome-ignore format: a table, one instrument a line
export const ELECTRONIC: readonly Instrument[] = [
  row('synthesizer', 'Synthesizer/Synthesizers/Synth.|Synthesizer/Synthesizer/Synth.|Synthétiseur/Synthétiseurs/Synth.|Sintetizzatore/Sintetizzatori/Sint.|Sintetizador/Sintetizadores/Sint.', 'synth.group', 80, [[C, B]], [21, 36, 96, 108], {}, 'synth,syn,pad,synth lead,synth pad,poly synth,synthesiser,synths,syns,pads,syn pad,warm pad,saw lead,syn arp,arp synth'),
  row('synth-brass', 'Synth Brass/Synth Brass/Syn. Br.|Synthbläser/Synthbläser/Synbl.|Cuivres synthétiques|Ottoni sintetici|Metales sintéticos', 'brass.group.synth', 62, [[C, B]], [28, 40, 86, 96], {}, 'syn brass,synthbrass,brass synth'),
  row('synth-voice', 'Synth Voice/Synth Voices/Syn. Vo.|Synthstimme|Voix synthétique|Voce sintetica|Voz sintética', 'voice.synth', 54, [C], [40, 48, 84, 96], {}, 'synth vox,vocoder,voice synth,synth voices,talk box,talkbox'),
  row('synth-bass', 'Synth Bass/Synth Basses/S. Bass|Synthbass/Synthbässe/S. Bass|Basse synthétique|Basso sintetico|Bajo sintético', 'pluck.bass.synth', 38, [[B, C]], [24, 28, 60, 67], { transposes: [-7, -12] }, 'bass synth,sub bass,sub,syn bass,moog bass,moog,reese bass,808 bass,acid bass,s bass'),
  row('theremin', 'Theremin/Theremins/Ther.|Theremin/Theremine/Ther.|Thérémine/Thérémines/Thér.|Theremin/Theremin/Ther.|Theremín/Theremines/Ther.', 'synth.theremin', 80, [C], [36, 48, 88, 108], { lines: true }, ''),
  row('ondes-martenot', 'Ondes Martenot/Ondes Martenot/O. M.|Ondes Martenot/Ondes Martenot/O. M.|Ondes Martenot/Ondes Martenot/O. M.|Onde Martenot/Onde Martenot/O. M.|Ondas Martenot/Ondas Martenot/O. M.', 'keyboard.ondes-martenot', 80, [C], [24, 36, 96, 108], { lines: true }, 'ondes'),
  row('sound-effects', 'Sound Effects/Sound Effects/FX|Geräusche/Geräusche/FX|Effets sonores/Effets sonores/FX|Effetti sonori/Effetti sonori/FX|Efectos sonoros/Efectos sonoros/FX', 'synth.effects', 96, [P], [27, 27, 87, 87], { unpitched: true }, 'sfx,sound fx,sound effect,effects,noises,impacts,risers,riser,whoosh,impact'),
];
