'use client';

import { DownOutlined } from '@ant-design/icons';
import { Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { CATALOGUE, instrumentOf } from '../../core/instruments/catalogue';
import styles from './InstrumentPicker.module.css';

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

/**
 * Chooses an instrument of the catalogue; finds it under its other names too.
 * A plain button until it is used, since tables hold hundreds of them.
 */
export function InstrumentPicker({ value, label, disabled = false, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const wasOpen = useRef(false);
  // What was opened from the button gives the focus back to it.
  useEffect(() => {
    if (wasOpen.current && !open) button.current?.focus();
    wasOpen.current = open;
  }, [open]);
  if (!open)
    return (
      <button
        ref={button}
        type="button"
        className={styles.closed}
        aria-haspopup="listbox"
        aria-label={`${label}: ${instrumentOf(value).name}`}
        disabled={disabled}
        onClick={() => setOpen(true)}
      >
        {instrumentOf(value).name} <DownOutlined />
      </button>
    );
  return (
    <Select
      size="small"
      open
      autoFocus
      aria-label={label}
      value={value}
      options={OPTIONS}
      showSearch={{ filterOption: (input, option) => option?.search.includes(input.toLowerCase()) ?? false }}
      popupMatchSelectWidth={200}
      style={{ width: 160 }}
      onOpenChange={(stays) => {
        if (!stays) setOpen(false);
      }}
      onChange={(chosen: string) => {
        setOpen(false);
        if (chosen !== value) onChange(chosen);
      }}
    />
  );
}
