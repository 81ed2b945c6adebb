/**
 * How well marks are read back from playing: `npm run bench:marks`.
 *
 * Data: works.json and marks.json (scripts/rhythm-facts.py, scripts/marks-facts.py),
 * public-domain works. Printed: the dynamics of their scores. Made: seeded
 * dynamics and hairpins over the same notes, a plan for the piece and some of
 * each part's own, since few of those scores have hairpins. Both are performed
 * by a seeded player in three depths (velocities between neighbouring dynamics):
 * every part has its middle, phrases swell a little, first beats are louder,
 * every attack is off by some. Every other work was tuned on; the table is of
 * the rest (HALF=tune for the tuned half, SEED another player). Beside it a plain rule:
 * the mean of every two bars, as the nearest dynamic.
 *
 * A dynamic is right where one is printed within four quarter notes, of the same level
 * or a neighbour; a hairpin where it shares more than half with one of its kind.
 */
import { seeded } from '../src/core/basics/random';
import { finished } from '../src/core/basics/steps';
import { type DynamicStep, type Hairpin, readDynamics } from '../src/core/infer/marks/dynamics';
import { loudnessOf } from '../src/core/infer/marks/loudness';
import { alongWith, ensembleOf, tuttiOf } from '../src/core/infer/marks/tutti';
import type { EventId } from '../src/core/model/ids';
import { VELOCITIES } from '../src/core/model/marks';
import type { Bar } from '../src/core/model/score';
import type { SketchNote } from '../src/core/model/sketch';
import { QUARTER } from '../src/core/model/time';
import facts from './marks.json';
import { loadWorks, type TrueNote, type Work } from './rhythm/works';

const NAMES = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'];
/** How far a dynamic may stand from the printed one, in quarter notes. */
const BAR = 4;
const DEPTHS = [6, 10, 15];
const half = process.env.HALF === 'tune' ? 0 : 1;
const seed = Number(process.env.SEED ?? 1);
const works = loadWorks().filter(
  (work, index) => index % 2 === half && work.name.includes(process.env.WORK ?? ''),
);
type Staff = { dynamics: [number, string][]; hairpins: [number, number, number][] };
const printed = facts as unknown as Record<string, Staff[]>;

/** What a part is asked to do: levels (0–7) from moments on, and hairpins, in quarter notes. */
interface Plan {
  levels: { at: number; level: number }[];
  hairpins: { from: number; to: number; opens: boolean }[];
  sudden: number[];
}

const barsOf = (work: Work): Bar[] =>
  work.bars.map((bar, index) => {
    const full = (4 * QUARTER * bar.numerator) / bar.denominator;
    return {
      index,
      start: bar.start,
      length: bar.length,
      missing: index === 0 && bar.length < full ? full - bar.length : 0,
      meter: { numerator: bar.numerator, denominator: bar.denominator },
      groups: [full],
      number: String(index),
    } as unknown as Bar;
  });

const endOf = (work: Work) =>
  Math.max(...work.parts.flatMap(({ notes }) => notes.map(({ end }) => end))) / QUARTER;

/** The printed plan of each part; of several staves the first that has one. */
function printedPlans(work: Work): (Plan | null)[] {
  let at = 0;
  return work.parts.map((part) => {
    const staves = printed[work.name]!.slice(at, at + part.staves);
    at += part.staves;
    const staff = staves.find(({ dynamics }) => dynamics.length > 1);
    if (!staff) return null;
    const levels = staff.dynamics.flatMap(([quarter, name]) => {
      const level = NAMES.indexOf(name === 'fp' ? 'p' : name);
      return level < 0 ? [] : [{ at: quarter, level }];
    });
    return {
      levels,
      hairpins: staves.flatMap(({ hairpins }) =>
        hairpins.map(([from, to, kind]) => ({ from, to, opens: kind > 0 })),
      ),
      sudden: staff.dynamics.flatMap(([quarter, name]) =>
        (/^s?fz?p?$/.test(name) && name.startsWith('s')) || name === 'fp' ? [quarter] : [],
      ),
    };
  });
}

/** A made plan over the bars of a work. */
function madePlan(work: Work, random: () => number): Plan {
  const plan: Plan = { levels: [], hairpins: [], sudden: [] };
  let level = 2 + Math.floor(random() * 4);
  plan.levels.push({ at: work.bars[0]!.start / QUARTER, level });
  for (
    let bar = 2 + Math.floor(random() * 4);
    bar < work.bars.length - 1;
    bar += 2 + Math.floor(random() * 5)
  ) {
    const goal = Math.min(6, Math.max(1, level + (random() < 0.5 ? -1 : 1) * (1 + Math.floor(random() * 3))));
    if (goal === level) continue;
    const at = work.bars[bar]!.start / QUARTER;
    if (random() < 0.5) {
      const to =
        work.bars[Math.min(work.bars.length - 1, bar + 1 + Math.floor(random() * 2))]!.start / QUARTER;
      if (to > at) {
        plan.hairpins.push({ from: at, to, opens: goal > level });
        plan.levels.push({ at: to, level: goal });
        bar += 1;
      }
    } else plan.levels.push({ at, level: goal });
    level = goal;
  }
  return plan;
}

/** The level asked for at a moment, hairpins as straight lines to what follows them. */
function levelAt({ levels, hairpins }: Plan, at: number): number {
  const base = levels.findLast((each) => each.at <= at + 1e-6)?.level ?? levels[0]?.level ?? 4;
  const hairpin = hairpins.find(({ from, to }) => at >= from && at < to);
  if (!hairpin) return base;
  const start = levels.findLast((each) => each.at <= hairpin.from + 1e-6)?.level ?? base;
  const goal = levels.find((each) => Math.abs(each.at - hairpin.to) < 1.01)?.level;
  const end =
    goal !== undefined && goal > start === hairpin.opens && goal !== start
      ? goal
      : start + (hairpin.opens ? 1 : -1);
  return start + ((end - start) * (at - hairpin.from)) / (hairpin.to - hairpin.from);
}

function perform(
  notes: readonly TrueNote[],
  plan: Plan,
  bars: readonly Bar[],
  depth: number,
  random: () => number,
): SketchNote[] {
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const middle = 68 + 24 * random();
  const swell = 0.35 * random();
  const beat = 5 * random();
  const byAttack = new Map<number, number>();
  return notes
    .filter(({ grace }) => !grace)
    .map((note, index): SketchNote => {
      const at = note.start / QUARTER;
      const attack = byAttack.get(note.start) ?? 2.5 * normal();
      byAttack.set(note.start, attack);
      const isFirst = bars.some(({ start }) => start === note.start);
      const level = levelAt(plan, at) + swell * Math.sin((2 * Math.PI * at) / 16);
      const velocity =
        middle +
        depth * (level - 3.5) +
        attack +
        normal() +
        (isFirst ? beat : 0) +
        (plan.sudden.some((each) => Math.abs(each - at) < 0.01) ? 22 : 0);
      const id = `0/${index}` as EventId;
      return {
        id,
        key: note.key,
        velocity: Math.round(Math.min(127, Math.max(1, velocity))),
        on: Math.round(480 * at),
        off: Math.round((480 * note.end) / QUARTER),
        strike: { strand: 0, tick: 0, held: 1, key: note.key },
        at: note.start,
        until: note.end,
        literal: undefined,
        start: note.start,
        end: note.end,
        staff: note.staff,
        voice: note.voice,
        sources: [id],
      };
    });
}

const counts = () => ({
  offered: 0,
  right: 0,
  asked: 0,
  found: 0,
  pins: 0,
  pinsRight: 0,
  pinsAsked: 0,
  pinsFound: 0,
  plain: 0,
  plainRight: 0,
  plainFound: 0,
});
type Counts = ReturnType<typeof counts>;
const isNear = (a: number, b: number) => Math.abs(a - b) <= 1;

/** Dynamics that change what holds, and the first. */
const changesOf = ({ levels }: Plan) =>
  levels.filter(({ level }, at) => at === 0 || level !== levels[at - 1]!.level);

function judge(
  plan: Plan,
  steps: readonly { at: number; level: number }[],
  into: Counts,
  names: ['offered', 'right', 'found'] | ['plain', 'plainRight', 'plainFound'],
): void {
  for (const step of steps) {
    into[names[0]]++;
    if (plan.levels.some(({ at, level }) => Math.abs(at - step.at) <= BAR && isNear(level, step.level)))
      into[names[1]]++;
  }
  for (const asked of changesOf(plan)) {
    if (steps.some(({ at, level }) => Math.abs(at - asked.at) <= BAR && isNear(level, asked.level)))
      into[names[2]]++;
  }
}

const shared = (a: { from: number; to: number }, b: { from: number; to: number }) =>
  Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from)) /
  (Math.max(a.to, b.to) - Math.min(a.from, b.from));

function measure(
  steps: readonly DynamicStep[],
  hairpins: readonly Hairpin[],
  notes: readonly SketchNote[],
  plan: Plan,
  bars: readonly Bar[],
  end: number,
  into: Counts,
): void {
  if (process.env.SHOW)
    console.log(
      'asked',
      changesOf(plan)
        .map(({ at, level }) => `${at} ${NAMES[level]}`)
        .join(', '),
      '|',
      plan.hairpins.map(({ from, to, opens }) => `${from}${opens ? '<' : '>'}${to}`).join(' '),
      '\nread ',
      steps.map(({ at, dynamic, heard }) => `${at / QUARTER} ${dynamic} ${heard.toFixed(0)}`).join(', '),
      '|',
      hairpins
        .map(
          ({ from, to, opens, heard, margin }) =>
            `${from / QUARTER}${opens ? '<' : '>'}${to / QUARTER} ${heard.map(Math.round)} m${margin.toFixed(0)}`,
        )
        .join(' '),
    );
  judge(
    plan,
    steps
      .filter((step) => isTold(step))
      .map(({ at, dynamic }) => ({ at: at / QUARTER, level: NAMES.indexOf(dynamic) })),
    into,
    ['offered', 'right', 'found'],
  );
  into.asked += changesOf(plan).length;
  const pins = hairpins.map((each: Hairpin) => ({
    from: each.from / QUARTER,
    to: each.to / QUARTER,
    opens: each.opens,
  }));
  for (const pin of pins) {
    into.pins++;
    if (plan.hairpins.some((each) => each.opens === pin.opens && shared(each, pin) > 0.5)) into.pinsRight++;
    else if (process.env.SHOW) console.log('no hairpin', pin.from, pin.to, pin.opens);
  }
  for (const asked of plan.hairpins) {
    into.pinsAsked++;
    if (pins.some((each) => each.opens === asked.opens && shared(each, asked) > 0.5)) into.pinsFound++;
  }
  // The plain rule: every two bars by themselves.
  const plain: { at: number; level: number }[] = [];
  for (let bar = 0; bar < bars.length; bar += 2) {
    const from = bars[bar]!.start;
    const to = bars[bar + 2]?.start ?? end * QUARTER;
    const own = notes.filter(({ start }) => start >= from && start < to);
    if (own.length === 0) continue;
    const mean = own.reduce((sum, { velocity }) => sum + velocity, 0) / own.length;
    const level = NAMES.map((name, at) => ({ at, off: Math.abs(VELOCITIES[name]! - mean) })).sort(
      (a, b) => a.off - b.off,
    )[0]!.at;
    if (plain.at(-1)?.level !== level) plain.push({ at: from / QUARTER, level });
  }
  judge(plan, plain, into, ['plain', 'plainRight', 'plainFound']);
}

/** What only says again what holds is no reading. */
const isTold = ({ margin, at }: DynamicStep) => Number.isFinite(margin) || at >= 0;

const percent = (count: number, of: number) => (of === 0 ? '–' : ((100 * count) / of).toFixed(1));
const table: Record<string, object> = {};
for (const kind of ['printed', 'made'] as const)
  for (const depth of DEPTHS) {
    const into = counts();
    works.forEach((work) => {
      const random = seeded(seed * 7919 + depth * 31 + work.name.length * 17 + work.bars.length);
      const bars = barsOf(work);
      const plans = kind === 'printed' ? printedPlans(work) : null;
      const common = madePlan(work, random);
      const played = work.parts.flatMap((part, index) => {
        const plan = plans ? plans[index] : random() < 0.7 ? common : madePlan(work, random);
        if (!plan || plan.levels.length < 2) return [];
        const notes = perform(part.notes, plan, bars, depth, random);
        return [{ plan, notes, all: loudnessOf(notes, bars, () => undefined) }];
      });
      const ensemble = ensembleOf(
        played.map(({ all }) => all),
        bars,
      );
      const parts = played.map(({ all }) => all);
      const tutti = tuttiOf(parts, ensemble);
      const together = { all: tutti, ...finished(readDynamics(tutti, bars, 1, ensemble, 0)) };
      played.forEach(({ plan, notes, all }, part) => {
        const over = ensemble.over[part]!;
        const own = finished(readDynamics(all, bars, 1, ensemble, over));
        const { steps, hairpins } = alongWith(own, together, all, over);
        measure(steps, hairpins, notes, plan, bars, endOf(work), into);
      });
    });
    table[`${kind}, ${depth} a step`] = {
      asked: into.asked,
      'precision %': percent(into.right, into.offered),
      'recall %': percent(into.found, into.asked),
      'plain precision': percent(into.plainRight, into.plain),
      'plain recall': percent(into.plainFound, into.asked),
      hairpins: into.pinsAsked,
      'hairpin precision %': percent(into.pinsRight, into.pins),
      'hairpin recall %': percent(into.pinsFound, into.pinsAsked),
    };
  }
console.log(
  `${works.length} works (${half === 0 ? 'the half that was tuned on' : 'not tuned on'}), seed ${seed}`,
);
console.table(table);
