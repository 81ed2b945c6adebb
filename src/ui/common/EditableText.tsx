'use client';

import { useEffect, useRef, useState } from 'react';
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
  // Null while nothing is typed; what is being typed is never overwritten from outside.
  const [draft, setDraft] = useState<string | null>(null);
  const typing = useRef(false);
  // A new value from outside ends the wait for what was saved.
  useEffect(() => {
    if (!typing.current) setDraft(null);
  }, [value]);
  const leave = () => {
    typing.current = false;
    const text = draft?.trim();
    if (text && text !== value) onSave(text);
    else setDraft(null);
  };
  return (
    <input
      className={styles.text}
      aria-label={label}
      disabled={disabled}
      value={draft ?? value}
      maxLength={120}
      onChange={(event) => setDraft(event.target.value)}
      onFocus={() => {
        typing.current = true;
      }}
      onBlur={leave}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setDraft(null);
      }}
    />
  );
}
