'use client';

import { useEffect, useState } from 'react';
import styles from './EditableText.module.css';

interface Props {
  value: string;
  label: string;
  disabled?: boolean;
  onSave: (value: string) => void;
}

/**
 * A text that is edited in place: Enter or leaving saves, Escape takes back.
 * A bare input, since tables hold hundreds of them.
 */
export function EditableText({ value, label, disabled = false, onSave }: Props) {
  const [draft, setDraft] = useState(value);
  useEffect(() => setDraft(value), [value]);
  const save = () => {
    const text = draft.trim();
    if (text && text !== value) onSave(text);
    else setDraft(value);
  };
  return (
    <input
      className={styles.text}
      aria-label={label}
      disabled={disabled}
      value={draft}
      maxLength={120}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setDraft(value);
      }}
    />
  );
}
