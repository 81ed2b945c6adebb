/** Puts all items at the end of a list; spreading hundreds of thousands of arguments would overflow the stack. */
export function append<T>(list: T[], items: Iterable<T>): void {
  for (const item of items) list.push(item);
}
