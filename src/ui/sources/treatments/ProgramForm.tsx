import { Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import type { FormProps } from './form';

export const PROGRAM_NAMES = {
  source: 'as in the source',
  first: 'the first only',
  none: 'none',
  instrument: 'of its instrument',
  number: 'chosen',
} as const;

/** Which programs go out. */
export function ProgramForm({ forAll, close }: FormProps) {
  const [use, setUse] = useState<keyof typeof PROGRAM_NAMES>('instrument');
  const [program, setProgram] = useState(1);
  return (
    <>
      <label>
        Programs
        <Select
          size="small"
          style={{ width: 160 }}
          value={use}
          options={Object.entries(PROGRAM_NAMES).map(([value, label]) => ({ value, label }))}
          onChange={(value) => setUse(value as keyof typeof PROGRAM_NAMES)}
        />
      </label>
      {use === 'number' && (
        <label>
          Program, 1–128
          <InputNumber
            size="small"
            min={1}
            max={128}
            precision={0}
            value={program}
            onChange={(value) => setProgram(value ?? 1)}
          />
        </label>
      )}
      <Button
        size="small"
        type="primary"
        onClick={() => {
          forAll((strand) => ({ kind: 'programs', strand, use, ...(use === 'number' && { program }) }));
          close();
        }}
      >
        Set
      </Button>
    </>
  );
}
