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
): Promise<Result | null> {
  let since = Date.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    if (Date.now() - since < slice) continue;
    onStep(step.value);
    await new Promise((resolve) => setTimeout(resolve, 0));
    if (!isCurrent()) return null;
    since = Date.now();
  }
}
