'use client';

import { type RefObject, useLayoutEffect, useState } from 'react';

/** Inner width and height of an element in pixels, followed as they change; 0 before it is there. */
export function useSize(target: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = target.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [target]);
  return size;
}
