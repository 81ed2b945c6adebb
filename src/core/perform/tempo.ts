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
export function temposOf(score: Score): WrittenTempo[] {
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
  return [...found]
    .map(([at, quartersPerMinute]) => ({ at, quartersPerMinute }))
    .filter(({ quartersPerMinute }) => quartersPerMinute > 0)
    .sort((a, b) => a.at - b.at);
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
