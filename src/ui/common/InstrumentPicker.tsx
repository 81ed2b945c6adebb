'use client';

import { Select } from 'antd';
import { CATALOGUE } from '../../core/instruments/catalogue';

const OPTIONS = CATALOGUE.map((entry) => ({
  value: entry.id,
  label: entry.name,
  search: `${entry.name} ${entry.aliases.join(' ')}`.toLowerCase(),
}));

interface Props {
  value: string;
  label: string;
  disabled?: boolean;
  onChange: (instrument: string) => void;
}

/** Chooses an instrument of the catalogue; finds it under its other names too. */
export function InstrumentPicker({ value, label, disabled = false, onChange }: Props) {
  return (
    <Select
      size="small"
      variant="borderless"
      aria-label={label}
      disabled={disabled}
      value={value}
      options={OPTIONS}
      showSearch
      filterOption={(input, option) => option?.search.includes(input.toLowerCase()) ?? false}
      popupMatchSelectWidth={200}
      style={{ width: 150 }}
      onChange={onChange}
    />
  );
}
