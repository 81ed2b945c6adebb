import type { Pitch, Step } from '../model/pitch';
import type { NoteHead } from '../model/score';

/** How one drum sound is written on a five-line percussion staff. */
export interface DrumSound {
  /** General MIDI percussion key. */
  key: number;
  name: string;
  place: Pitch;
  head: NoteHead;
  /** Played by a foot: stems down, second voice. */
  foot: boolean;
}

const sound = (
  key: number,
  name: string,
  place: string,
  head: NoteHead = 'normal',
  foot = false,
): DrumSound => ({
  key,
  name,
  place: { step: place[0] as Step, alter: 0, octave: Number(place[1]) },
  head,
  foot,
});

/**
 * Names: General MIDI Level 1 percussion key map (35–81). Places and heads:
 * common practice for the drum set; hand percussion is laid out so that no
 * two sounds of one instrument family share a place and head.
 */
export const KIT: readonly DrumSound[] = [
  sound(35, 'Acoustic Bass Drum', 'E4', 'normal', true),
  sound(36, 'Bass Drum 1', 'F4', 'normal', true),
  sound(37, 'Side Stick', 'C5', 'x'),
  sound(38, 'Acoustic Snare', 'C5'),
  sound(39, 'Hand Clap', 'B4', 'x'),
  sound(40, 'Electric Snare', 'C5', 'diamond'),
  sound(41, 'Low Floor Tom', 'G4'),
  sound(42, 'Closed Hi-Hat', 'G5', 'x'),
  sound(43, 'High Floor Tom', 'A4'),
  sound(44, 'Pedal Hi-Hat', 'D4', 'x', true),
  sound(45, 'Low Tom', 'B4'),
  sound(46, 'Open Hi-Hat', 'G5', 'diamond'),
  sound(47, 'Low-Mid Tom', 'D5'),
  sound(48, 'Hi-Mid Tom', 'E5'),
  sound(49, 'Crash Cymbal 1', 'A5', 'x'),
  sound(50, 'High Tom', 'F5'),
  sound(51, 'Ride Cymbal 1', 'F5', 'x'),
  sound(52, 'Chinese Cymbal', 'C6', 'x'),
  sound(53, 'Ride Bell', 'F5', 'diamond'),
  sound(54, 'Tambourine', 'D5', 'x'),
  sound(55, 'Splash Cymbal', 'B5', 'x'),
  sound(56, 'Cowbell', 'E5', 'x'),
  sound(57, 'Crash Cymbal 2', 'A5', 'diamond'),
  sound(58, 'Vibraslap', 'B5', 'diamond'),
  sound(59, 'Ride Cymbal 2', 'E5', 'diamond'),
  sound(60, 'Hi Bongo', 'G5'),
  sound(61, 'Low Bongo', 'D4'),
  sound(62, 'Mute Hi Conga', 'A5'),
  sound(63, 'Open Hi Conga', 'B5'),
  sound(64, 'Low Conga', 'C6'),
  sound(65, 'High Timbale', 'D6'),
  sound(66, 'Low Timbale', 'E6'),
  sound(67, 'High Agogo', 'D6', 'x'),
  sound(68, 'Low Agogo', 'E6', 'x'),
  sound(69, 'Cabasa', 'A4', 'x'),
  sound(70, 'Maracas', 'G4', 'x'),
  sound(71, 'Short Whistle', 'D6', 'diamond'),
  sound(72, 'Long Whistle', 'E6', 'diamond'),
  sound(73, 'Short Guiro', 'F4', 'x'),
  sound(74, 'Long Guiro', 'F4', 'diamond'),
  sound(75, 'Claves', 'E4', 'x'),
  sound(76, 'Hi Wood Block', 'D5', 'diamond'),
  sound(77, 'Low Wood Block', 'B4', 'diamond'),
  sound(78, 'Mute Cuica', 'G4', 'diamond'),
  sound(79, 'Open Cuica', 'A4', 'diamond'),
  sound(80, 'Mute Triangle', 'C6', 'diamond'),
  sound(81, 'Open Triangle', 'D4', 'diamond'),
];

/** How sounds are written, by their keys. */
export type DrumLayout = (key: number) => DrumSound;

/** A kit with one bass drum has it in the lowest space, whichever of General MIDI's two it is; two share a space and a line. */
const [SECOND_KICK, KICK] = [35, 36];

/** Whether a kit's only bass drum is the one that stands below another. */
export const hasOneLowKick = (keys: Iterable<number>): boolean => {
  const all = new Set(keys);
  return all.has(SECOND_KICK) && !all.has(KICK);
};

/**
 * The usual layout with other places, heads and voices for some keys.
 *
 * @param others places as `F4`
 * @param oneLowKick its only bass drum is the one that else stands below another
 */
export const drumLayout =
  (
    others: ReadonlyMap<number, { place: string; head: NoteHead; foot: boolean }> | undefined,
    oneLowKick: boolean,
  ): DrumLayout =>
  (key) => {
    const other = others?.get(key);
    const usual = drumSound(key);
    if (other) return sound(key, usual.name, other.place, other.head, other.foot);
    return key === SECOND_KICK && oneLowKick ? { ...usual, place: drumSound(KICK).place } : usual;
  };

const BY_KEY = new Map(KIT.map((entry) => [entry.key, entry]));

/** The sound of a key; keys outside General MIDI's map are placed on the middle line and named by number. */
export const drumSound = (key: number): DrumSound =>
  BY_KEY.get(key) ?? sound(key, `Key ${key}`, 'B4', 'diamond');
