import { sharedEngraver } from '../../workers/client';

interface Task {
  document: string;
  width: number;
  scale: number;
  signal: AbortSignal;
  resolve: (svg: string | null) => void;
  reject: (error: unknown) => void;
}

/** Engraved systems by what they were made from; the oldest go first. */
const KEPT = 80;
const engraved = new Map<string, string>();
const waiting: Task[] = [];
let busy = false;

/**
 * Engraves one system in the worker, or takes it from the last ones engraved.
 * What was asked last comes first, and what scrolled away is skipped.
 *
 * @param width of the system in pixels
 * @param scale in percent of the engraver's own size
 * @returns the SVG text, or null when the signal was given before its turn came
 */
export function engrave(
  document: string,
  width: number,
  scale: number,
  signal: AbortSignal,
): Promise<string | null> {
  const known = engraved.get(keyOf(document, width, scale));
  if (known) return Promise.resolve(known);
  return new Promise((resolve, reject) => {
    waiting.push({ document, width, scale, signal, resolve, reject });
    void work();
  });
}

const keyOf = (document: string, width: number, scale: number): string => `${width} ${scale} ${document}`;

async function work(): Promise<void> {
  if (busy) return;
  busy = true;
  for (let task = waiting.pop(); task; task = waiting.pop()) {
    if (task.signal.aborted) {
      task.resolve(null);
      continue;
    }
    try {
      const { document, width, scale } = task;
      const svg = await sharedEngraver().engrave({ document, width, scale });
      engraved.set(keyOf(document, width, scale), svg);
      const [oldest] = engraved.keys();
      if (engraved.size > KEPT && oldest !== undefined) engraved.delete(oldest);
      task.resolve(svg);
    } catch (error) {
      task.reject(error);
    }
  }
  busy = false;
}
