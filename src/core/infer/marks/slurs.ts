import { medianOf } from '../../basics/average';
import type { EventId } from '../../model/ids';
import type { Spanner } from '../../model/marks';
import type { Bar, Chord, PartBar } from '../../model/score';
import type { SketchNote } from '../../model/sketch';
import { type Moment, QUARTER } from '../../model/time';

/** Where all is joined, a line of fewer notes may touch by chance: a wrong mark costs more than a missing one. */
const FEWEST = 3;
/** So many notes of a line must be let go before the next, and so large a part of them, to tell the others from. */
const FEWEST_APART = 4;
const PART_APART = 0.04;
/** Spreads are no smaller than this, in seconds: a machine plays to the tick, and no two ticks are further apart. */
const LEAST = 0.004;
/** Changes between the two ways, and each of them, are taken for as likely as the part shows, this many times seen beforehand. */
const SEEN = 2;
/** A slur stands when each of its joints, and what is beyond its ends, is told at least so well, in nats. */
const SURE = 2;
/** Of what is let go so much ends anywhere within its time, short notes among long ones. */
const ANYWHERE = 0.2;
/** What is held over by mistake is as likely as this, per second. */
const ODD = 0.01;
const ROUNDS = 6;
/** What is played short is joined to nothing. */
const CERTAINLY_APART = -20;
/** A part is not read where so many of its joints are not told, or so many for each that is joined. */
const UNTOLD = 0.15;
const UNTOLD_FOR_EACH = 0.5;
/** A slur over more than this hides where to breathe: it goes bar by bar (common practice). */
const LONGEST = 8 * QUARTER;
/** Normal spread of the median absolute deviation. */
const MAD = 1.4826;

/** A note or chord of a voice, with the ties after it. */
interface Member {
  chord: Chord;
  /** The last chord that it is tied to. */
  last: Chord;
  bar: number;
  start: Moment;
  /** Seconds. */
  on: number;
  off: number;
  /** The next one of the voice follows without a rest. */
  runsOn: boolean;
  sung: boolean;
  /** Played short, under a dot: it is let go in a way of its own. */
  dotted: boolean;
}

/**
 * Slurs of a part on which lines are played. Notes that run into the next were
 * played legato. A part that does both, joining and letting go, tells one from the
 * other: the two ways are learned from the part itself (mixture of the seconds of overlap and the shares let go,
 * hard EM with Viterbi paths), and slurs go from note to note as they were played. Where all is joined, they go
 * bar by bar, so that none hides the bar lines or leaves no room to breathe.
 * Slurs of singers show the notes of a syllable, where there are words.
 *
 * @param seconds of a tick
 */
export function findSlurs(
  bars: readonly PartBar[],
  frame: readonly Bar[],
  notes: ReadonlyMap<EventId, SketchNote>,
  seconds: (tick: number) => number,
): Spanner[] {
  const lines = linesOf(bars, frame, notes, seconds);
  if (lines.flat().some(({ sung }) => sung)) return lines.flatMap(melismas).map(slurOver);
  const joints = lines.flatMap(jointsOf);
  const joined = joints.filter(({ over }) => over > 0).length;
  const apart = joints.length - joined;
  if (joined === 0) return [];
  const tellsApart = apart >= FEWEST_APART && apart >= PART_APART * joints.length;
  if (!tellsApart) return lines.flatMap(runs).map(slurOver);
  const odds = oddsOf(lines);
  return odds ? lines.flatMap((line) => phrases(line, odds)).map(slurOver) : [];
}

function linesOf(
  bars: readonly PartBar[],
  frame: readonly Bar[],
  notes: ReadonlyMap<EventId, SketchNote>,
  seconds: (tick: number) => number,
): Member[][] {
  const lines = new Map<string, Member[]>();
  bars.forEach(({ voices }, bar) => {
    const present = new Set<string>();
    for (const { staff, voice, items } of voices) {
      const name = `${staff}.${voice}`;
      present.add(name);
      const line = lines.get(name) ?? [];
      lines.set(name, line);
      for (const item of items) {
        const before = line.at(-1);
        if (item.kind === 'rest') {
          if (before) before.runsOn = false;
          continue;
        }
        if (before && item.notes.every(({ tieStop }) => tieStop)) {
          before.last = item;
          continue;
        }
        const played = item.notes.flatMap(({ sources }) => sources.flatMap((id) => notes.get(id) ?? []));
        if (played.length === 0) {
          if (before) before.runsOn = false;
          continue;
        }
        line.push({
          chord: item,
          last: item,
          bar,
          start: frame[bar]!.start + item.onset,
          on: Math.min(...played.map(({ on }) => seconds(on))),
          off: Math.min(...played.map(({ off }) => seconds(off))),
          runsOn: true,
          sung: (item.lyrics?.length ?? 0) > 0,
          dotted: played.every(({ staccato }) => staccato),
        });
      }
    }
    // A voice that is not there has a rest.
    for (const [name, line] of lines) {
      const last = line.at(-1);
      if (last && !present.has(name)) last.runsOn = false;
    }
  });
  return [...lines.values()];
}

/** From a note to the next of its voice: how far it runs into it, and how long it is, in seconds. */
interface Joint {
  at: Member;
  over: number;
  length: number;
}

const jointsOf = (line: readonly Member[]): Joint[] =>
  line.flatMap((at, index) => {
    const next = line[index + 1];
    return next && at.runsOn ? [{ at, over: at.off - next.on, length: next.on - at.on }] : [];
  });

/** For each note that another follows how much more likely it is joined to it than not, and which of the two it is. */
type Odds = ReadonlyMap<Member, { odds: number; joined: boolean }>;

/** @returns null where the two ways cannot be told */
function oddsOf(lines: readonly Member[][]): Odds | null {
  const perLine = lines.map(jointsOf).filter((line) => line.length > 0);
  const joints = perLine.flat();
  let told: Odds = new Map(joints.map((joint) => [joint.at, { odds: 0, joined: joint.over > 0 }]));
  for (let round = 0; ; round++) {
    const joined = joints.filter(({ at }) => told.get(at)!.joined);
    const apart = joints.filter(({ at }) => !told.get(at)!.joined && !at.dotted);
    if (joined.length === 0 || apart.length === 0) return null;
    const ways: Ways = {
      overlap: spreadOf(joined.map(({ over }) => over)),
      share: spreadOf(apart.map(({ over, length }) => -over / length)),
      prior: Math.log(joined.length / apart.length),
      changes: changesIn(perLine, told),
    };
    if (round === ROUNDS) return isTold(told, ways) ? told : null;
    told = new Map(perLine.flatMap((line) => toldBy(line, ways)));
  }
}

/** How a part joins notes, and how it lets them go. */
interface Ways {
  /** Seconds. */
  overlap: Spread;
  /** Shares of the time to the next note. */
  share: Spread;
  prior: number;
  changes: Changes;
}

function toldBy(line: readonly Joint[], { overlap, share, prior, changes }: Ways) {
  const odds = line.map((joint) =>
    joint.at.dotted
      ? CERTAINLY_APART
      : Math.log(density(joint.over, overlap) + ODD) - Math.log(apartDensity(joint, share) + ODD),
  );
  const path = bestPath(odds, changes);
  return line.map(({ at }, index) => [at, { odds: odds[index]! + prior, joined: path[index]! }] as const);
}

function isTold(told: Odds, { overlap }: Ways): boolean {
  const all = [...told.entries()].flatMap(([{ dotted }, each]) => (dotted ? [] : [each]));
  const untold = all.filter(({ odds }) => Math.abs(odds) < SURE).length / all.length;
  const joined = all.filter((each) => each.joined).length / all.length;
  // Where most of what counts as joined does not overlap, it is the looser half of the other way.
  return overlap.middle > overlap.width && untold < Math.min(UNTOLD, UNTOLD_FOR_EACH * joined);
}

/** Per second of overlap, for a note that is let go before the next. */
function apartDensity({ over, length }: Joint, share: Spread): number {
  const anywhere = over < 0 && -over < length ? ANYWHERE : 0;
  const { middle, width } = share;
  const own = density(-over, { middle: middle * length, width: width * length });
  return (1 - ANYWHERE) * own + anywhere / length;
}

/** Logarithms of how likely one way follows the other: [from joined, from apart] to [joined, apart]. */
type Changes = readonly [readonly [number, number], readonly [number, number]];

function changesIn(lines: readonly Joint[][], told: Odds): Changes {
  const seen = [
    [SEEN, SEEN],
    [SEEN, SEEN],
  ];
  const way = ({ at }: Joint) => (told.get(at)!.joined ? 0 : 1);
  for (const line of lines)
    line.forEach((joint, index) => {
      const next = line[index + 1];
      if (next) seen[way(joint)]![way(next)]!++;
    });
  const logs = ([joined, apart]: readonly number[]): [number, number] => [
    Math.log(joined! / (joined! + apart!)),
    Math.log(apart! / (joined! + apart!)),
  ];
  return [logs(seen[0]!), logs(seen[1]!)];
}

interface Spread {
  middle: number;
  width: number;
}

function spreadOf(values: readonly number[]): Spread {
  const middle = medianOf(values);
  return { middle, width: MAD * medianOf(values.map((value) => Math.abs(value - middle))) };
}

/** Per second, of values in seconds. */
function density(value: number, { middle, width }: Spread): number {
  const least = Math.max(LEAST, width);
  return Math.exp(-(((value - middle) / least) ** 2) / 2) / (least * Math.sqrt(2 * Math.PI));
}

/** Which joints are joined: the likeliest path (Viterbi). */
function bestPath(odds: readonly number[], changes: Changes): boolean[] {
  let best: readonly [number, number] = [0, 0];
  const from: [number, number][] = [];
  odds.forEach((each, index) => {
    const to = (way: 0 | 1): [number, number] => {
      const own = way === 0 ? each : 0;
      if (index === 0) return [own, way];
      const joined = best[0] + changes[0][way];
      const apart = best[1] + changes[1][way];
      return joined >= apart ? [joined + own, 0] : [apart + own, 1];
    };
    const [joined, apart] = [to(0), to(1)];
    best = [joined[0], apart[0]];
    from.push([joined[1], apart[1]]);
  });
  const path: boolean[] = new Array(odds.length);
  let way = best[0] > best[1] ? 0 : 1;
  for (let at = odds.length - 1; at >= 0; at--) {
    path[at] = way === 0;
    way = from[at]![way]!;
  }
  return path;
}

/** Slurs from note to note as they are joined, where all of it is sure. */
function phrases(line: readonly Member[], odds: Odds): Member[][] {
  const found: Member[][] = [];
  const isSure = (member: Member | undefined) => {
    const told = member && odds.get(member);
    return !told || Math.abs(told.odds) >= SURE;
  };
  for (let at = 0; at < line.length; at++) {
    let end = at;
    while (end + 1 < line.length && line[end]!.runsOn && odds.get(line[end]!)?.joined) end++;
    if (end === at) continue;
    const run = line.slice(at, end + 1);
    const before = line[at - 1]?.runsOn ? line[at - 1] : undefined;
    const after = line[end]!.runsOn ? line[end] : undefined;
    if (isLong(run)) found.push(...byBar(run));
    else if ([before, ...run.slice(0, -1), after].every(isSure)) found.push(run);
    at = end;
  }
  return found;
}

const isLong = (run: readonly Member[]): boolean => run.at(-1)!.start - run[0]!.start > LONGEST;

/** Lines of which all is joined, bar by bar. */
function runs(line: readonly Member[]): Member[][] {
  const found: Member[][] = [];
  let run: Member[] = [];
  const close = () => {
    if (run.length >= FEWEST) found.push(...byBar(run));
    run = [];
  };
  line.forEach((member, index) => {
    run.push(member);
    const next = line[index + 1];
    if (!next || !member.runsOn || member.off <= next.on) close();
  });
  close();
  return found;
}

function byBar(run: readonly Member[]): Member[][] {
  const groups = new Map<number, Member[]>();
  for (const member of run) groups.set(member.bar, [...(groups.get(member.bar) ?? []), member]);
  return [...groups.values()].filter((group) => group.length > 1);
}

/** Notes without a syllable are sung on the one before (common practice of vocal music). */
function melismas(line: readonly Member[]): Member[][] {
  const found: Member[][] = [];
  let run: Member[] = [];
  line.forEach((member, index) => {
    if (member.sung) run = [member];
    else if (run.length > 0 && line[index - 1]!.runsOn) run.push(member);
    else run = [];
    const next = line[index + 1];
    if (run.length > 1 && (!next || next.sung || !member.runsOn)) found.push(run);
  });
  return found;
}

function slurOver(run: readonly Member[]): Spanner {
  const from = run[0]!.chord.notes[0]!;
  const to = run.at(-1)!.last.notes[0]!;
  return { id: `slur ${from.id}`, kind: 'slur', from: { note: from.id }, to: { note: to.id } };
}
