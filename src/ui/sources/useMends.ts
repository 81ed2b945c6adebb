import { App } from 'antd';
import { useMemo } from 'react';
import type { Oddity } from '../../core/stock/oddities';
import { useSession } from '../job/session';
import { mendedWords } from './oddity-words';

/** What is done with oddities: all mends of some of them at once, or each marked as intended. */
export function useMends() {
  const { take } = useSession('take');
  const { message } = App.useApp();
  return useMemo(
    () => ({
      mend: (oddities: readonly Oddity[]) => {
        take(...oddities.flatMap((oddity) => oddity.mend.directives));
        message.success(`${mendedWords(oddities)} Undo takes it back.`, 6);
      },
      accept: (oddities: readonly Oddity[]) =>
        take(...oddities.map((oddity) => ({ kind: 'meant' as const, oddity: oddity.id, meant: true }))),
    }),
    [take, message],
  );
}
