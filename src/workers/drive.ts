const channel = new MessageChannel();
const waiting: (() => void)[] = [];
channel.port1.onmessage = () => waiting.shift()?.();

/** Gives way to whatever else waits; a timer would wait for milliseconds more. */
export const pause = (): Promise<void> =>
  new Promise((resolve) => {
    waiting.push(resolve);
    channel.port2.postMessage(null);
  });

/**
 * Runs a generator to its end in slices, so that the worker hears other
 * messages in between.
 *
 * @param isCurrent asked between slices; once false the run ends with null
 * @param slice milliseconds without a pause
 */
export async function drive<Step, Result>(
  steps: Generator<Step, Result>,
  slice: number,
  isCurrent: () => boolean,
  onStep: (step: Step) => void,
): Promise<{ value: Result } | null> {
  let since = Date.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return { value: step.value };
    if (Date.now() - since < slice) continue;
    onStep(step.value);
    await pause();
    if (!isCurrent()) return null;
    since = Date.now();
  }
}
