'use client';

import { App } from 'antd';
import { useCallback } from 'react';

/** So many letters are named. */
const NAMED = 20;

/** Tells which letters are not in a PDF, since none of its faces has them. */
export function useTellMissing(): (letters: readonly string[]) => void {
  const { notification } = App.useApp();
  return useCallback(
    (letters) => {
      if (letters.length === 0) return;
      notification.warning({
        key: 'letters that are missing in a PDF',
        title: 'Some letters are missing in the PDF',
        description: `${letters.slice(0, NAMED).join(' ')}${letters.length > NAMED ? ' …' : ''} ${
          letters.length === 1 ? 'stands' : 'stand'
        } in none of its faces: write titles and names without ${letters.length === 1 ? 'it' : 'them'}.`,
        duration: 0,
      });
    },
    [notification],
  );
}
