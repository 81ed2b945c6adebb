'use client';

import { DownOutlined } from '@ant-design/icons';
import { useEffect, useRef, useState } from 'react';
import { instrumentOf } from '../../core/instruments/catalogue';
import styles from './InstrumentPicker.module.css';
import { InstrumentSelect } from './InstrumentSelect';

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
    <InstrumentSelect
      open
      autoFocus
      label={label}
      value={value}
      width={160}
      onClose={() => setOpen(false)}
      onChange={(chosen) => {
        setOpen(false);
        if (chosen !== value) onChange(chosen);
      }}
    />
  );
}
