import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { counted } from '../basics/words';
import { companiesOf } from '../instruments/company';
import {
  barAt,
  barOf,
  type Clock,
  LONGEST_HELD,
  type MeterChange,
  MOST_BARS,
  makeClock,
  suggestedUpbeat,
} from '../model/clock';
import type { Mend } from '../model/mend';
import {
  makeStrand,
  type Performance,
  type Strand,
  type StrandContent,
  type Unbarred,
} from '../model/performance';

/** How a clock may be set: an upbeat in quarter notes, and the number of the first full bar. */
export interface ClockSetting {
  upbeatQuarters?: number;
  firstBar?: number;
}

/**
 * A performance with its bars: its clock is built, its strands are counted, and what lies past the
 * point to which its time can be believed is left out and told.
 */
export function withBars(
  { ticksPerQuarter, strands: contents, begun, ...unbarred }: Unbarred,
  { upbeatQuarters, firstBar = 1 }: ClockSetting,
): Performance {
  const mends = [...unbarred.mends];
  const upbeat =
    upbeatQuarters === undefined
      ? suggestedUpbeat(unbarred.meters, ticksPerQuarter)
      : upbeatQuarters * ticksPerQuarter;
  const meters = withoutRepeats(
    onBarLines(oneAtATime(unbarred.meters, 'meter', mends), upbeat, ticksPerQuarter, mends),
    upbeat,
    ticksPerQuarter,
    mends,
  );
  const clock = makeClock({ ticksPerQuarter, tempos: unbarred.tempos, meters, upbeat, firstBar });
  const strands = inCompany(contents.map((content) => remembered(content, STRAND, { content, clock })));
  const keys = oneAtATime(unbarred.keys, 'key signature', mends);
  return withLost(begun, withinLimits({ ...unbarred, clock, strands, meters, keys, beyond: 0, mends }));
}

/** Says where a note that the source begins is neither in a strand nor past what is read. */
function withLost(begun: number, performance: Performance): Performance {
  const kept = performance.strands.reduce((sum, { notes }) => sum + notes.length, performance.beyond);
  if (begun === kept) return performance;
  const mend = {
    at: 0,
    what: `The source begins ${counted(begun, 'note')}, and ${kept.toLocaleString('en')} were read: a fault of this program.`,
    done: 'Look for them before anything is handed over.',
  };
  return { ...performance, mends: [...performance.mends, mend] };
}

/** Of several at one moment the last counts, as it does in the clock; where they contradict each other that is told. */
function oneAtATime<T extends { tick: number }>(changes: readonly T[], what: string, mends: Mend[]): T[] {
  const sorted = changes.toSorted((a, b) => a.tick - b.tick);
  return sorted.filter((change, index) => {
    const next = sorted[index + 1];
    if (next?.tick !== change.tick) return true;
    if (JSON.stringify(next) !== JSON.stringify(change))
      mends.push({
        at: 0,
        what: `Two ${what}s that contradict each other stand at tick ${change.tick.toLocaleString('en')}.`,
        done: 'The last one counts.',
      });
    return false;
  });
}

/** A meter this near to a bar line stands at it: nothing on paper is shorter than a 64th. Quarters. */
const BESIDE_LINE = 1 / 16;

/** Meters at the bar lines that they stand beside by a few ticks, which would make bars of no length; each is told. */
function onBarLines(
  meters: readonly MeterChange[],
  upbeat: number,
  ticksPerQuarter: number,
  mends: Mend[],
): MeterChange[] {
  let zero = upbeat;
  let bar = 4 * ticksPerQuarter;
  return meters
    .toSorted((a, b) => a.tick - b.tick)
    .map((meter) => {
      const after = meter.tick <= zero ? 0 : (meter.tick - zero) % bar;
      const away = after > bar / 2 ? after - bar : after;
      const isBeside = away !== 0 && Math.abs(away) < BESIDE_LINE * ticksPerQuarter;
      const tick = isBeside ? Math.round(meter.tick - away) : meter.tick;
      if (isBeside)
        mends.push({
          at: 0,
          what: `${meter.numerator}/${meter.denominator} stands ${counted(Math.abs(Math.round(away)), 'tick')} ${away > 0 ? 'after' : 'before'} a bar line.`,
          done: 'It begins the bar there.',
        });
      zero = Math.max(zero, tick);
      bar = (4 * ticksPerQuarter * meter.numerator) / meter.denominator;
      return { ...meter, tick };
    });
}

/** Meters without those that say again, inside a bar, what holds already: they begin no bar, and are told. */
function withoutRepeats(
  meters: readonly MeterChange[],
  upbeat: number,
  ticksPerQuarter: number,
  mends: Mend[],
): MeterChange[] {
  let holding: MeterChange | null = null;
  return meters.filter((meter) => {
    if (holding && holding.numerator === meter.numerator && holding.denominator === meter.denominator) {
      const bar = (4 * ticksPerQuarter * meter.numerator) / meter.denominator;
      const zero = holding.tick === 0 ? upbeat : holding.tick;
      if ((meter.tick - zero) % bar !== 0) {
        mends.push({
          at: 0,
          what: `${meter.numerator}/${meter.denominator} is said again inside a bar, ${Math.floor((meter.tick - zero) / bar) + 1} bars on from where it began.`,
          done: 'It begins no bar.',
        });
        return false;
      }
    }
    holding = meter;
    return true;
  });
}

/** No music pauses for so many bars: where nothing begins for longer, the file's time is broken (common practice). */
const LONGEST_PAUSE = 500;

/** The first bar that is not read, counted from 0, and why. */
function limitOf({ clock, strands, end }: Performance): { bar: number; why: string } | null {
  const bars = barAt(clock, Math.max(0, end - 1)).index + 1;
  if (bars <= LONGEST_PAUSE) return null;
  const onsets = Float64Array.from(strands.flatMap((strand) => strand.notes.map((note) => note.on))).sort();
  let before = 0;
  for (const onset of onsets) {
    const bar = barAt(clock, onset).index;
    if (bar >= MOST_BARS) break;
    if (bar - before > LONGEST_PAUSE && onset > onsets[0]!) {
      const many = (bar - before).toLocaleString('en');
      return {
        bar: before + 1,
        why: `The file’s time is broken after bar ${barOf(clock, before).number}: nothing begins for ${many} bars`,
      };
    }
    before = bar;
  }
  if (bars <= MOST_BARS) return null;
  const goesOn = onsets.some((onset) => barAt(clock, onset).index >= MOST_BARS);
  return {
    bar: goesOn ? MOST_BARS : before + 1,
    why: `The file runs on for ${bars.toLocaleString('en')} bars`,
  };
}

/** Notes that sound for longer than anybody holds one are ended there. */
function endedInTime(performance: Performance): Performance {
  const { clock } = performance;
  const longest = 4 * LONGEST_HELD * clock.ticksPerQuarter;
  // What is shorter than this in any meter is looked at no closer: nearly all there is.
  const short = clock.meters.reduce(
    (least, { barTicks }) => Math.min(least, LONGEST_HELD * barTicks),
    longest,
  );
  let held = 0;
  const strands = performance.strands.map((strand) => {
    if (strand.notes.every(({ on, off }) => off - on < short)) return strand;
    const before = held;
    const notes = strand.notes.map((note) => {
      const from = barAt(clock, note.on).index;
      const isLong = barAt(clock, note.off).index - from > LONGEST_HELD;
      if (!isLong && note.off - note.on <= longest) return note;
      held++;
      const last = isLong ? Math.floor(barOf(clock, from + LONGEST_HELD).start) : note.off;
      return { ...note, off: Math.min(last, note.on + longest) };
    });
    return held === before ? strand : makeStrand({ ...strand, notes }, clock);
  });
  if (held === 0) return performance;
  const mend = {
    at: 0,
    what: `${counted(held, 'note')} ${held === 1 ? 'sounds' : 'sound'} for more than ${LONGEST_HELD} bars, or ${(4 * LONGEST_HELD).toLocaleString('en')} quarters.`,
    done: 'Ended there; the file itself is unchanged.',
  };
  return { ...performance, strands, mends: [...performance.mends, mend] };
}

/** The performance up to where its time can be believed and worked with; what lies beyond is counted and said. */
function withinLimits(whole: Performance): Performance {
  const performance = endedInTime(whole);
  const { clock } = performance;
  const found = limitOf(performance);
  if (!found) return performance;
  const limit = barOf(clock, found.bar).start;
  const before = <T extends { tick: number }>(all: readonly T[]): T[] =>
    all.filter(({ tick }) => tick < limit);
  let beyond = 0;
  const tempos = before(performance.tempos);
  const meters = before(performance.meters);
  const { ticksPerQuarter, upbeat, firstBar } = clock;
  const shorter = makeClock({ ticksPerQuarter, tempos, meters, upbeat, firstBar });
  const strands = performance.strands.flatMap((strand) => {
    const notes = strand.notes
      .filter((note) => note.on < limit)
      .map((note) => (note.off > limit ? { ...note, off: Math.floor(limit) } : note));
    beyond += strand.notes.length - notes.length;
    const shaping = strand.shaping.filter(({ event }) => event.tick < limit);
    return notes.length > 0 ? [makeStrand({ ...strand, notes, shaping }, shorter)] : [];
  });
  const last = barOf(clock, found.bar - 1).number.toLocaleString('en');
  return {
    ...performance,
    clock: shorter,
    strands,
    tempos,
    meters,
    keys: before(performance.keys),
    markers: before(performance.markers),
    lyrics: before(performance.lyrics),
    loose: before(performance.loose),
    end: Math.floor(limit),
    beyond,
    mends: [
      ...performance.mends,
      {
        at: 0,
        what: `${found.why}, with ${counted(beyond, 'note')} after that.`,
        done: `Read to bar ${last}; the file itself is unchanged.`,
      },
    ],
  };
}

/** A name that is nothing but a number: "2.", "II", "3rd". */
const NUMBER_ALONE = /^\W*(\d{1,2}|[ivx]{1,4})(st|nd|rd|th)?\W*$/i;

/** Strands that know whom they stand among: those that are only numbered go on from the last name with words above them. */
function inCompany(strands: readonly Strand[]): Strand[] {
  const companies = companiesOf(strands);
  let heading = '';
  return strands.map((strand, at) => {
    const company = companies[at];
    const isNumber = NUMBER_ALONE.test(strand.name);
    if (!isNumber) heading = strand.name;
    const isHeaded = isNumber && heading !== '';
    if (!isHeaded && !company) return strand;
    return { ...strand, ...(isHeaded && { heading }), ...(company && { company }) };
  });
}

const STRAND = node('strand', (of: { content: StrandContent; clock: Clock }) =>
  makeStrand(of.content, of.clock),
);
