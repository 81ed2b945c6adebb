'use client';

import { Input } from 'antd';
import { useEffect, useState } from 'react';

interface Props {
  value: string;
  label: string;
  disabled?: boolean;
  onSave: (value: string) => void;
}

/** A text that is edited in place: Enter or leaving saves, Escape takes back. */
export function EditableText({ value, label, disabled = false, onSave }: Props) {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  const save = () => {
    const text = draft.trim();
    if (text && text !== value) onSave(text);
    else setDraft(value);
  };
  return (
    <Input
      size="small"
      variant="borderless"
      aria-label={label}
      disabled={disabled}
      value={draft}
      maxLength={120}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={save}
      onPressEnter={(event) => event.currentTarget.blur()}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setDraft(value);
      }}
    />
  );
}
