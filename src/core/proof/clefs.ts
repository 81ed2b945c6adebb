import { counted } from '../basics/words';
import type { PartPlan } from '../cast/route';
import { CLEF_NAMES, type Clef, isPitchedClef, type PitchedClef } from '../model/clefs';
import { tickOfMoment } from '../model/frame';
import { diatonicHeight } from '../model/pitch';
import { clefAt } from '../model/score';
import { LINES } from '../notate/clefs';
import type { Check, Found, Mend } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** The height of the middle line under a clef (C4 is 28). */
const middleOf = (clef: Clef): number => (LINES[clef][0] + LINES[clef][1]) / 2;

/** More than four ledger lines, for most of the notes of a bar, bar after bar (common practice). */
const FAR = 4 + 2 * 4;
const BARS = 2;
/** Another clef is offered where notes stand less than so far from its middle, beside now (rule of thumb). */
const NEARER = 0.6;
/** Clefs that everybody reads (common practice). */
const EVERYBODYS: readonly PitchedClef[] = ['treble', 'bass'];

/** How far notes stand from the middle line of a clef, on average, in steps. */
function distance(notes: readonly Sounded[], clef: Clef): number {
  const heights = notes.flatMap((own) => own.notes.map(({ pitch }) => diatonicHeight(pitch)));
  const middle = middleOf(clef);
  return heights.reduce((sum, height) => sum + Math.abs(height - middle), 0) / heights.length;
}

/** The clef that its player reads and that brings notes nearest to the staff; null where none helps. */
function betterClef({ instrument }: PartPlan, notes: readonly Sounded[], now: Clef): PitchedClef | null {
  const choices = [...new Set([...instrument.clefs.flat(), ...EVERYBODYS])].filter(isPitchedClef);
  const far = NEARER * distance(notes, now);
  const known = choices.map((clef) => ({ clef, far: distance(notes, clef) }));
  return known.filter((each) => each.far < far).sort((a, b) => a.far - b.far)[0]?.clef ?? null;
}

/** Passages far off their staff. */
export const checkClefs: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index): Found[] => {
    const plan = result.plans[index];
    if (!plan || plan.instrument.unpitched || part.spanners?.some(({ kind }) => kind === 'octave')) return [];
    const clefOf = ({ staff, bar, chord }: Sounded): Clef => clefAt(part, staff, bar, chord.onset);
    const mendsFor = (staff: number, notes: readonly Sounded[]): Mend[] => {
      const clef = betterClef(plan, notes, clefOf(notes[0]!));
      if (!clef) return [];
      const [from, to] = [notes[0]!.start, Math.max(...notes.map(({ end }) => end))].map((moment) =>
        Math.round(tickOfMoment(result.frame, moment)),
      ) as [number, number];
      const which = staff > 1 ? { staff } : {};
      return [
        {
          label: `Write it in ${CLEF_NAMES[clef]} clef`,
          directives: [{ kind: 'clef', strand: plan.leader, clef, ...which, from, to }],
        },
      ];
    };
    const found: Found[] = [];
    for (let staff = 1; staff <= part.clefs.length; staff++) {
      const bars = new Map<number, { far: Sounded[]; all: number }>();
      for (const own of sounded[index]!) {
        if (own.staff !== staff) continue;
        const clef = clefOf(own);
        const bar = bars.get(own.bar) ?? { far: [], all: 0 };
        bars.set(own.bar, bar);
        bar.all++;
        if (
          isPitchedClef(clef) &&
          own.notes.some(({ pitch }) => Math.abs(diatonicHeight(pitch) - middleOf(clef)) > FAR)
        )
          bar.far.push(own);
      }
      const far = [...bars].filter(([, { far: own, all }]) => own.length > all / 2);
      for (let from = 0; from < far.length; ) {
        let to = from + 1;
        while (to < far.length && far[to]![0] - far[to - 1]![0] <= 1) to++;
        const stretch = far.slice(from, to);
        from = to;
        if (stretch.length < BARS) continue;
        const notes = stretch.flatMap(([, { far: own }]) => own);
        found.push({
          weight: 'remark',
          part: index,
          at: notes[0]!.start,
          notes: notes.flatMap((each) => eventsOf(each.notes)),
          about: `${staff} ${stretch[0]![0]}`,
          what: `${counted(stretch.length, 'bar')} mostly more than four ledger lines off the staff: another clef, or an octave line.`,
          mends: mendsFor(staff, notes),
        });
      }
    }
    return found;
  });
