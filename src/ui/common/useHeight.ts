import { useEffect, useState } from 'react';

/** Pixels from a place near the top of the stage to the foot of the window, kept up to date. */
export function useHeight(aboveAndBelow: number, least = 240): number {
  const [height, setHeight] = useState(480);
  useEffect(() => {
    const measure = () => setHeight(Math.max(least, window.innerHeight - aboveAndBelow));
    measure();
    window.addEventListener('resize', measure);
    return () => window.removeEventListener('resize', measure);
  }, [aboveAndBelow, least]);
  return height;
}
