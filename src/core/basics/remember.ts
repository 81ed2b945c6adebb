import { firstOther, type Node } from './graph';
import { whole } from './same';
import { finished, type Steps } from './steps';

interface Memory {
  inputs: object;
  value: unknown;
}

/** The last result of each node for each object, as long as the object lives. */
const results = new WeakMap<object, Map<object, Memory>>();

/**
 * The result of a node, made again only when one of its inputs is no longer what it was when this was last asked
 * for this object: so what is unchanged keeps its identity.
 *
 * @param owner with which the result is kept, and goes
 */
export function* rememberedInSteps<Inputs extends object, T>(
  owner: object,
  of: Node<Inputs, T>,
  inputs: Inputs,
): Steps<T> {
  const slots = results.get(owner) ?? new Map<object, Memory>();
  results.set(owner, slots);
  const known = slots.get(of);
  // What was kept under this node was made by it.
  if (known && firstOther(known.inputs, inputs) === null) return known.value as T;
  const value = whole(yield* of.make(inputs));
  slots.set(of, { inputs, value });
  return value;
}

/** The same without a pause. */
export const remembered = <Inputs extends object, T>(owner: object, of: Node<Inputs, T>, inputs: Inputs): T =>
  finished(rememberedInSteps(owner, of, inputs));
