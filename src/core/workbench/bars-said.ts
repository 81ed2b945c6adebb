import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import type { Barline, Score } from '../model/score';

/** What stands at a bar for all parts, as it is in the score now. */
export interface BarSaid {
  /** Index of the bar. */
  bar: number;
  rehearsal?: string;
  /** Words, and how fast it sounds, where a tempo is printed. */
  tempo?: { text?: string; quartersPerMinute?: number };
  /** A signature that begins here, in concert pitch. */
  key?: { fifths: number; minor: boolean };
  /** The line at its end, in MusicXML's words, where it is not the usual one. */
  line?: string;
  repeatsFrom?: true;
  /** How often it is played up to its end. */
  repeatsTo?: number;
  /** An ending that begins here: its numbers, and how many bars it goes over. */
  ending?: { text: string; bars: number };
}

/** The bars at which something stands for all parts, in order. */
export const barsSaid = (score: Score): readonly BarSaid[] => remembered(score, BARS_SAID, score);

const BARS_SAID = node('bars said', ({ bars, keys, tempos, rehearsals, parts }: Score): BarSaid[] => {
  const said = new Map<number, BarSaid>();
  const at = (bar: number): BarSaid => {
    const made = said.get(bar) ?? { bar };
    said.set(bar, made);
    return made;
  };
  for (const { bar, fifths, minor } of keys) if (bar > 0) at(bar).key = { fifths, minor };
  for (const { bar, text } of rehearsals) at(bar).rehearsal ??= text;
  for (const { bar, at: moment, printed, text, quartersPerMinute } of tempos)
    if (moment === 0 && (printed !== null || text !== undefined))
      at(bar).tempo = { ...(text !== undefined && { text }), ...(printed !== null && { quartersPerMinute }) };
  // A score that was read has them among the marks of its parts.
  for (const { bars: own } of parts)
    own.forEach(({ marks = [] }, bar) => {
      for (const mark of marks) {
        if (mark.at > 0) continue;
        if (mark.kind === 'rehearsal') at(bar).rehearsal ??= mark.text;
        if (mark.kind !== 'tempo') continue;
        const { text, quartersPerMinute } = mark.tempo;
        at(bar).tempo ??= {
          ...(text !== undefined && { text }),
          ...(quartersPerMinute !== undefined && { quartersPerMinute }),
        };
      }
    });
  for (const { index, left, right } of bars) {
    if (left?.repeat) at(index).repeatsFrom = true;
    if (right?.repeat) at(index).repeatsTo = right.repeat.times ?? 2;
    else if (right?.style && right.style !== 'regular') at(index).line = right.style;
    if (left?.ending) at(index).ending = { text: endingText(left.ending), bars: 1 };
  }
  for (const each of said.values()) {
    if (!each.ending) continue;
    const last = bars.findIndex(({ index, right }) => index >= each.bar && right?.ending);
    if (last >= 0) each.ending.bars = last - each.bar + 1;
  }
  return [...said.values()].sort((one, other) => one.bar - other.bar);
});

const endingText = ({ numbers }: NonNullable<Barline['ending']>): string => numbers.join(', ');
