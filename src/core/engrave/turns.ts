import { node } from '../basics/graph';
import { remembered } from '../basics/remember';
import { lastAtOrBefore } from '../basics/search';
import type { Bar, Part, Score } from '../model/score';
import { type Moment, QUARTER } from '../model/time';
import { temposOf } from '../perform/tempo';

/** What is played where nothing says it (MIDI 1.0, `Set Tempo`). */
const USUAL_PACE = 120;
/** A longer rest is no better to turn in. */
const ENOUGH = 10;

/** Seconds in which nobody of some parts plays, around the end of a bar: time to turn a page there. */
export function restAround(score: Score, parts: ReadonlySet<Part['id']>, bar: number): number {
  const end = score.bars[bar]!.start + score.bars[bar]!.length;
  const shown = score.parts.filter(({ id }) => parts.has(id));
  let [last, next] = [0, score.bars.at(-1)!.start + score.bars.at(-1)!.length];
  for (const part of shown) {
    const { starts, ends } = soundingIn(score, part);
    const after = firstAtOrAfter(starts, end);
    // A note that is held over the end leaves no time.
    const until = Math.min(end, ends[after - 1] ?? 0);
    if ((ends[after - 1] ?? 0) > end) return 0;
    last = Math.max(last, until);
    next = Math.min(next, starts[after] ?? next);
  }
  return Math.min(ENOUGH, secondsBetween(score, last, next));
}

const firstAtOrAfter = (values: readonly Moment[], value: Moment): number => {
  const at = lastAtOrBefore(values, value, (each) => each);
  return values.length === 0 || values[at]! >= value ? at : at + 1;
};

/** When a part begins to play, and until when it has played by then at the latest; both in order. */
const SOUNDING = node('sounding', ({ part, bars: of }: { part: Part; bars: readonly Bar[] }) => {
  const all = part.bars.flatMap(({ voices }, bar) =>
    voices.flatMap(({ items }) =>
      items.flatMap((item): [Moment, Moment][] => {
        if (item.kind === 'rest' || item.cue) return [];
        const start = of[bar]!.start + item.onset;
        return [[start, start + item.duration]];
      }),
    ),
  );
  all.sort((a, b) => a[0] - b[0]);
  let latest = 0;
  return {
    starts: all.map(([start]) => start),
    ends: all.map(([, end]) => {
      latest = Math.max(latest, end);
      return latest;
    }),
  };
});

const soundingIn = ({ bars }: Score, part: Part) => remembered(part, SOUNDING, { part, bars });

const TEMPOS = node('tempos', ({ score }: { score: Score }) => temposOf(score));

function secondsBetween(score: Score, from: Moment, to: Moment): number {
  const tempos = remembered(score, TEMPOS, { score });
  let seconds = 0;
  for (let at = from; at < to; ) {
    const index = lastAtOrBefore(tempos, at, (tempo) => tempo.at);
    const tempo = tempos[index];
    const holds = tempo !== undefined && tempo.at <= at;
    const until = Math.min(to, tempos[holds ? index + 1 : index]?.at ?? to);
    seconds += ((until - at) / QUARTER) * (60 / (holds ? tempo.quartersPerMinute : USUAL_PACE));
    at = until > at ? until : to;
  }
  return seconds;
}
