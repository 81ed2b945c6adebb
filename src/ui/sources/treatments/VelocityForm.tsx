import { Button, InputNumber, Slider, Space } from 'antd';
import { useState } from 'react';
import type { FormProps } from './form';

/** Scales velocities and draws them towards one. */
export function VelocityForm({ forAll, close }: FormProps) {
  const [scale, setScale] = useState(100);
  const [level, setLevel] = useState(80);
  const [strength, setStrength] = useState(0);
  const set = (values: { scale: number; level: number; strength: number }) => {
    forAll((strand) => ({ kind: 'velocities', strand, ...values }));
    close();
  };
  return (
    <>
      <label>
        Scale, per cent
        <InputNumber
          size="small"
          min={1}
          max={400}
          value={scale}
          onChange={(value) => setScale(value ?? 100)}
        />
      </label>
      <label>
        Draw towards
        <InputNumber
          size="small"
          min={1}
          max={127}
          precision={0}
          value={level}
          onChange={(value) => setLevel(value ?? 80)}
        />
      </label>
      <span id="level-strength">by {strength} %: 100 makes all alike</span>
      <Slider
        min={0}
        max={100}
        step={5}
        value={strength}
        onChange={setStrength}
        ariaLabelledByForHandle="level-strength"
      />
      <Space>
        <Button size="small" type="primary" onClick={() => set({ scale, level, strength })}>
          Shape
        </Button>
        <Button size="small" onClick={() => set({ scale: 100, level: 80, strength: 0 })}>
          As in the source
        </Button>
      </Space>
    </>
  );
}
