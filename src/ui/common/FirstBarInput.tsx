'use client';

import { InputNumber } from 'antd';
import { useSession } from '../job/session';

/** The number of the first full bar, wherever it is asked for. */
export function FirstBarInput({ size }: { size?: 'small' }) {
  const { decisions, take } = useSession('decisions', 'take');
  const { firstBar } = decisions.clock;
  return (
    <InputNumber
      {...(size && { size })}
      aria-label="Number of the first bar"
      min={-999}
      max={9999}
      precision={0}
      style={{ width: 70 }}
      value={firstBar ?? 1}
      onChange={(value) => value !== null && take({ kind: 'clock', firstBar: value })}
    />
  );
}
