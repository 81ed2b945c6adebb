import { lastAtOrBefore } from '../basics/search';
import type { Desk } from '../clean/desk';
import type { PlainDirective } from '../decisions/kinds';
import { areHeard } from '../decisions/kinds/beats';
import {
  type BeatEdit,
  type EditedBeats,
  editBeats,
  fileBeats,
  foundBeats,
  spelledBeats,
} from '../edit/edit-beats';
import { type ProposedMeter, proposeMeters } from '../infer/meter/meters';
import { barsOfPiece, secondsAt } from '../model/clock';

/** The beats of a piece over its notes, in seconds of the source. */
export interface BeatSheet {
  /** Whether they are the file's own, followed as they are heard, or decided. */
  from: 'file' | 'heard' | 'decided';
  beats: EditedBeats;
  seconds: Float64Array;
  notes: { on: Float64Array; off: Float64Array; key: Uint8Array };
  end: number;
  /** Printed number of the first whole bar. */
  firstBar: number;
  /** Meters that the accents suggest over these beats, the best first; none where the file has several of its own. */
  meters: ProposedMeter[];
  /** What playing is ahead of the source by, where silence was taken off. */
  ahead: number;
}

/** A bar line this near a beat stands on it, in seconds. */
const ON_BEAT = 0.012;

/** The beats in force; where a meter was taken for the whole piece, with its bars. */
function beatsOf(desk: Desk): EditedBeats {
  const { decisions, source, performance } = desk;
  const own = decisions.beats ? spelledBeats(decisions.beats) : fileBeats(source);
  if (!decisions.meter) return own;
  const ahead = aheadOf(desk);
  const starts = barsOfPiece(performance.clock, performance.end)
    .filter((bar) => !bar.isUpbeat)
    .map((bar) => secondsAt(performance.clock, bar.start) + ahead);
  const bars = own.ticks.flatMap((tick, index) => {
    const at = secondsAt(source.clock, tick);
    const start = starts[lastAtOrBefore(starts, at + ON_BEAT, (each) => each)];
    return start !== undefined && Math.abs(start - at) < ON_BEAT ? [index] : [];
  });
  const [first, second] = bars;
  if (first === undefined || second === undefined) return own;
  return { ...own, bars, perBar: Math.min(12, second - first) };
}

/** What playing is ahead of the source by, in seconds, where silence was taken off. */
function aheadOf({ source, performance, decisions }: Desk): number {
  if (!decisions.trimSilence) return 0;
  const first = source.strands[0]?.notes[0];
  const now = performance.strands.flatMap((strand) => strand.notes).find((note) => note.id === first?.id);
  if (!first || !now) return 0;
  return secondsAt(source.clock, first.on) - secondsAt(performance.clock, now.on);
}

/** One meter for the whole piece is a question only where the file does not change its own. */
const mayBeAsked = ({ source, decisions }: Desk): boolean =>
  source.meters.length <= 1 || Boolean(decisions.beats);

function sourceOfBeats({ decisions: { beats } }: Desk): BeatSheet['from'] {
  if (!beats) return 'file';
  return areHeard(beats) ? 'heard' : 'decided';
}

export function beatSheet(desk: Desk): BeatSheet {
  const { source, performance } = desk;
  const beats = beatsOf(desk);
  const notes = source.strands.flatMap((strand) => strand.notes);
  const at = (tick: number) => secondsAt(source.clock, tick);
  return {
    from: sourceOfBeats(desk),
    beats,
    seconds: Float64Array.from(beats.ticks, at),
    notes: {
      on: Float64Array.from(notes, (note) => at(note.on)),
      off: Float64Array.from(notes, (note) => at(note.off)),
      key: Uint8Array.from(notes, (note) => note.key),
    },
    end: at(source.end),
    firstBar: source.clock.firstBar,
    meters: mayBeAsked(desk) ? proposeMeters(performance) : [],
    ahead: aheadOf(desk),
  };
}

/** A change of the beats: an edit, finding them anew, or going back to the file's. */
export type BeatChange = BeatEdit | { edit: 'find' } | { edit: 'file' };

/** The decision that a change of the beats comes to; none where it changes nothing. */
export function decideBeats(desk: Desk, change: BeatChange): PlainDirective[] {
  const { source, decisions } = desk;
  if (change.edit === 'file')
    return decisions.beats ? [{ kind: 'beats', ticks: [], perBar: decisions.beats.perBar, first: 0 }] : [];
  const before = beatsOf(desk);
  const after = change.edit === 'find' ? foundBeats(source) : editBeats(before, change, source);
  if (!after || after === before) return [];
  // Its bars are in the beats from now on.
  const without: PlainDirective = { kind: 'meter', numerator: null, denominator: 4, upbeatQuarters: 0 };
  return [{ kind: 'beats', ...after }, ...(decisions.meter ? [without] : [])];
}
