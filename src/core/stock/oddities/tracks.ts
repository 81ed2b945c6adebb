import { counted } from '../../basics/words';
import { type StrandId, spelledStrand, trackId } from '../../model/ids';
import { MIXER_LANES } from '../../model/lanes';
import type { NoteFreeTrack } from '../../model/performance';
import { listControllers } from '../controllers';
import { findDoubles } from '../doubles';
import { findEchoes } from '../echoes';
import type { Finder, Oddity } from './oddity';

/** Strands that were most likely copied to thicken the sound. */
export const findCopies: Finder = (performance, decisions) => {
  const nameOf = (id: StrandId) =>
    performance.strands.find((strand) => strand.id === id)?.name || spelledStrand(id);
  const isOut = (id: StrandId) => decisions.strands.get(id)?.out === true;
  return findDoubles(performance)
    .filter((double) => double.copied && double.whole && !isOut(double.strand) && !isOut(double.of))
    .map((double): Oddity => {
      const count = performance.strands.find((strand) => strand.id === double.strand)!.notes.length;
      const octaves = Math.abs(double.shift) / 12;
      const where =
        octaves === 0 ? 'in unison' : `${counted(octaves, 'octave')} ${double.shift > 0 ? 'up' : 'down'}`;
      return {
        id: `doubled ${double.strand}`,
        kind: 'doubled',
        strand: double.strand,
        place: null,
        count,
        sure: double.shift === 0 ? double.share : 0.9 * double.share,
        harm: { takes: 'notes', notes: count },
        what: `Doubles “${nameOf(double.of)}” ${where}. ${double.why}`,
        mend: {
          label: 'Leave it out',
          directives: [{ kind: 'leave-out', strand: double.strand, out: true }],
        },
      };
    });
};

/** Strands that repeat another one a moment later: an effect, not a part. */
export const findEchoing: Finder = (performance, decisions) => {
  const nameOf = (id: StrandId) =>
    performance.strands.find((strand) => strand.id === id)?.name || spelledStrand(id);
  return findEchoes(performance)
    .filter((echo) => !decisions.strands.get(echo.of)?.out)
    .map(
      ({ strand, of, later, share }): Oddity => ({
        id: `echo ${strand}`,
        kind: 'echo',
        strand,
        place: null,
        count: performance.strands.find((each) => each.id === strand)!.notes.length,
        sure: 0.9 * share,
        harm: { takes: 'notes', notes: performance.strands.find((each) => each.id === strand)!.notes.length },
        what: `Repeats “${nameOf(of)}” ${Math.round(1000 * later)} ms later in ${Math.round(100 * share)} % of its notes: an echo for the ear, which nobody plays.`,
        mend: {
          label: 'Leave it out',
          directives: [{ kind: 'leave-out', strand, out: true }],
        },
      }),
    );
};

const NOUNS: Record<keyof NoteFreeTrack['carries'], string> = {
  tempos: 'tempo',
  meters: 'meter',
  keys: 'key',
  markers: 'marker',
  lyrics: 'lyric',
  texts: 'text',
  controllers: 'controller',
  sysex: 'system message',
};

/** What a track without notes carries, in words; empty for nothing. */
export const carriedText = (carries: NoteFreeTrack['carries']): string =>
  (Object.keys(NOUNS) as (keyof typeof NOUNS)[])
    .filter((kind) => carries[kind] > 0)
    .map((kind) => counted(carries[kind], NOUNS[kind]))
    .join(', ');

/** Tracks without notes that carry nothing of the clock. */
export const findEmptyTracks: Finder = ({ noteFree, source }, decisions) =>
  noteFree.flatMap(({ track, name, carries }): Oddity[] => {
    const id = trackId(source, track);
    const useful = carries.tempos + carries.meters + carries.keys + carries.markers + carries.lyrics;
    if (useful > 0 || decisions.strands.get(id)?.out) return [];
    const rest = Object.entries(carries).filter(([, count]) => count > 0);
    return [
      {
        id: `empty-track ${id}`,
        kind: 'empty-track',
        strand: id,
        place: null,
        count: rest.reduce((sum, [, count]) => sum + count, 0),
        sure: 1,
        harm: null,
        what: `Track ${track + 1}${name && ` “${name}”`} has no notes${
          rest.length > 0 ? `, only ${carriedText(carries)}` : ''
        }.`,
        mend: { label: 'Leave it out', directives: [{ kind: 'leave-out', strand: id, out: true }] },
      },
    ];
  });

/** Controllers that will move the faders of whoever receives the file. */
export const findMixers: Finder = (performance, decisions) => {
  const uses = listControllers(performance).filter((use) => use.mixer);
  return performance.strands.flatMap((strand): Oddity[] => {
    const own = uses.filter((use) => use.strand === strand.id);
    if (own.length === 0 || decisions.strands.get(strand.id)?.out) return [];
    const count = own.reduce((sum, use) => sum + use.count, 0);
    const again = own.some((use) => use.count > 1);
    return [
      {
        id: `mixer ${strand.id}`,
        kind: 'mixer',
        strand: strand.id,
        place: own[0]!.from,
        count,
        sure: 1,
        harm: null,
        what: `${own.map((use) => `${use.name} ×${use.count}`).join(', ')}${again ? ': set again later, so faders jump' : ''}.`,
        mend: {
          label: 'Remove',
          directives: [{ kind: 'controllers', strand: strand.id, lanes: [...MIXER_LANES], use: 'remove' }],
        },
      },
    ];
  });
};
