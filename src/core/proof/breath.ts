import { secondsAt } from '../model/clock';
import { tickOfMoment } from '../model/frame';
import type { Part } from '../model/score';
import type { Check, Found } from './finding';
import { eventsOf, type Sounded } from './sounded';

/** Seconds for which players go on without a breath (common practice; a breath is short, but it is one). */
const LONGEST: Partial<Record<string, number>> = { woodwind: 15, brass: 12, voice: 15 };
/** Reeds take little air (common practice). */
const OBOES = /oboe|english-horn|shawm/;
const OBOE = 30;
/** A rest in which a player can breathe, and a note that may be let go of early for it where no slur goes on: seconds. */
const BREATH = 0.12;
const LONG = 0.5;
/** Of one breath this share may still be missing before it is told. */
const LENIENT = 1.25;

/** Stretches for one player of a wind instrument, or one singer, without a place to breathe. */
export const checkBreath: Check = ({ result, sounded }) =>
  result.plans.flatMap(({ instrument, players }, part): Found[] => {
    const usual = OBOES.test(instrument.id) ? OBOE : LONGEST[instrument.family];
    // Of several players they breathe in turns.
    if (!usual || players.length > 1 || instrument.players > 1) return [];
    const { frame } = result;
    const at = (moment: number) => secondsAt(frame.clock, tickOfMoment(frame, moment));
    const found: Found[] = [];
    let from = 0;
    const own = sounded[part]!;
    const slurred = slurredOn(result.score.parts[part]!, own);
    own.forEach((each, index) => {
      const next = own[index + 1];
      const isRest = !next || at(next.start) - at(each.end) >= BREATH;
      const isLong = at(each.end) - at(each.start) >= LONG && !each.notes.some(({ id }) => slurred.has(id));
      if (!isRest && !isLong && !hasBreath(each.chord)) return;
      const first = own[from]!;
      const seconds = at(each.end) - at(first.start);
      if (seconds > LENIENT * usual)
        found.push({
          weight: 'doubtful',
          part,
          at: first.start,
          notes: eventsOf(first.notes),
          what: `${Math.round(seconds)} seconds without a place to breathe.`,
        });
      from = index + 1;
    });
    return found;
  });

/** Notes that a slur leads on from. */
function slurredOn({ spanners = [] }: Part, own: readonly Sounded[]): Set<string> {
  const index = new Map(own.flatMap(({ notes }, at) => notes.map(({ id }) => [id, at])));
  const on = new Set<string>();
  for (const { kind, from, to } of spanners) {
    if (kind !== 'slur' || !('note' in from) || !('note' in to)) continue;
    const [first, last] = [index.get(from.note), index.get(to.note)];
    if (first === undefined || last === undefined) continue;
    for (const { notes } of own.slice(first, last)) for (const { id } of notes) on.add(id);
  }
  return on;
}

const hasBreath = ({ marks }: { marks?: { kind: string }[] }): boolean =>
  marks?.some(({ kind }) => kind === 'breath' || kind === 'caesura' || kind === 'fermata') ?? false;
