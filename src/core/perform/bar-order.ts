import { MOST_BARS } from '../model/clock';
import type { Bar } from '../model/score';
import type { Moment, Span } from '../model/time';

/** One bar as it is played. Moments from the start of the bar, in units. */
export interface PlayedBar {
  bar: number;
  /** Played from and up to here; the whole bar unless a jump leaves or enters in its middle. */
  from: Moment;
  to: Moment;
  /** How often it was played before. */
  pass: number;
}

/** An ending over bars, with the times that it is played at. */
interface Ending {
  from: number;
  to: number;
  numbers: readonly number[];
}

function endingsOf(bars: readonly Bar[]): Ending[] {
  const endings: Ending[] = [];
  let open: { from: number; numbers: readonly number[] } | null = null;
  bars.forEach((bar, index) => {
    const begins = bar.left?.ending?.type === 'start' ? bar.left.ending : undefined;
    if (begins) {
      if (open) endings.push({ ...open, to: index - 1 });
      open = { from: index, numbers: begins.numbers };
    }
    const ends = bar.right?.ending;
    if (ends && ends.type !== 'start' && open) {
      endings.push({ ...open, to: index });
      open = null;
    }
  });
  if (open) endings.push({ ...(open as { from: number; numbers: number[] }), to: bars.length - 1 });
  return endings;
}

/**
 * The bars in the order in which they are played (rules: MusicXML 4.0, `repeat`,
 * `ending` and `sound`; engraving handbooks agree): a section is played twice, or
 * as often as it says, from its forward repeat or the end of the one before;
 * endings are entered at their times; D.C. and D.S. are obeyed once, after all
 * repeats of their place; after them no section is repeated, of endings the last
 * is played, Fine ends the piece, and To Coda leads to the coda (common practice). Repeats that would go on for
 * more than `MOST_BARS` end there, as everything does.
 */
export function playedOrder(bars: readonly Bar[]): PlayedBar[] {
  const endings = endingsOf(bars);
  const endingAt = (bar: number) => endings.find((each) => bar >= each.from && bar <= each.to);
  const placeOf = (kind: 'segno' | 'coda') => {
    const bar = bars.findIndex((each) => each.jumps?.some((jump) => jump.kind === kind));
    const at = bars[bar]?.jumps?.find((jump) => jump.kind === kind)?.at ?? 0;
    // A sign at the end of a bar stands for the next one.
    return bar < 0 ? null : at >= bars[bar]!.length ? { bar: bar + 1, at: 0 } : { bar, at };
  };
  const nextOf = (kind: Leave['kind'], from: number): { bar: number; at: Moment } => {
    if (kind === 'da-capo') return { bar: 0, at: 0 };
    const to = placeOf(kind === 'to-coda' ? 'coda' : 'segno');
    // A sign that is not there: from the start for D.S.; without a coda further on, straight on.
    if (kind === 'dal-segno') return to ?? { bar: 0, at: 0 };
    return to && to.bar > from ? to : { bar: from + 1, at: 0 };
  };
  const played: PlayedBar[] = [];
  const passes = new Map<number, number>();
  const done = new Map<number, number>();
  const obeyed = new Set<number>();
  let back = 0;
  let time = 1;
  let jumped = false;
  let index = 0;
  let entered: Moment = 0;
  while (index < bars.length && played.length < MOST_BARS) {
    const bar = bars[index]!;
    if (bar.left?.repeat?.direction === 'forward' && back !== index) {
      back = index;
      time = 1;
    }
    const ending = endingAt(index);
    if (ending && ending.from === index && !isMeant(ending, endings, time, jumped)) {
      index = ending.to + 1;
      continue;
    }
    const leave = leaveOf(bar, entered, jumped, !obeyed.has(index));
    const repeat = bar.right?.repeat?.direction === 'backward' ? bar.right.repeat : undefined;
    const isAgain =
      repeat !== undefined && !jumped && (done.get(index) ?? 0) + 1 < timesOf(repeat.times, ending);
    // A jump waits until its section has been repeated.
    const takes =
      leave && !(isAgain && (leave.kind === 'da-capo' || leave.kind === 'dal-segno')) ? leave : null;
    played.push({ bar: index, from: entered, to: takes?.at ?? bar.length, pass: passes.get(index) ?? 0 });
    passes.set(index, (passes.get(index) ?? 0) + 1);
    entered = 0;
    if (takes?.kind === 'fine') break;
    if (takes) {
      obeyed.add(index);
      if (takes.kind !== 'to-coda') jumped = true;
      const next = nextOf(takes.kind, index);
      index = next.bar;
      entered = next.at;
      back = index;
      time = 1;
      continue;
    }
    if (isAgain) {
      done.set(index, (done.get(index) ?? 0) + 1);
      index = back;
      time++;
      continue;
    }
    if (repeat) {
      // The next section begins here, unless endings of this one follow.
      const follows = endingAt(index + 1);
      if (!follows || follows.from !== index + 1 || !ending) {
        back = index + 1;
        time = 1;
      }
    }
    index++;
  }
  return played;
}

/** Nobody plays a section more often (common practice: vamps are open, and have no number). */
export const MOST_TIMES = 99;

/** A repeat inside an ending is played as often as that ending is entered, where it does not say. */
const timesOf = (times: number | undefined, ending: Ending | undefined): number =>
  Math.min(MOST_TIMES, ending ? Math.max(2, ...ending.numbers.map((number) => number + 1)) : (times ?? 2));

function isMeant(ending: Ending, all: readonly Ending[], time: number, jumped: boolean): boolean {
  if (!jumped) return ending.numbers.length === 0 || ending.numbers.includes(time);
  // After a jump the last of endings that stand together.
  return !all.some((each) => each.from === ending.to + 1);
}

interface Leave {
  kind: 'fine' | 'to-coda' | 'da-capo' | 'dal-segno';
  at: Span;
}

/** Where the order leaves a bar, if it does; moments from its start. */
function leaveOf(bar: Bar, from: Moment, jumped: boolean, mayJump: boolean): Leave | null {
  const leaves = (bar.jumps ?? [])
    .flatMap(({ kind, at }): Leave[] => {
      if (kind === 'segno' || kind === 'coda') return [];
      const isOpen = kind === 'fine' ? jumped : kind === 'to-coda' ? jumped && mayJump : mayJump;
      // What is said at the start of a bar is meant at its end, as words are set to the right of the line.
      return isOpen ? [{ kind, at: at > 0 ? at : bar.length }] : [];
    })
    .filter(({ at }) => at > from)
    .sort((a, b) => a.at - b.at);
  return leaves[0] ?? null;
}
