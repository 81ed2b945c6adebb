/** A stretch of one of the readings that are heard in turns: its index, and seconds of that reading. */
export interface Turn {
  reading: number;
  from: number;
  until: number;
}

/**
 * The same bars by one reading, then by the other, then the bars after them.
 *
 * @param from seconds of the piece from which it begins: at the bar that it lies in
 * @param range seconds of the bars that were chosen: those and no others
 * @param downbeats seconds at which bars begin, ascending
 * @param span bars at a time
 * @param loops the range again and again
 */
export function* inTurns({
  from,
  range,
  loops,
  downbeats,
  span,
  end,
}: {
  from: number;
  range: readonly [number, number] | null;
  loops: boolean;
  downbeats: ArrayLike<number>;
  span: number;
  end: number;
}): Generator<Turn, void> {
  if (range) {
    do for (const reading of [0, 1]) yield { reading, from: range[0], until: range[1] };
    while (loops);
    return;
  }
  const bars = Array.from(downbeats);
  let at = Math.max(
    0,
    bars.findLastIndex((bar) => bar <= from + 1e-6),
  );
  for (;;) {
    const start = at === 0 ? Math.min(0, bars[0] ?? 0) : bars[at]!;
    const until = bars[at + span] ?? end;
    for (const reading of [0, 1]) yield { reading, from: start, until };
    at += span;
    if (at >= bars.length) return;
  }
}
