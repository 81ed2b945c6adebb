import type { Levels } from '../../core/recording/levels';

/**
 * Draws the outline of a recording and within it its energy, as high as there is room.
 *
 * @param secondsAt seconds of the recording at a place, in pixels from the left
 */
export function drawWave(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  { perSecond, low, high, loud }: Levels,
  secondsAt: (x: number) => number,
  inks: { outline: string; energy: string; line: string },
): void {
  context.clearRect(0, 0, width, height);
  const middle = height / 2;
  // Soft recordings are drawn as high as loud ones.
  const loudest = Math.max(1, ...extremesOf(low, high));
  const room = (middle - 2) * (127 / loudest);
  context.fillStyle = inks.line;
  context.fillRect(0, Math.round(middle), width, 1);
  let from = Math.floor(secondsAt(0) * perSecond);
  for (let x = 0; x < width; x++) {
    const to = Math.floor(secondsAt(x + 1) * perSecond);
    let [least, most, energy] = [0, 0, 0];
    for (let at = Math.max(0, from); at < Math.min(low.length, Math.max(to, from + 1)); at++) {
      least = Math.min(least, low[at]!);
      most = Math.max(most, high[at]!);
      energy = Math.max(energy, loud[at]!);
    }
    from = to;
    if (most === least) continue;
    context.fillStyle = inks.outline;
    context.fillRect(x, middle - (most / 127) * room, 1, Math.max(1, ((most - least) / 127) * room));
    const inner = (energy / 255) * room;
    context.fillStyle = inks.energy;
    context.fillRect(x, middle - inner, 1, 2 * inner);
  }
}

function extremesOf(low: Int8Array, high: Int8Array): [number, number] {
  let [least, most] = [0, 0];
  for (let at = 0; at < low.length; at++) {
    least = Math.min(least, low[at]!);
    most = Math.max(most, high[at]!);
  }
  return [-least, most];
}
