import { counted } from '../../basics/words';
import type { PlainDirective } from '../../decisions/kinds';
import { MIXER_LANES } from '../../model/lanes';
import type { Performance, PlayedNote } from '../../model/performance';
import { listControllers } from '../controllers';
import type { Finder } from './oddity';

/** Fewer notes say nothing. */
const FEWEST = 40;
/** Notation programs place notes on whole divisions of the quarter: of 48, triplets and 32nds among them (common practice). */
const PARTS = 48;
const EXACT = 0.995;
/** They give one velocity a dynamic; played or drawn ones change after a few notes. Notes of one velocity in a row. */
const RUN = 8;
/** They set the mixer up at the front of nearly every track. */
const SET_UP = 0.8;

/**
 * A file that a notation program wrote: all on the grid, one velocity a
 * dynamic, the mixer set up at the front and again at changes. What fights a
 * sequencer's own mixer goes in one action; velocities and tempos stay.
 */
export const findNotationFile: Finder = (performance, decisions) => {
  const { strands } = performance;
  const notes = strands.reduce((sum, strand) => sum + strand.notes.length, 0);
  if (notes < FEWEST || decisions.all.controllers) return [];
  const mixers = listControllers(performance).filter((use) => use.mixer);
  const isSetUp = (id: string) => mixers.some((use) => use.strand === id && use.from.bar <= 1);
  const share = strands.filter(({ id }) => isSetUp(id)).length / strands.length;
  const runs = strands.reduce((sum, strand) => sum + runsOf(strand.notes), 0);
  if (share < SET_UP || notes / runs < RUN || exactShare(performance) < EXACT) return [];
  const count = mixers.reduce((sum, use) => sum + use.count, 0);
  const again = count - new Set(mixers.map((use) => `${use.strand} ${use.lane}`)).size;
  return [
    {
      id: 'notation',
      kind: 'notation',
      strand: null,
      place: null,
      count,
      sure: 0.9,
      harm: null,
      what: `It looks entered in a notation program, or step by step: every note is on the grid, velocity changes ${counted(runs - strands.length, 'time')} in ${counted(notes, 'note')}, and ${counted(count, 'mixer event')} set the faders${again > 0 ? `, ${again} of them again on the way` : ''}. Lead-in bars can be added in Deliver.`,
      mend: {
        label: 'Clean for a sequencer: mixer and repeated programs out, velocities and tempos kept',
        directives: [
          { kind: 'controllers', lanes: [...MIXER_LANES], use: 'remove' },
          // Where programs change, techniques do: that is a finding of its own.
          ...strands
            .filter((strand) => strand.programs.length === 1)
            .map(({ id }): PlainDirective => ({ kind: 'programs', strand: id, use: 'first' })),
        ],
      },
    },
  ];
};

/** Stretches of one velocity. */
const runsOf = (notes: readonly PlayedNote[]): number =>
  notes.filter(({ velocity }, index) => velocity !== notes[index - 1]?.velocity).length;

function exactShare({ strands, clock: { ticksPerQuarter } }: Performance): number {
  let notes = 0;
  let exact = 0;
  for (const strand of strands)
    for (const { on } of strand.notes) {
      notes++;
      if ((on * PARTS) % ticksPerQuarter === 0) exact++;
    }
  return exact / notes;
}
