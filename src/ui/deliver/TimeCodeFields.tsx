'use client';

import { Input, Segmented } from 'antd';
import { framesOfCode, RATES, type Rate } from '../../core/deliver/smpte';

interface Props {
  rate: Rate;
  /** Time code at the start of the piece, as it was typed. */
  start: string;
  onChange: (change: { rate?: Rate; start?: string }) => void;
}

/** Frames a second, and the time code at which the piece starts; says where that is none. */
export function TimeCodeFields({ rate, start, onChange }: Props) {
  const isCode = framesOfCode(start, rate) !== null;
  return (
    <>
      <Segmented<Rate>
        aria-label="Frames a second"
        value={rate}
        options={[...RATES]}
        onChange={(next) => onChange({ rate: next })}
      />
      <label>
        Starts at{' '}
        <Input
          aria-label="Time code at the start"
          style={{ width: 120 }}
          value={start}
          maxLength={11}
          {...(!isCode && { status: 'error' as const })}
          onChange={({ target }) => onChange({ start: target.value })}
        />
      </label>
      {!isCode && (
        <span className="rubric" role="status">
          {start || 'This'} is no time code at {rate} frames.
        </span>
      )}
    </>
  );
}
