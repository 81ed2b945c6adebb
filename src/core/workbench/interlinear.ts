import type { Decisions } from '../decisions/decisions';
import { withDirectives } from '../decisions/decisions';
import { inPitch } from '../engrave/pitch';
import { inFull } from '../engrave/slashes';
import { sliceScore } from '../engrave/slice';
import { explainNote } from '../explain/explain';
import { type Frame, momentOf } from '../model/frame';
import type { EventId, PartId } from '../model/ids';
import { beatsOf } from '../model/meter';
import { barIndexOf, type Score } from '../model/score';
import { type Moment, textOfMoment } from '../model/time';
import { writeMusicXml } from '../sources/musicxml/write';
import type { Progress, Transcription } from '../transcribe';
import type { Choice, InterlinearData, InterlinearRow, PlayedAndWritten } from './replies';
import type { Workbench, Written } from './workbench';

/** MusicXML of some parts over some bars, as one system without names and brackets. */
function documentOf(score: Score, parts: ReadonlySet<PartId>, from: number, to: number): string {
  const cut = sliceScore(score, parts, from, to);
  // The names stand beside the rows already.
  cut.parts = cut.parts.map((each) => ({ ...each, name: '', abbreviation: '' }));
  return writeMusicXml(
    { ...inFull(cut), groups: [] },
    { after: score.bars[from - 1], goesOn: to < score.bars.length },
  );
}

/** Some parts over some bars, as played and as written, in concert pitch where asked; null where there is no such bar. */
export function interlinear(
  result: Transcription,
  decisions: Decisions,
  parts: ReadonlySet<PartId>,
  from: number,
  to: number,
  concert = false,
): InterlinearData | null {
  const { frame } = result;
  const score = inPitch(result.score, concert);
  const bars = frame.bars.slice(from, to);
  const [first, last] = [bars[0], bars.at(-1)];
  if (!first || !last) return null;
  return {
    document: documentOf(score, parts, from, to),
    rows: score.parts
      .filter(({ id }) => parts.has(id))
      .map(({ id, clefs }) => ({
        part: id,
        staves: clefs.length,
        ...playedAndWritten(result, decisions, id, first.start, last.start + last.length),
      })),
    bars: bars.map((bar) => ({
      start: bar.start,
      end: bar.start + bar.length,
      number: bar.number,
      beats: beatsOf(bar)
        .map((beat) => bar.start - bar.missing + beat.start)
        .filter((at) => at >= bar.start && at < bar.start + bar.length),
    })),
  };
}

/** The notes of a part that sound or stand within a stretch of the score, and the range of the whole part. */
function playedAndWritten(
  { frame, plans, readings }: Transcription,
  decisions: Decisions,
  part: PartId,
  from: Moment,
  to: Moment,
): Pick<InterlinearRow, 'notes' | 'unwritable' | 'lowest' | 'highest'> {
  const reading = readings[plans.findIndex((plan) => plan.id === part)];
  const notes: PlayedAndWritten[] = [];
  let lowest = 127;
  let highest = 0;
  for (const attack of reading?.attacks ?? [])
    for (const played of attack.notes) {
      lowest = Math.min(lowest, played.key);
      highest = Math.max(highest, played.key);
      const written = reading?.notes.get(played.id);
      if (!written) continue;
      const playedStart = momentOf(frame, played.on);
      const playedEnd = momentOf(frame, played.off);
      const isIn = (at: number, until: number) => at < to && until >= from;
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
  const unwritable = (reading?.unwritable ?? []).flatMap(({ id, key, on, off }) => {
    const playedStart = momentOf(frame, on);
    const playedEnd = momentOf(frame, off);
    return playedStart < to && playedEnd >= from ? [{ id, key, playedStart, playedEnd }] : [];
  });
  return { notes, unwritable, lowest, highest };
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
      document: documentOf(tried.score, new Set([id]), bar, bar + 1),
      bar: each.bar,
      words: each.words,
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
