import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { soundingPlace } from '../infer/lead/lateness';
import { tempoAt } from '../model/clock';
import type { Frame } from '../model/frame';
import type { EventId } from '../model/ids';
import { barIndexOf, type SwingMark } from '../model/score';
import type { Attack } from '../model/sketch';
import { swingInBar } from '../model/swing';
import { type Moment, QUARTER } from '../model/time';
import type { PartReading, Transcription } from '../transcribe';
import { NARROW, placeOf, type ScorePlace } from './explain';

/** One attack to look at; `part` and `other` are indices of parts. */
export interface RhythmFinding {
  kind: 'narrow' | 'apart';
  part: number;
  /** A note of the attack, by its id in the source. */
  note: EventId;
  at: ScorePlace;
  /** Narrow: the place that is nearly as likely. Apart: where the part that it moves with attacks. */
  instead: ScorePlace;
  /** Narrow: how much worse the other place is, in nats. Apart: how far from the other part it was played, in milliseconds. */
  by: number;
  /** The part that it moves with otherwise. */
  other?: number;
}

/** Two parts move together if they share this many attacks in the bars around, and this share of them. */
const AROUND = 2;
const SHARED = 6;
const SHARE = 0.8;
/** Attacks no further apart than this, written and played (milliseconds), were meant to be one. */
const NEAR: Moment = QUARTER / 2;
const MEANT = 80;

/**
 * What wants a look in the rhythm, in order of bars: attacks whose place is
 * settled only narrowly, and places where two parts that move together around
 * it are written apart although they were played nearly together.
 */
export const rhythmFindings = ({ frame, swings, readings }: Transcription): RhythmFinding[] =>
  remembered(frame, FINDINGS, { frame, swings, readings: readings.map(({ attacks }) => ({ attacks })) });

/** What of a score its rhythm is looked through for. */
interface ReadRhythm extends Pick<Transcription, 'frame' | 'swings'> {
  readings: readonly Pick<PartReading, 'attacks'>[];
}

const FINDINGS = node('rhythm findings', (rhythm: ReadRhythm) =>
  [...narrow(rhythm), ...apart(rhythm)].sort(
    (a, b) => a.at.moment - b.at.moment || a.part - b.part || (a.kind < b.kind ? -1 : 1),
  ),
);

/** The attacks of a part, bar by bar. */
const HEARD = node(
  'heard',
  (of: { attacks: readonly Attack[]; frame: Frame; swings: readonly SwingMark[] }) =>
    heardOf(of.attacks, of.frame, of.swings),
);

const narrow = ({ readings, frame }: ReadRhythm): RhythmFinding[] =>
  readings.flatMap(({ attacks }, part) =>
    attacks.flatMap((attack): RhythmFinding[] => {
      const [next] = attack.alternatives;
      if (!(attack.margin < NARROW) || !next) return [];
      return [
        {
          kind: 'narrow',
          part,
          note: attack.notes[0]!.id,
          at: placeOf(frame, attack.start),
          instead: placeOf(frame, next.start),
          by: next.worse,
        },
      ];
    }),
  );

/** The attacks of one bar of a part, in order of where they sound as written. */
interface Heard {
  moments: Moment[];
  attacks: Attack[];
}

function heardOf(attacks: readonly Attack[], frame: Frame, swings: readonly SwingMark[]): Heard[] {
  const bars = frame.bars.map(() => new Map<Moment, Attack>());
  for (const attack of attacks) {
    if (attack.grace) continue;
    const bar = barIndexOf(frame.bars, attack.start);
    const place = soundingPlace(attack, frame, swings);
    bars[bar]!.set(swingInBar(swings, bar) ? Math.round(place / FINE) * FINE : place, attack);
  }
  return bars.map((bar) => {
    const sorted = [...bar].sort((one, two) => one[0] - two[0]);
    return { moments: sorted.map(([moment]) => moment), attacks: sorted.map(([, attack]) => attack) };
  });
}

/** Finer than this, places of swung bars are one: a swung offbeat and the last of a triplet sound together. */
const FINE: Moment = QUARTER / 24;

function apart({ readings, frame, swings }: ReadRhythm): RhythmFinding[] {
  const parts = readings.map(({ attacks }) => remembered(attacks, HEARD, { attacks, frame, swings }));
  // Of two parts that differ the lonelier one is the odd one.
  const companyAt = (bar: number, moment: Moment): number =>
    parts.filter((part) => part[bar]!.moments.includes(moment)).length;
  const found = new Map<string, RhythmFinding>();
  // Filled anew for each pair of parts: with many parts there are very many pairs.
  const both = new Uint16Array(frame.bars.length);
  const most = new Uint16Array(frame.bars.length);
  for (let first = 0; first < parts.length; first++)
    for (let second = first + 1; second < parts.length; second++) {
      const [one, two] = [parts[first]!, parts[second]!];
      if (!countShared(one, two, both, most)) continue;
      one.forEach((_, bar) => {
        if (both[bar] === most[bar] || !moveTogether(both, most, bar)) return;
        for (const [at, moment] of one[bar]!.moments.entries()) {
          const attack = one[bar]!.attacks[at]!;
          if (two[bar]!.moments.includes(moment)) continue;
          const near = nearestAlone(moment, two[bar]!, one[bar]!);
          const other = two[bar]!.attacks[near];
          if (!other || other.start === attack.start || millisecondsApart(attack, other, frame) > MEANT)
            continue;
          const isOdd = companyAt(bar, moment) <= companyAt(bar, two[bar]!.moments[near]!);
          const [part, odd, model, like] = isOdd
            ? [first, attack, other, second]
            : [second, other, attack, first];
          const name = `${part} ${odd.start}`;
          if (found.has(name)) continue;
          found.set(name, {
            kind: 'apart',
            part,
            note: odd.notes[0]!.id,
            at: placeOf(frame, odd.start),
            instead: placeOf(frame, model.start),
            by: millisecondsApart(odd, model, frame),
            other: like,
          });
        }
      });
    }
  return [...found.values()];
}

/**
 * Counts for each bar how many moments two parts share, and how many the busier one has.
 *
 * @returns whether they differ anywhere
 */
function countShared(
  one: readonly Heard[],
  two: readonly Heard[],
  both: Uint16Array,
  most: Uint16Array,
): boolean {
  let differ = false;
  for (let bar = 0; bar < one.length; bar++) {
    const [left, right] = [one[bar]!.moments, two[bar]!.moments];
    let shared = 0;
    for (let a = 0, b = 0; a < left.length && b < right.length; ) {
      const [first, second] = [left[a]!, right[b]!];
      if (first === second) shared++;
      if (first <= second) a++;
      if (second <= first) b++;
    }
    both[bar] = shared;
    most[bar] = Math.max(left.length, right.length);
    differ ||= both[bar] !== most[bar];
  }
  return differ;
}

/** Whether the bars around one show two parts attacking together. */
function moveTogether(both: Uint16Array, most: Uint16Array, bar: number): boolean {
  let shared = 0;
  let all = 0;
  for (let near = Math.max(0, bar - AROUND); near <= Math.min(both.length - 1, bar + AROUND); near++) {
    if (near === bar) continue;
    shared += both[near]!;
    all += most[near]!;
  }
  return shared >= SHARED && shared >= SHARE * all;
}

/** Index of the attack of a bar nearest to a moment that `others` do not share; −1 for none. */
function nearestAlone(moment: Moment, { moments }: Heard, others: Heard): number {
  let best = -1;
  let least = NEAR;
  moments.forEach((at, index) => {
    if (others.moments.includes(at) || Math.abs(at - moment) > least) return;
    least = Math.abs(at - moment);
    best = index;
  });
  return best;
}

/** How far apart two attacks were played, leads taken out. */
const millisecondsApart = (one: Attack, two: Attack, { clock }: Frame): number =>
  (Math.abs((one.literal ?? one.at) - (two.literal ?? two.at)) * tempoAt(clock, one.tick)) / 1000 / QUARTER;
