import { Select } from 'antd';
import { useMemo, useState } from 'react';
import { CATALOGUE } from '../../core/instruments/catalogue';
import { findInstruments } from '../../core/instruments/find';

interface Props {
  /** Catalogue id; null for none yet. */
  value: string | null;
  label: string;
  width: number;
  placeholder?: string;
  open?: boolean;
  autoFocus?: boolean;
  onChange: (instrument: string) => void;
  onClose?: () => void;
}

/** A list of the catalogue, searched in every language that instruments have names in. */
export function InstrumentSelect({
  value,
  label,
  width,
  placeholder,
  open,
  autoFocus,
  onChange,
  onClose,
}: Props) {
  const [typed, setTyped] = useState('');
  const options = useMemo(
    () =>
      (typed.trim() === '' ? CATALOGUE : findInstruments(typed)).map(({ id, name }) => ({
        value: id,
        label: name,
      })),
    [typed],
  );
  return (
    <Select<string | null>
      size="small"
      {...(open !== undefined && { open })}
      {...(autoFocus !== undefined && { autoFocus })}
      {...(placeholder !== undefined && { placeholder })}
      aria-label={label}
      value={value}
      options={options}
      showSearch={{ filterOption: false, searchValue: typed, onSearch: setTyped }}
      popupMatchSelectWidth={220}
      style={{ width }}
      onOpenChange={(stays) => {
        if (!stays) {
          setTyped('');
          onClose?.();
        }
      }}
      onChange={(chosen) => {
        setTyped('');
        if (chosen !== null) onChange(chosen);
      }}
    />
  );
}
