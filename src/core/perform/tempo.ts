import type { Score } from '../model/score';
import type { Moment } from '../model/time';
import { QUARTER, valueSpan } from '../model/time';

/** A tempo by its written moment, from the start of the piece; quarters a minute. */
export interface WrittenTempo {
  at: Moment;
  quartersPerMinute: number;
}

/** Tempo words and what they mean in quarters a minute where nothing else says it (common practice, mid of the usual range). */
const WORDS: readonly [RegExp, number][] = [
  [/^larghissimo/i, 30],
  [/^grave/i, 40],
  [/^largo/i, 50],
  [/^larghetto/i, 60],
  [/^lento/i, 55],
  [/^adagio/i, 66],
  [/^andantino/i, 84],
  [/^andante/i, 76],
  [/^moderato/i, 104],
  [/^allegretto/i, 112],
  [/^allegro/i, 132],
  [/^vivace/i, 150],
  [/^presto/i, 176],
];

/**
 * The tempos of a score by their written moments: what sounds before what is
 * printed, a metric relation by the values that it names, and the words of a
 * tempo where nothing gives a figure.
 */
export function temposOf(score: Score, gradual = true): WrittenTempo[] {
  const found = new Map<Moment, number>();
  const said: { at: Moment; pace?: number; relation?: number }[] = [];
  score.parts.forEach((part) => {
    part.bars.forEach((bar, index) => {
      for (const mark of bar.marks ?? []) {
        const at = score.bars[index]!.start + mark.at;
        if (mark.kind === 'words' && index === 0 && mark.at === 0) {
          const pace = WORDS.find(([words]) => words.test(mark.text))?.[1];
          if (pace !== undefined && !found.has(at)) found.set(at, pace);
        }
        if (mark.kind !== 'tempo') continue;
        const { metronome, quartersPerMinute, text } = mark.tempo;
        const byWords = text ? WORDS.find(([words]) => words.test(text))?.[1] : undefined;
        const relation =
          metronome && 'equals' in metronome
            ? valueSpan(metronome.equals) / valueSpan(metronome.value)
            : undefined;
        const pace =
          quartersPerMinute ?? (metronome && 'perMinute' in metronome ? figureOf(metronome) : byWords);
        said.push({ at, ...(pace !== undefined && { pace }), ...(relation !== undefined && { relation }) });
      }
    });
  });
  for (const { bar, at, quartersPerMinute } of score.tempos)
    found.set(score.bars[bar]!.start + at, quartersPerMinute);
  for (const { at, pace, relation } of said.sort((a, b) => a.at - b.at)) {
    if (pace !== undefined) found.set(at, pace);
    else if (relation !== undefined) {
      const before = [...found].filter(([moment]) => moment < at).sort((a, b) => b[0] - a[0])[0]?.[1] ?? 120;
      // The old value lasts as long as the new one.
      found.set(at, before * relation);
    }
  }
  const steady = [...found]
    .map(([at, quartersPerMinute]) => ({ at, quartersPerMinute }))
    .filter(({ quartersPerMinute }) => quartersPerMinute > 0)
    .sort((a, b) => a.at - b.at);
  return gradual ? withGradual(score, steady) : steady;
}

/** Words of gradual change, how far it goes where no goal is said (common practice: about a quarter), and of going back. */
const GRADUAL: readonly [RegExp, number][] = [
  [/^(poco |molto )?(rit(?:\b|ard|en)|rall(?:\b|ent)|allarg|slow(?:ing|er)\b|slow down)/i, 0.75],
  [/^(poco |molto )?(accel|string(?:\.|endo|$)|press(?:\.|ando|ez|$))/i, 1.25],
];
const BACK = /^(a tempo|tempo (primo|i\b|1))/i;
/** Whether words change the tempo by degrees, or take it back. */
export const isTempoWord = (text: string): boolean =>
  BACK.test(text) || GRADUAL.some(([pattern]) => pattern.test(text));

/** Without an end a gradual change takes so many bars. */
const GRADUAL_BARS = 2;
/** One step of tempo for each of these. */
const STEP = QUARTER / 2;

/** Rit. and accel. as steps of tempo, up to the next tempo or "a tempo". */
function withGradual(score: Score, steady: readonly WrittenTempo[]): WrittenTempo[] {
  const words = score.parts
    .flatMap((part) =>
      part.bars.flatMap((bar, index) =>
        (bar.marks ?? []).flatMap((mark) => {
          const text =
            mark.kind === 'words' ? mark.text : mark.kind === 'tempo' ? (mark.tempo.text ?? '') : '';
          return text ? [{ at: score.bars[index]!.start + mark.at, bar: index, text: text.trim() }] : [];
        }),
      ),
    )
    .sort((a, b) => a.at - b.at);
  const out = new Map(steady.map(({ at, quartersPerMinute }) => [at, quartersPerMinute]));
  const paceAt = (moment: Moment) => steady.findLast(({ at }) => at <= moment)?.quartersPerMinute ?? 120;
  const done = new Set<Moment>();
  for (const { at, bar, text } of words) {
    const by = GRADUAL.find(([pattern]) => pattern.test(text))?.[1];
    if (by === undefined || done.has(at)) continue;
    done.add(at);
    const next = steady.find((each) => each.at > at);
    const back = words.find((each) => each.at > at && BACK.test(each.text));
    const last = score.bars[Math.min(score.bars.length - 1, bar + GRADUAL_BARS)]!;
    const end = Math.min(
      next?.at ?? Number.POSITIVE_INFINITY,
      back?.at ?? Number.POSITIVE_INFINITY,
      last.start + last.length,
    );
    const from = paceAt(at);
    const isGoal = next !== undefined && next.at === end && next.quartersPerMinute < from === by < 1;
    const goal = isGoal ? next.quartersPerMinute : from * by;
    for (let moment = at; moment < end; moment += STEP)
      out.set(moment, Math.round(100 * (from + ((goal - from) * (moment - at)) / (end - at))) / 100);
    // What was before comes back where nothing else begins.
    if (!out.has(end)) out.set(end, from);
  }
  return [...out].map(([at, quartersPerMinute]) => ({ at, quartersPerMinute })).sort((a, b) => a.at - b.at);
}

function figureOf({
  value,
  perMinute,
}: {
  value: Parameters<typeof valueSpan>[0];
  perMinute: string;
}): number | undefined {
  const figure = Number(/\d+(\.\d+)?/.exec(perMinute)?.[0]);
  return figure > 0 ? (figure * valueSpan(value)) / QUARTER : undefined;
}
