import type { ChordMark, Mark, Spanner } from '../model/marks';
import type { Chord, Part } from '../model/score';
import { isDynamicWord } from './dynamics';
import { ornamentOf } from './ornaments';
import { isPlayerWord, playerCount } from './players';
import type { PerformSettings } from './settings';
import { isTechniqueWord, techniqueOfMark } from './techniques';
import { isTempoWord } from './tempo';

/** What became of the marks of a score: how many sound and as what, and how many are not played out, by name. */
export class MarkCount {
  readonly became = new Map<string, { count: number; as: string }>();
  readonly silent = new Map<string, number>();

  constructor(private readonly settings: PerformSettings) {}

  private sounds(kind: string, as: string): void {
    const known = this.became.get(kind);
    this.became.set(kind, { count: (known?.count ?? 0) + 1, as });
  }

  private isSilent(name: string): void {
    this.silent.set(name, (this.silent.get(name) ?? 0) + 1);
  }

  /** It sounds as something, if that is asked for. */
  private put(isPlayed: boolean, kind: string, as: string): void {
    if (isPlayed) this.sounds(kind, as);
    else this.isSilent(kind);
  }

  countPart(part: Part): void {
    const hasPlayers = playerCount(part) > 1;
    for (const bar of part.bars) {
      for (const mark of bar.marks ?? []) this.countMark(mark, hasPlayers);
      for (const line of bar.voices)
        for (const item of line.items) if (item.kind === 'chord' && !item.cue) this.countChord(item);
    }
    for (const spanner of part.spanners ?? []) this.countSpanner(spanner);
  }

  private loudness(): { isPlayed: boolean; as: string } {
    const { dynamics } = this.settings;
    const as = { velocity: 'velocity', both: 'velocity and curve', curve: 'curve', none: '' }[dynamics];
    return { isPlayed: dynamics !== 'none', as };
  }

  private countMark(mark: Mark, hasPlayers: boolean): void {
    const loud = this.loudness();
    if (mark.kind === 'dynamic') this.put(loud.isPlayed, 'dynamic', loud.as);
    else if (mark.kind === 'tempo') this.sounds('tempo', 'tempo');
    else if (mark.kind === 'words') {
      const { text } = mark;
      if (isDynamicWord(text)) this.put(loud.isPlayed, 'cresc. and dim.', loud.as);
      else if (isTempoWord(text)) this.put(this.settings.gradual, 'rit. and accel.', 'tempo');
      else if (hasPlayers && isPlayerWord(text)) this.sounds('players', 'tracks, when asked for');
      else if (isTechniqueWord(text)) this.sounds('technique', 'tracks, when asked for');
      else this.isSilent('words');
    }
  }

  private countChord({ marks = [], graces = [], gracesAfter = [] }: Chord): void {
    const { graces: isGraced } = this.settings;
    for (const _ of [...graces, ...gracesAfter]) this.put(isGraced, 'grace note', 'a 32nd before');
    for (const mark of marks) this.countChordMark(mark);
  }

  private countChordMark(mark: ChordMark): void {
    const { articulation, ornaments, fermatas } = this.settings;
    if (mark.kind === 'fermata') this.put(fermatas, 'fermata', 'slower tempo');
    else if (mark.kind === 'breath' || mark.kind === 'caesura') this.put(articulation, mark.kind, 'length');
    else if (mark.kind === 'articulation' && SHORTENED.has(mark.name))
      this.put(articulation, mark.name, 'length');
    else if (mark.kind === 'articulation' && LOUDER.has(mark.name))
      this.put(articulation, mark.name, 'velocity');
    else if (mark.kind === 'ornament' && ornamentOf([mark])) this.put(ornaments, mark.name, 'notes');
    else if (mark.kind === 'tremolo' || mark.kind === 'arpeggio') this.put(ornaments, mark.kind, 'notes');
    else if (techniqueOfMark(mark)) this.sounds('technique', 'tracks, when asked for');
    else this.isSilent('name' in mark ? mark.name : mark.kind);
  }

  private countSpanner({ kind }: Spanner): void {
    const loud = this.loudness();
    if (kind === 'wedge') this.put(loud.isPlayed, 'hairpin', loud.as);
    else if (kind === 'octave') this.sounds('octave line', 'sounding pitch');
    else if (kind === 'slur') this.put(this.settings.slurOverlap > 0, 'slur', 'overlap');
    else if (kind === 'pedal') this.put(this.settings.pedal, 'pedal', 'controller 64');
    else if (kind === 'glissando') this.put(this.settings.glides, kind, 'notes');
    else if (kind === 'slide') this.put(this.settings.glides, kind, 'pitch bend');
    else this.isSilent(kind);
  }
}

const SHORTENED = new Set(['staccato', 'staccatissimo', 'spiccato', 'detached-legato', 'tenuto']);
const LOUDER = new Set(['accent', 'strong-accent', 'soft-accent', 'stress', 'unstress']);
