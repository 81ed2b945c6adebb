import { isSame, whole } from './same';
import { finished, type Steps } from './steps';

/**
 * One kind of work: a function of its inputs and of nothing else. It stands at the top of its file, where it can reach
 * no state, and reads what its inputs name: so a result holds exactly as long as they do, and nobody writes a key.
 */
export interface Node<Inputs extends object, T> {
  readonly name: string;
  readonly make: (inputs: Inputs) => Steps<T>;
  /** A result that is made of the same things as the one before is that one: what hangs on it stays. */
  readonly cuts: boolean;
}

/** A node whose work is done at once. */
export const node = <Inputs extends object, T>(
  name: string,
  make: (inputs: Inputs) => T,
  { cuts = false } = {},
): Node<Inputs, T> => ({
  name,
  // biome-ignore lint/correctness/useYield: made at once
  *make(inputs) {
    return make(inputs);
  },
  cuts,
});

/** A node whose work is done in steps. */
export const steppedNode = <Inputs extends object, T>(
  name: string,
  make: (inputs: Inputs) => Steps<T>,
): Node<Inputs, T> => ({ name, make, cuts: false });

/** Why a node ran: it never had, or the first input that is not as it was. */
export interface Ran {
  node: string;
  owner: string;
  because: string;
}

interface Entry {
  of: object;
  inputs: object;
  value: unknown;
}

/**
 * Results of nodes, each with the inputs that it was made of: a memo with recorded reads and early cut-off, after
 * Mokhov, Mitchell and Peyton Jones, "Build Systems à la Carte" (2018): constructive traces of one run, rebuilt
 * on demand. A result is asked for under its node and an owner (a part, say), and is made again where one of
 * the inputs is not the same (`isSame`); results themselves are compared by identity.
 */
export class Graph {
  private before = new Map<string, Entry>();
  private now = new Map<string, Entry>();
  private running: Ran[] = [];
  private last: readonly Ran[] = [];

  /** What ran in this run, or in the last one where this has not begun, in order: why each was made again. */
  get ran(): readonly Ran[] {
    return this.running.length > 0 ? this.running : this.last;
  }

  /** The result of a node for its inputs, from this or the last run or made now. */
  of<Inputs extends object, T>(of: Node<Inputs, T>, owner: string, inputs: Inputs): T {
    return finished(this.inSteps(of, owner, inputs));
  }

  /** The same in steps. */
  *inSteps<Inputs extends object, T>(of: Node<Inputs, T>, owner: string, inputs: Inputs): Steps<T> {
    const name = `${of.name} ${owner}`;
    const kept = this.now.get(name) ?? this.before.get(name);
    // Another node of the same name is none of this one's.
    const known = kept?.of === of ? kept : undefined;
    const because = known ? firstOther(known.inputs, inputs) : 'new';
    if (known && because === null) {
      this.now.set(name, known);
      // What was written under this node and owner was written by it.
      return known.value as T;
    }
    this.running.push({ node: of.name, owner, because: because ?? 'new' });
    const made = yield* of.make(inputs);
    const value = of.cuts && known && isSame(known.value, made) ? (known.value as T) : made;
    if (!of.cuts) whole(value);
    this.now.set(name, { of, inputs, value });
    return value;
  }

  /** A copy to try something with; what it works out stays its own. */
  fork(): Graph {
    const copy = new Graph();
    copy.before = new Map([...this.before, ...this.now]);
    return copy;
  }

  /** Ends a run: what it did not ask for is forgotten. @param how.isWhole false for one that did not ask for all */
  turn({ isWhole = true }: { isWhole?: boolean } = {}): void {
    this.before = isWhole ? this.now : new Map([...this.before, ...this.now]);
    this.now = new Map();
    this.last = this.running;
    this.running = [];
  }
}

/** The name of the first input that is not as it was; null where all are. */
export function firstOther(one: object, two: object): string | null {
  const [own, other] = [one as Record<string, unknown>, two as Record<string, unknown>];
  const names = new Set([...Object.keys(own), ...Object.keys(other)]);
  for (const name of names) if (!isSame(own[name], other[name])) return name;
  return null;
}
