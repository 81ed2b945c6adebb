import { counted } from '../basics/words';
import { diatonicHeight } from '../model/pitch';
import type { Clef } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** Heights of the middle lines (C4 is 28), of clefs that are written in. */
const MIDDLES: Partial<Record<Clef, number>> = {
  treble: 34,
  bass: 22,
  alto: 28,
  tenor: 26,
  treble8vb: 27,
  treble8va: 41,
  bass8vb: 15,
};
/** More than four ledger lines, for most of the notes of a bar, bar after bar (common practice). */
const FAR = 4 + 2 * 4;
const BARS = 2;

/** Passages far off their staff. */
export const checkClefs: Check = ({ result, sounded }) =>
  result.score.parts.flatMap((part, index): Found[] => {
    if (result.plans[index]?.instrument.unpitched || part.spanners?.some(({ kind }) => kind === 'octave'))
      return [];
    const changes = part.changes?.filter((change) => change.kind === 'clef') ?? [];
    const clefAt = (staff: number, { bar, chord }: Sounded): Clef | undefined =>
      changes.findLast(
        (change) =>
          change.staff === staff && (change.bar < bar || (change.bar === bar && change.at <= chord.onset)),
      )?.clef ?? part.clefs[staff - 1];
    const found: Found[] = [];
    for (let staff = 1; staff <= part.clefs.length; staff++) {
      const bars = new Map<number, { far: Sounded[]; all: number }>();
      for (const own of sounded[index]!) {
        if (own.staff !== staff) continue;
        const middle = MIDDLES[clefAt(staff, own) ?? 'none'];
        const bar = bars.get(own.bar) ?? { far: [], all: 0 };
        bars.set(own.bar, bar);
        bar.all++;
        if (
          middle !== undefined &&
          own.notes.some(({ pitch }) => Math.abs(diatonicHeight(pitch) - middle) > FAR)
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
        });
      }
    }
    return found;
  });
