import { counted } from '../basics/words';
import { groupings } from '../model/groups';
import type { EventId } from '../model/ids';
import type { Bar, Chord, Item, VoiceLine } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { type Stretch, writeBar } from '../notate/rhythm';
import type { Check, Found } from './finding';
import { eventsOf } from './sounded';

/** A chord that goes on whole into the next one. */
const goesInto = (before: Item, after: Item): boolean =>
  before.kind === 'chord' &&
  after.kind === 'chord' &&
  before.notes.length === after.notes.length &&
  before.notes.every(
    ({ key, tieStart }, at) => tieStart && after.notes[at]?.tieStop && after.notes[at].key === key,
  );

/** Items of a voice that are one: a chord and what it is tied to, or rests one after the other. */
function runsOf(items: readonly Item[]): Item[][] {
  const runs: Item[][] = [];
  for (const item of items) {
    const run = runs.at(-1);
    const last = run?.at(-1);
    if (run && last && (goesInto(last, item) || (last.kind === 'rest' && item.kind === 'rest')))
      run.push(item);
    else runs.push([item]);
  }
  return runs;
}

/** In a beat of three a quarter and an eighth rest are as usual as a dotted one (common practice): scraps are shorter. */
const EIGHTH = QUARTER / 2;

/** Ties across the middle of a bar show it, and are a matter of taste. */
const crosses = (from: Moment, to: Moment, middle: Moment): boolean => from < middle && to > middle;

interface Needless {
  at: Moment;
  notes: EventId[];
  /** How many ties, and rests, are more than the meter asks for. */
  ties: number;
  rests: number;
}

/**
 * What a voice of a bar has in more pieces than its meter asks for. Bars with tuplets are left alone, and those whose
 * meter does not say by itself how its beats group.
 */
function needlessIn({ items }: VoiceLine, bar: Bar): Needless[] {
  const isOdd = (item: Item) => item.tuplet !== undefined || (item.kind === 'rest' && item.hidden === true);
  if (items.length < 2 || items.some(isOdd) || groupings(bar.meter).length > 1) return [];
  const runs = runsOf(items);
  if (runs.every((run) => run.length === 1)) return [];
  const stretches = runs.map((run): Stretch<Item[]> => {
    const [first, last] = [run[0]!, run.at(-1)!];
    const start = first.onset + bar.missing;
    return { start, end: last.onset + last.duration + bar.missing, content: run };
  });
  const filled = stretches.at(-1)!.end - stretches[0]!.start;
  if (filled !== bar.length) return [];
  // Rests are written by their own rules: they have no content.
  const asked = stretches.map(({ start, end, content }) =>
    content?.[0]?.kind === 'rest' ? { start, end } : { start, end, content },
  );
  const written = writeBar(bar, asked);
  const middle = bar.missing + bar.length / 2;
  return stretches.flatMap(({ start, end, content: run }): Needless[] => {
    if (!run || run.length < 2) return [];
    const isRest = run[0]!.kind === 'rest';
    if (!isRest && crosses(start, end, middle)) return [];
    const pieces = written.filter(({ onset }) => onset >= start && onset < end).length;
    const more = run.length - pieces;
    if (more <= 0 || (isRest && more === 1 && run.every(({ duration }) => duration >= EIGHTH))) return [];
    const [first] = run;
    const notes = first?.kind === 'chord' ? eventsOf((first as Chord).notes) : [];
    return [{ at: bar.start + first!.onset, notes, ties: isRest ? 0 : more, rests: isRest ? more : 0 }];
  });
}

/** Ties that one value would spare, and rests in scraps, as programs write them that know no meter. */
export const checkNeedless: Check = ({ desk, result }) => {
  // What is written here follows the meter by itself.
  if (!desk.written) return [];
  const { bars } = result.frame;
  return result.score.parts.flatMap((part, index): Found[] => {
    if (part.anew) return [];
    const found = part.bars.flatMap(({ voices, shown }, at) => {
      const bar = bars[at];
      return !bar || shown ? [] : voices.flatMap((line) => needlessIn(line, bar));
    });
    const [first] = found;
    const plan = result.plans[index];
    if (!first || !plan) return [];
    const sum = (what: 'ties' | 'rests') => found.reduce((all, each) => all + each[what], 0);
    const [ties, rests] = [sum('ties'), sum('rests')];
    const said = [
      ties > 0 ? `${counted(ties, 'tie')} that a longer note would spare` : '',
      rests > 0 ? `${counted(rests, 'rest')} that a longer rest would spare` : '',
    ].filter(Boolean);
    return [
      {
        weight: 'remark',
        part: index,
        at: first.at,
        notes: found.flatMap(({ notes }) => notes),
        about: 'part',
        what: `${said.join(', ')}, first here.`,
        mends: [
          {
            label: 'Write the part again',
            directives: [{ kind: 'again', strand: plan.leader, again: true }],
          },
        ],
      },
    ];
  });
};
