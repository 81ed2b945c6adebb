import type { PartPlan } from '../cast/route';
import { type Decisions, decidedFor, type StrandDecisions } from '../decisions/decisions';
import { lastAt } from '../decisions/kind';
import { DEFAULT_GRID, type GridChoice } from '../decisions/kinds/grid';
import type { LineChoice } from '../decisions/kinds/line';
import type { MarksChoice } from '../decisions/kinds/marks';
import type { PlaceChoice } from '../decisions/kinds/place';
import type { SwingChoice } from '../decisions/kinds/swing';
import { DEFAULT_VALUES, type ValuesChoice } from '../decisions/kinds/values';
import type { Lead } from '../infer/lead/lead-of';
import { type DrumLayout, drumLayout, hasOneLowKick } from '../instruments/kit';
import { type ClockBar, isSameMeter } from '../model/clock';
import { type Frame, frameEnd } from '../model/frame';
import type { Groups } from '../model/groups';
import { type EventId, type StrandId, strandOf, wholeStrand } from '../model/ids';
import type { Strand } from '../model/performance';
import type { Interval } from '../model/pitch';
import type { SwingMark } from '../model/score';
import { swingInBar } from '../model/swing';
import { type Moment, momentOfText } from '../model/time';

/** Where one note is to be written. */
export interface Decided {
  start?: Moment;
  end?: Moment;
  grace?: boolean;
}

/** What was decided about the rhythm of one part, as it was said. */
export interface RhythmDecisions
  extends Pick<StrandDecisions, 'grids' | 'lengths' | 'values' | 'voices' | 'drums'> {
  /** Its only bass drum is the lower of General MIDI's two. */
  oneLowKick: boolean;
  /** What was said of tremolos and trills, which are one note each where they are shown. */
  strokes: readonly MarksChoice[];
  /** By note of the source. */
  places: readonly [EventId, PlaceChoice][];
  pitches: readonly [EventId, Interval][];
  lines: readonly [EventId, LineChoice][];
}

/** The same for each bar and note. */
export interface RhythmChoices {
  /** By index of the bar. */
  grids: readonly GridChoice[];
  closings: readonly number[];
  values: readonly ValuesChoice[];
  voices: readonly (1 | 2)[];
  /** By note of the source. */
  places: ReadonlyMap<EventId, Decided>;
  /** In which voice and on which staff single notes stand. */
  lines: ReadonlyMap<EventId, LineChoice>;
  /** How drum sounds are written. */
  drums: DrumLayout;
  /** What was said of tremolos and trills. */
  strokes: readonly MarksChoice[];
  /** How far single notes were moved from where they were played. */
  pitches: ReadonlyMap<EventId, Interval>;
  /** Notes that were decided to stand after the end of the piece, and stand where they were heard. */
  beyond: number;
}

/** The decisions about one part's rhythm, and about the notes of its strands; with what its kit says of its layout. */
export function rhythmDecisions(
  { leader, instrument }: Pick<PartPlan, 'leader' | 'instrument'>,
  played: readonly Strand[],
  decisions: Decisions,
): RhythmDecisions {
  const strands = played.map(({ id }) => id);
  const { grids, lengths, values, voices, drums, marks = [] } = decidedFor(decisions, leader);
  const roots = new Set(strands.map(wholeStrand));
  const ofPart = <T>(all: ReadonlyMap<EventId, T>) => [...all].filter(([note]) => roots.has(strandOf(note)));
  return {
    ...(grids && { grids }),
    ...(lengths && { lengths }),
    ...(values && { values }),
    ...(voices && { voices }),
    ...(drums && { drums }),
    oneLowKick:
      instrument.unpitched && hasOneLowKick(played.flatMap(({ notes }) => notes.map(({ key }) => key))),
    strokes: marks.filter(({ what }) => what === 'tremolos' || what === 'trills'),
    places: ofPart(decisions.places),
    pitches: ofPart(decisions.pitches),
    lines: ofPart(decisions.lines),
  };
}

/** Lays the decisions about one part's rhythm over its bars. A choice that is the same over bars stays one object. */
export function rhythmChoices(decided: RhythmDecisions, frame: Frame): RhythmChoices {
  const places = new Map<EventId, Decided>();
  let beyond = 0;
  for (const [note, choice] of decided.places) {
    const moments = momentsOf(choice);
    // There is no paper after the end of the piece.
    if ((moments.start ?? 0) < frameEnd(frame)) places.set(note, moments);
    else beyond++;
  }
  return {
    grids: frame.ticks.map((tick): GridChoice => lastAt(decided.grids, tick) ?? DEFAULT_GRID),
    closings: frame.ticks.map((tick) => lastAt(decided.lengths, tick)?.closing ?? 1),
    values: frame.ticks.map((tick): ValuesChoice => lastAt(decided.values, tick) ?? DEFAULT_VALUES),
    voices: frame.ticks.map((tick) => lastAt(decided.voices, tick)?.most ?? 2),
    places,
    pitches: new Map(decided.pitches),
    lines: new Map(decided.lines),
    drums: drumLayout(decided.drums, decided.oneLowKick),
    strokes: decided.strokes,
    beyond,
  };
}

const momentsOf = ({ start, end, grace }: PlaceChoice): Decided => ({
  ...(start !== undefined && { start: momentOfText(start) }),
  ...(end !== undefined && { end: momentOfText(end) }),
  ...(grace !== undefined && { grace }),
});

/** The groups that were found, as decisions overrule them bar by bar. */
export function decideGroups(
  found: readonly (Groups | null)[],
  bars: readonly ClockBar[],
  decisions: Pick<Decisions, 'groups'>,
): readonly (Groups | null)[] {
  if (decisions.groups.length === 0) return found;
  return found.map((own, index) => {
    const { meter, start } = bars[index]!;
    const choices = decisions.groups.filter((choice) => isSameMeter(choice, meter));
    const groups = lastAt(choices, start)?.groups ?? [];
    return own && groups.length > 0 ? groups : own;
  });
}

/** The swing that was found, as decisions overrule it bar by bar. */
export function decideSwing(
  found: readonly SwingMark[],
  { swings }: Pick<Decisions, 'swings'>,
  frame: Frame,
): SwingMark[] {
  if (swings.length === 0) return [...found];
  const out: SwingMark[] = [];
  frame.ticks.forEach((tick, bar) => {
    const choice = lastAt(swings, tick);
    const own = swingInBar(found, bar);
    const swing = choice && choice.use !== 'found' ? swingOf(choice, own) : own;
    if (!swing) return;
    const { value, ratio } = swing;
    const last = out.at(-1);
    if (last && last.to === bar && last.ratio === ratio && last.value === value) last.to = bar + 1;
    else out.push({ from: bar, to: bar + 1, value, ratio });
  });
  return out;
}

/** A decided swing; its ratio is the one that was found, where none was decided. */
function swingOf(
  { use, value = 'eighth', ratio }: Pick<SwingChoice, 'use' | 'value' | 'ratio'>,
  found: SwingMark | undefined,
): Pick<SwingMark, 'value' | 'ratio'> | undefined {
  if (use === 'straight') return undefined;
  return { value, ratio: ratio ?? (found?.value === value ? found.ratio : 2 / 3) };
}

/** The lead that was decided for a strand, or what was found. */
export function decideLead(found: Lead, strand: StrandId, decisions: Decisions): Lead {
  const decided = decidedFor(decisions, strand).lead;
  return decided === undefined || decided === null ? found : { seconds: decided / 1000 };
}
