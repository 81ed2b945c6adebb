import type { Steps } from '../basics/steps';
import { type Answer, type Answered, answersTo } from '../edit/answers';
import { timeMap } from '../reconcile/time-map';
import { type Compared, groupsOf, laidOver } from './compare';
import type { Workbench, Written } from './workbench';

/**
 * The decisions by which chosen differences between the job's score and another reading go.
 *
 * @param pair the readings as they were compared, one of them the score
 * @param rows ids of differences, as `compare` names them
 * @throws RangeError where neither or both are the score, or where the score is not one that was read
 */
export function* answered(
  bench: Workbench,
  written: Written,
  pair: [Compared, Compared],
  rows: readonly string[],
  answer: Answer,
): Steps<Answered> {
  const isSecond = pair[1].kind === 'score';
  if (isSecond === (pair[0].kind === 'score')) throw new RangeError('One of the two must be the score.');
  if (!written.desk.written) throw new RangeError('Notes are taken over into scores that were read only.');
  const { one, two, ledger } = yield* laidOver(bench, written, pair);
  if (!ledger) return { directives: [], left: 0 };
  const groups = groupsOf(ledger.entries, one, two);
  const entries = rows.flatMap((id) => groups.get(id)?.entries ?? []);
  const { pairs, of } = ledger.units;
  const sides = isSecond ? { score: two, other: one } : { score: one, other: two };
  const edited = { result: written.transcription, written: written.desk.decisions.writtenNotes };
  if (!isSecond) {
    const turned = pairs.map(({ one: a, two: b }) => ({ one: b, two: a }));
    const toScore = timeMap(turned, [of[1], of[0]]);
    return answersTo({ ...edited, ...sides, lines: ledger.lines, toScore }, entries, answer);
  }
  const lines = ledger.lines.map(({ one: a, two: b, transposed, whole }) => ({
    one: b,
    two: a,
    transposed: -transposed,
    whole,
  }));
  const turned = entries.map((entry) => ({ ...entry, one: entry.two, two: entry.one }));
  return answersTo({ ...edited, ...sides, lines, toScore: timeMap(pairs, of) }, turned, answer);
}
