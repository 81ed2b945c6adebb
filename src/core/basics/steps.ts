/**
 * Work that may be long, in steps: it yields often enough that whoever drives
 * it can give way to others, or stop, at any moment.
 */
export type Steps<T> = Generator<undefined, T>;

/** Runs work to its end without a pause. */
export function finished<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Does something for each of many, and yields after each. */
export function* eachInSteps<T, R>(items: Iterable<T>, make: (item: T) => R): Steps<R[]> {
  const made: R[] = [];
  for (const item of items) {
    made.push(make(item));
    yield;
  }
  return made;
}
