import { Button, InputNumber, Space } from 'antd';
import { useState } from 'react';
import type { FormProps } from './form';

/** Gentle variation for playback and hand-over. */
export function VaryForm({ forAll, close }: FormProps) {
  const [time, setTime] = useState(10);
  const [velocity, setVelocity] = useState(8);
  const [seed, setSeed] = useState(1);
  const set = (values: { time: number; velocity: number; seed: number }) => {
    forAll((strand) => ({ kind: 'vary', strand, ...values }));
    close();
  };
  return (
    <>
      <label>
        Time, ± ms
        <InputNumber size="small" min={0} max={60} value={time} onChange={(value) => setTime(value ?? 0)} />
      </label>
      <label>
        Velocity, ±
        <InputNumber
          size="small"
          min={0}
          max={40}
          value={velocity}
          onChange={(value) => setVelocity(value ?? 0)}
        />
      </label>
      <label>
        Seed
        <InputNumber
          size="small"
          min={0}
          max={4_294_967_295}
          precision={0}
          value={seed}
          onChange={(value) => setSeed(value ?? 0)}
        />
      </label>
      <Space>
        <Button size="small" type="primary" onClick={() => set({ time, velocity, seed })}>
          Vary
        </Button>
        <Button size="small" onClick={() => set({ time: 0, velocity: 0, seed: 0 })}>
          Not at all
        </Button>
      </Space>
      <p className="soft">
        For playback and hand-over; the score is written from what was played. One seed makes strands drift
        together.
      </p>
    </>
  );
}
