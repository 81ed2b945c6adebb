import { findPicture, keepPictures } from '../../store/pictures';
import { sharedEngraver } from '../../workers/client';
import type { EngraveJob } from '../../workers/system-options';

interface Task extends EngraveJob {
  signal: AbortSignal;
  resolve: (svg: string | null) => void;
  reject: (error: unknown) => void;
}

/** Engraved systems by what they were made from; the oldest go first. */
const KEPT = 80;
const engraved = new Map<string, string>();
const waiting: Task[] = [];

/**
 * Engraves one system in the worker, or takes it from the last ones engraved, in this visit or the one before.
 * What was asked last comes first, and what scrolled away is skipped.
 *
 * @returns the SVG text, or null when the signal was given before its turn came
 */
export async function engrave(job: EngraveJob, signal: AbortSignal): Promise<string | null> {
  const known = engraved.get(keyOf(job)) ?? (await findPicture(madeOf(job)));
  if (known !== undefined) return known;
  return new Promise((resolve, reject) => {
    waiting.push({ ...job, signal, resolve, reject });
    void work();
  });
}

/** All that a picture is made of. */
const madeOf = ({ document, width, scale, even = false }: EngraveJob) => [width, scale, even, document];

const keyOf = (job: EngraveJob): string => madeOf(job).join(' ');

/** Milliseconds without another system after which the last ones are kept for the next visit. */
const IDLE = 1500;
/** So many of the last are. */
const KEPT_FOR_LATER = 6;
let later: ReturnType<typeof setTimeout> | undefined;
const news = new Map<string, { of: unknown[]; svg: string }>();

function keepLater(job: EngraveJob, svg: string): void {
  news.set(keyOf(job), { of: madeOf(job), svg });
  const [oldest] = news.keys();
  if (news.size > KEPT_FOR_LATER && oldest !== undefined) news.delete(oldest);
  clearTimeout(later);
  later = setTimeout(() => {
    void keepPictures([...news.values()]);
    news.clear();
  }, IDLE);
}

/** Two engrave at once where there is a processor for each: all that is asked for at a time is one system of a view. */
const ENGRAVERS = Math.min(2, globalThis.navigator?.hardwareConcurrency ?? 1);
const idle = Array.from({ length: ENGRAVERS }, (_, which) => which);

async function work(): Promise<void> {
  const which = idle.shift();
  if (which === undefined) return;
  for (let task = waiting.pop(); task; task = waiting.pop()) {
    if (task.signal.aborted) {
      task.resolve(null);
      continue;
    }
    try {
      const { document, width, scale, even } = task;
      const svg = await sharedEngraver(which).ask((engraver) =>
        engraver.engrave({ document, width, scale, even }),
      );
      engraved.set(keyOf(task), svg);
      keepLater(task, svg);
      const [oldest] = engraved.keys();
      if (engraved.size > KEPT && oldest !== undefined) engraved.delete(oldest);
      task.resolve(svg);
    } catch (error) {
      task.reject(error);
    }
  }
  // The one that is awake comes first the next time: another is started only where it has its hands full.
  idle.unshift(which);
}
