'use client';

import { Children, type ReactNode, startTransition, useEffect, useState } from 'react';

/**
 * Draws its children one after another, some at a time, so that the page
 * answers in between: a hundred rows at once hold it up.
 *
 * @param by how many at a time
 */
export function Stepwise({ by = 1, children }: { by?: number; children: ReactNode }) {
  const all = Children.toArray(children);
  const [shown, setShown] = useState(by);
  const isWhole = shown >= all.length;
  useEffect(() => {
    if (!isWhole) startTransition(() => setShown((before) => Math.max(before, shown + by)));
  }, [isWhole, shown, by]);
  return all.slice(0, shown);
}
