'use client';

import { DownOutlined } from '@ant-design/icons';
import { Select } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { CATALOGUE, instrumentOf } from '../../core/instruments/catalogue';
import { findInstruments } from '../../core/instruments/find';
import styles from './InstrumentPicker.module.css';

const optionsFor = (typed: string) =>
  (typed.trim() === '' ? CATALOGUE : findInstruments(typed)).map(({ id, name }) => ({
    value: id,
    label: name,
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
  const [typed, setTyped] = useState('');
  const options = useMemo(() => (open ? optionsFor(typed) : []), [open, typed]);
  const button = useRef<HTMLButtonElement>(null);
  const wasOpen = useRef(false);
  // What was opened from the button gives the focus back to it.
  useEffect(() => {
    if (wasOpen.current && !open) button.current?.focus();
    wasOpen.current = open;
  }, [open]);
  const close = () => {
    setOpen(false);
    setTyped('');
  };
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
      options={options}
      showSearch={{ filterOption: false, searchValue: typed, onSearch: setTyped }}
      popupMatchSelectWidth={220}
      style={{ width: 160 }}
      onOpenChange={(stays) => {
        if (!stays) close();
      }}
      onChange={(chosen: string) => {
        close();
        if (chosen !== value) onChange(chosen);
      }}
    />
  );
}
