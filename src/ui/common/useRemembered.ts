import { useCallback, useEffect, useState } from 'react';
import { readSetting, writeSetting } from '../../store/jobs';

/** Whether something is open, as it was left the last time, in whichever job. */
export function useRemembered(name: string, initial: boolean): [boolean, (next: boolean) => void] {
  const [isOpen, setOpen] = useState(initial);
  useEffect(() => {
    void readSetting(name).then((kept) => {
      if (kept !== undefined) setOpen(kept === 'open');
    });
  }, [name]);
  const keep = useCallback(
    (next: boolean) => {
      setOpen(next);
      // What cannot be kept holds until the page is left.
      writeSetting(name, next ? 'open' : 'folded').catch(() => {});
    },
    [name],
  );
  return [isOpen, keep];
}
