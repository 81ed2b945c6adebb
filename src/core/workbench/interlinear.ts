import type { Decisions } from '../decisions/decisions';
import { withDirectives } from '../decisions/decisions';
import { sliceScore } from '../engrave/slice';
import { explainNote } from '../explain/explain';
import { type Frame, momentOf } from '../model/frame';
import type { EventId, PartId } from '../model/ids';
import { beatsOf } from '../model/meter';
import { barIndexOf } from '../model/score';
import { writeMusicXml } from '../sources/musicxml/write';
import type { Progress, Transcription } from '../transcribe';
import { textOfMoment } from '../transcribe/choices';
import type { Choice, InterlinearData, PlayedAndWritten } from './replies';
import type { Workbench, Written } from './workbench';

/** MusicXML of one part over some bars. */
function documentOf({ score }: Transcription, part: PartId, from: number, to: number): string {
  // The name stands beside the row already; without it all staves begin at one place.
  const cut = sliceScore(score, new Set([part]), from, to);
  cut.parts = cut.parts.map((each) => ({ ...each, name: '', abbreviation: '' }));
  return writeMusicXml(cut, { continues: from > 0, goesOn: to < score.bars.length });
}

/** One part over some bars, as played and as written. */
export function interlinear(
  result: Transcription,
  decisions: Decisions,
  part: PartId,
  from: number,
  to: number,
): InterlinearData | null {
  const { frame, plans, readings } = result;
  const reading = readings[plans.findIndex((plan) => plan.id === part)];
  const first = frame.bars[from];
  const last = frame.bars[Math.min(to, frame.bars.length) - 1];
  if (!reading || !first || !last) return null;
  const end = last.start + last.length;
  const notes: PlayedAndWritten[] = [];
  let lowest = 127;
  let highest = 0;
  for (const attack of reading.attacks)
    for (const played of attack.notes) {
      lowest = Math.min(lowest, played.key);
      highest = Math.max(highest, played.key);
      const written = reading.notes.get(played.id);
      if (!written) continue;
      const playedStart = momentOf(frame, played.on);
      const playedEnd = momentOf(frame, played.off);
      const isIn = (at: number, until: number) => at < end && until >= first.start;
      if (!isIn(Math.min(playedStart, written.start), Math.max(playedEnd, written.end))) continue;
      notes.push({
        id: played.id,
        key: played.key,
        velocity: played.velocity,
        playedStart,
        playedEnd,
        start: written.start,
        end: written.end,
        grace: written.grace ?? false,
        decided: decisions.places.has(played.id),
      });
    }
  return {
    document: documentOf(result, part, from, to),
    notes,
    bars: frame.bars.slice(from, to).map((bar) => ({
      start: bar.start,
      end: bar.start + bar.length,
      number: bar.number,
      beats: beatsOf(bar)
        .map((beat) => bar.start - bar.missing + beat.start)
        .filter((at) => at >= bar.start && at < bar.start + bar.length),
    })),
    lowest,
    highest,
  };
}

/** The other readings of a note, each worked out for real and cut to its bar. */
export function* choicesOf(
  workbench: Workbench,
  { transcription: result, ...state }: Written,
  note: EventId,
): Generator<Progress, Choice[]> {
  const explained = explainNote(result, note);
  if (!explained) return [];
  const { part, alternatives } = explained;
  const { id } = result.plans[part]!;
  const choices: Choice[] = [];
  for (const each of alternatives) {
    const start = textOfMoment(each.moment);
    const brief = withDirectives(state.desk.brief, [{ kind: 'place', note, start, grace: each.grace }]);
    const tried = yield* workbench.tried(state, brief);
    const bar = barIndexOf(result.frame.bars, Math.min(each.moment, explained.start.moment));
    choices.push({
      start,
      grace: each.grace,
      document: documentOf(tried, id, bar, bar + 1),
      bar: each.bar,
      quarters: each.quarters,
      worse: each.worse,
    });
  }
  return choices;
}

/** The tick after the last bar. */
export function tickOfEnd(frame: Frame): number {
  const last = frame.clock.meters.at(-1)!;
  return frame.ticks.at(-1)! + last.barTicks;
}
