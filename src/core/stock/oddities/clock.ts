import { node } from '../../basics/graph';
import { remembered } from '../../basics/remember';
import { counted } from '../../basics/words';
import { emptyBars } from '../../clean/clock';
import type { Decisions } from '../../decisions/decisions';
import { areHeard, followed, type HeardBeats } from '../../decisions/kinds/beats';
import { isGridUnusable } from '../../infer/beats/beats';
import { heardBeats, paceOf } from '../../infer/beats/heard';
import { otherPulse } from '../../infer/beats/pulse';
import { contradictsDefault } from '../../infer/key/key';
import { commonOffset } from '../../infer/lead/offset';
import { proposeMeters } from '../../infer/meter/meters';
import { barAt, secondsAt, tempoAt } from '../../model/clock';
import type { Performance } from '../../model/performance';
import { placeAt } from '../place';
import { type Finder, NEXT_TO_CERTAIN, type Oddity } from './oddity';

/** By how many ticks everything sounds late, as long as that was not decided; beats that are heard are where it sounds. */
const offsetOf = (performance: Performance, { offset, beats }: Decisions): number =>
  offset === null && !areHeard(beats) ? commonOffset(performance) : 0;

/** Everything sounds late, or early, by as much: a delay of the recording, or tracks that were moved. */
export const findOffset: Finder = (performance, decisions) => {
  const ticks = offsetOf(performance, decisions);
  if (ticks === 0) return [];
  const { clock, strands } = performance;
  const [first] = strands.map(({ notes }) => notes[0]!.on).sort((a, b) => a - b);
  const milliseconds = Math.round(
    (Math.abs(ticks) * tempoAt(clock, first ?? 0)) / 1000 / clock.ticksPerQuarter,
  );
  return [
    {
      id: 'offset',
      kind: 'offset',
      strand: null,
      place: null,
      count: strands.reduce((sum, { notes }) => sum + notes.length, 0),
      sure: NEXT_TO_CERTAIN,
      harm: null,
      what: `Everything sounds ${milliseconds} ms (${counted(Math.abs(ticks), 'tick')}) ${ticks > 0 ? 'behind' : 'ahead of'} the beat, drums included. The score leaves that out already.`,
      mend: {
        label: ticks > 0 ? 'Move all onto the beat' : 'Move all back onto the beat',
        directives: [{ kind: 'offset', ticks }],
      },
    },
  ];
};

const KINDS = { loose: 'grid', across: 'pulse', recorded: 'grid' } as const;

/**
 * Music that the file's beats say nothing of, played without a click or under a tempo that is not its own; or
 * that goes in threes of the file's 16ths, or twos of its triplets: the click counted something else.
 */
export const findOtherBeats: Finder = (performance, decisions) => {
  const { beats } = decisions;
  const areFollowed = areHeard(beats);
  const isAsked = beats === undefined && offsetOf(performance, decisions) === 0;
  const found = areFollowed ? beats : isAsked ? heardBeats(performance) : null;
  if (!found) return [];
  const { ticks, perBar, heard } = found;
  const { beat, isSteady } = areFollowed ? paceOfClock(performance) : paceOf(performance, found);
  return [
    {
      id: KINDS[heard],
      kind: KINDS[heard],
      strand: null,
      place: null,
      sure: 0.9,
      harm: areFollowed ? null : { takes: 'bars' },
      count: ticks.length,
      what: `${whyOf(heard, isSteady)} ${areFollowed ? 'Bars follow the' : 'There are'} ${counted(ticks.length, 'beat')} that can be heard, about ${Math.round(60 / beat)} a minute, ${perBar} a bar.`,
      mend: {
        label: areFollowed ? 'Take these beats' : 'Lay bars along the music',
        directives: [followed(found)],
      },
      ...(areFollowed &&
        heard !== 'recorded' && {
          instead: {
            label: 'The file’s beats',
            directives: [{ kind: 'beats', ticks: [], perBar, first: 0 }],
          },
        }),
    },
  ];
};

/** The pace of bars that were laid along beats; before the first of these time may go at a pace of its own. */
const paceOfClock = ({ clock, end, tempos }: Performance): ReturnType<typeof paceOf> => ({
  beat: (secondsAt(clock, end) * clock.ticksPerQuarter) / end,
  isSteady: tempos.length <= 2,
});

const whyOf = (heard: HeardBeats['heard'], isSteady: boolean): string => {
  if (heard === 'recorded') return 'A recording has no beats of its own.';
  if (heard === 'across') return 'Attacks keep to fractions of the file’s quarters, but go by other beats.';
  return isSteady
    ? 'Attacks lie anywhere in the file’s beats: it keeps a steady pace, but another one.'
    : 'Attacks lie anywhere in the file’s beats: it was played without a click.';
};

/** A tempo that changes alone inside a bar; several in a row are a ritardando, drawn. */
export const findTempoJumps: Finder = ({ tempos, clock }) =>
  tempos.flatMap((tempo, index): Oddity[] => {
    const bar = barAt(clock, tempo.tick);
    if (tempo.tick === bar.start) return [];
    const isNear = (other: { tick: number } | undefined) =>
      other !== undefined && Math.abs(other.tick - tempo.tick) < bar.length;
    if (isNear(tempos[index - 1]) || isNear(tempos[index + 1])) return [];
    return [
      {
        id: `tempo ${tempo.tick}`,
        kind: 'tempo',
        strand: null,
        place: placeAt(clock, tempo.tick),
        count: 1,
        sure: 0.9,
        harm: null,
        what: `The tempo jumps to ${Math.round(6e8 / tempo.microsPerQuarter) / 10} inside a bar.`,
        mend: {
          label: 'Move to the bar line',
          directives: [{ kind: 'clock-event', what: 'tempo', tick: tempo.tick, mend: 'to-bar' }],
        },
      },
    ];
  });

/** A meter change that cuts a bar short. */
export const findMeterCuts: Finder = ({ meters, clock }) =>
  meters.flatMap((meter): Oddity[] => {
    if (meter.tick <= clock.upbeat) return [];
    const before = barAt(clock, meter.tick - 1);
    const full = (clock.ticksPerQuarter * 4 * before.meter.numerator) / before.meter.denominator;
    if (before.length === full || before.isUpbeat) return [];
    return [
      {
        id: `meter ${meter.tick}`,
        kind: 'meter',
        strand: null,
        place: placeAt(clock, meter.tick),
        count: 1,
        sure: 0.9,
        harm: null,
        what: `${meter.numerator}/${meter.denominator} begins inside a bar and cuts it short.`,
        mend: {
          label: 'Move to the bar line',
          directives: [{ kind: 'clock-event', what: 'meter', tick: meter.tick, mend: 'to-bar' }],
        },
      },
    ];
  });

/** The signature that files get when nobody sets one: C major and nothing else, over music in another key. */
export const findDefaultKey: Finder = ({ keys, strands }, decisions) => {
  const isDefault = keys.length > 0 && keys.every((key) => key.fifths === 0 && !key.minor);
  if (!isDefault || decisions.key) return [];
  const weights = new Array<number>(12).fill(0);
  for (const strand of strands)
    if (strand.channel !== 9)
      for (const note of strand.notes) weights[note.key % 12]! += Math.max(1, note.off - note.on);
  const best = contradictsDefault(weights);
  if (!best) return [];
  return [
    {
      id: 'key',
      kind: 'key',
      strand: null,
      place: null,
      count: keys.length,
      sure: 0.9,
      harm: null,
      what: `The signature is C major, as files get by default; the notes fit ${counted(Math.abs(best.fifths), best.fifths > 0 ? 'sharp' : 'flat')} better.`,
      mend: {
        label: 'Take the signature of the notes',
        directives: [{ kind: 'key', fifths: best.fifths, minor: best.minor }],
      },
    },
  ];
};

/** How much better another meter, or an upbeat in the one that there is, must explain the accents, in nats. */
const METER_WORTH = 1.5;
const UPBEAT_WORTH = 2.5;
/** Upbeats in eighths that are usual; others are more often accents ahead of the beat (common practice). */
const UPBEATS: Readonly<Record<number, readonly number[]>> = { 4: [0, 2], 8: [0, 1, 3] };

const METERS = node('meters', ({ performance }: { performance: Performance }) =>
  isGridUnusable(performance) || otherPulse(performance) ? [] : proposeMeters(performance),
);

/** 4/4 from the first note, as files get it by default, over music in another meter or with an upbeat. */
export const findDefaultMeter: Finder = (performance, decisions) => {
  // Bars along heard beats are no file's default.
  if (offsetOf(performance, decisions) !== 0 || areHeard(decisions.beats)) return [];
  const { meters, clock } = performance;
  const isDefault = meters.every(
    (meter) => meter.tick === 0 && meter.numerator === 4 && meter.denominator === 4,
  );
  if (!isDefault || clock.upbeat > 0 || decisions.meter || decisions.clock.upbeatQuarters !== undefined)
    return [];
  const [best, second] = remembered(performance, METERS, { performance });
  if (!best || !second) return [];
  const { meter, upbeatEighths } = best;
  if (!UPBEATS[meter.denominator]?.includes(upbeatEighths)) return [];
  // Bars of 2/4 are halves of those that there are: nothing is in the wrong place.
  const keepsBars = meter.denominator === 4 && meter.numerator % 2 === 0;
  if (keepsBars && upbeatEighths === 0) return [];
  const isSure = meter.numerator === 4 ? best.overDefault >= UPBEAT_WORTH : best.worth >= METER_WORTH;
  if (!isSure) return [];
  const length =
    upbeatEighths % 2 === 0 ? counted(upbeatEighths / 2, 'quarter') : counted(upbeatEighths, 'eighth');
  const upbeat = upbeatEighths > 0 ? ` with an upbeat of ${length}` : '';
  return [
    {
      id: 'default-meter',
      kind: 'default-meter',
      strand: null,
      place: null,
      count: 1,
      sure: 0.9,
      harm: { takes: 'bars' },
      what: `The meter is 4/4 from the first note, as files get by default; the accents fit ${meter.numerator}/${meter.denominator}${upbeat} better, then ${second.meter.numerator}/${second.meter.denominator}.`,
      mend: {
        label: `Take ${meter.numerator}/${meter.denominator}`,
        directives: [{ kind: 'meter', ...meter, upbeatQuarters: upbeatEighths / 2 }],
      },
    },
  ];
};

/** Empty bars before the first note; one is a count-in, and usual. */
export const findSilence: Finder = (performance) => {
  const bars = emptyBars(performance);
  if (bars < 2) return [];
  return [
    {
      id: 'silence',
      kind: 'silence',
      strand: null,
      place: placeAt(performance.clock, 0),
      count: bars,
      sure: 1,
      harm: null,
      what: `${counted(bars, 'empty bar')} before the first note.`,
      mend: { label: 'Trim to the first bar', directives: [{ kind: 'silence', trim: true }] },
    },
  ];
};
