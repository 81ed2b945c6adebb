import { finished, type Steps } from '../basics/steps';

/**
 * What was worked out of one source, each with everything that it was made
 * of; pass the same one again to work out only what changed.
 */
export class Workings {
  private before = new Map<string, Entry>();
  private now = new Map<string, Entry>();

  /** The value of this or the last run under this name if it was made of the very same things, or a new one. */
  keep<T>(name: string, of: readonly unknown[], make: () => T): T {
    return finished(
      // biome-ignore lint/correctness/useYield: made at once
      this.keepInSteps(name, of, function* () {
        return make();
      }),
    );
  }

  /** The same for what is made in steps. */
  *keepInSteps<T>(name: string, of: readonly unknown[], make: () => Steps<T>): Steps<T> {
    const known = this.now.get(name) ?? this.before.get(name);
    const same = known?.of.length === of.length && known.of.every((each, index) => each === of[index]);
    const entry = same ? known : { of: [...of], value: yield* make() };
    this.now.set(name, entry);
    return entry.value as T;
  }

  /** A copy to try something with; what it works out stays its own. */
  fork(): Workings {
    const copy = new Workings();
    copy.before = new Map([...this.before, ...this.now]);
    return copy;
  }

  /** Ends a run: what it did not ask for is forgotten. */
  turn(): void {
    this.before = this.now;
    this.now = new Map();
  }
}

interface Entry {
  of: readonly unknown[];
  value: unknown;
}
