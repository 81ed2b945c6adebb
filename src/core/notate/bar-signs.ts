import { type BarSignChoice, rightLine } from '../model/bar-signs';
import type { Bar, RehearsalMark, Score, TempoMark } from '../model/score';

/** What a performance plays as often as it does, and how fast, its own notes and clock say. */
const OF_PLAYING = {
  'repeat-from': 'Repeats of a performance are folded in Notes',
  'repeat-to': 'Repeats of a performance are folded in Notes',
  ending: 'Endings of a performance are folded in Notes',
} as const;

/**
 * A score with rehearsal marks, words of tempos and bar lines put at its bars, or taken off.
 *
 * @param choices the last about each thing at each bar
 * @returns also what could not be done, as sentences
 */
export function withBarSigns<T extends Pick<Score, 'bars' | 'tempos' | 'rehearsals'>>(
  score: T,
  choices: readonly BarSignChoice[],
): { score: T; undone: string[] } {
  if (choices.length === 0) return { score, undone: [] };
  const undone: string[] = [];
  const indices = new Map(score.bars.map(({ start, index }) => [start, index]));
  const bars: Bar[] = [...score.bars];
  let { rehearsals, tempos } = score;
  for (const choice of choices) {
    const index = indices.get(choice.at);
    const bar = index === undefined ? undefined : bars[index];
    if (index === undefined || !bar) {
      undone.push('A sign of a bar waits: no bar begins where it was put.');
      continue;
    }
    const { what, put, text = '' } = choice;
    // Notes are spelled by keys: they are settled before.
    if (what === 'key') continue;
    if (what === 'rehearsal') rehearsals = withMark(rehearsals, index, put ? text : null);
    else if (what === 'tempo') {
      tempos = withTempo(tempos, index, put ? text : null);
      if (choice.quartersPerMinute !== undefined)
        undone.push(`Bar ${bar.number}: a performance keeps the tempo of its clock; its words stand there.`);
    } else if (what === 'bar-line') {
      const { right: before, ...others } = bar;
      const right = rightLine(before, [choice]);
      bars[index] = Object.keys(right).length === 0 ? others : { ...others, right };
    } else undone.push(`Bar ${bar.number}: ${OF_PLAYING[what]}.`);
  }
  return { score: { ...score, bars, rehearsals, tempos }, undone };
}

function withMark(marks: readonly RehearsalMark[], bar: number, text: string | null): RehearsalMark[] {
  const others = marks.filter((mark) => mark.bar !== bar);
  const now = text === null ? others : [...others, { bar, text }];
  return now.sort((one, other) => one.bar - other.bar);
}

/** @param text null for a bar without words and figure */
function withTempo(tempos: readonly TempoMark[], bar: number, text: string | null): TempoMark[] {
  const here = tempos.find((each) => each.bar === bar && each.at === 0);
  const said = text ? { text } : {};
  if (!here) {
    // Whatever holds there goes on: only its words are new.
    const before = tempos.findLast((each) => each.bar < bar);
    if (!before || !text) return [...tempos];
    const { quartersPerMinute } = before;
    const made: TempoMark = { bar, at: 0, quartersPerMinute, printed: null, ...said };
    return [...tempos, made].sort((one, other) => one.bar - other.bar || one.at - other.at);
  }
  const { text: _, ...others } = here;
  const now: TempoMark = text === null ? { ...others, printed: null } : { ...others, ...said };
  return tempos.map((each) => (each === here ? now : each));
}
