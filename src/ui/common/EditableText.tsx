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
  // Null while the field is left alone. From the moment it is entered its text is the user's:
  // a name that arrives from outside meanwhile would take the selection away.
  const [draft, setDraft] = useState<string | null>(null);
  const entered = useRef<string | null>(null);
  // A new value from outside ends the wait for what was saved.
  useEffect(() => {
    if (entered.current === null) setDraft(null);
  }, [value]);
  const enter = () => {
    entered.current = value;
    setDraft(value);
  };
  const leave = () => {
    const text = draft?.trim();
    if (text && text !== entered.current) onSave(text);
    else setDraft(null);
    entered.current = null;
  };
  return (
    <input
      className={styles.text}
      aria-label={label}
      disabled={disabled}
      value={draft ?? value}
      maxLength={120}
      onChange={(event) => setDraft(event.target.value)}
      onFocus={enter}
      onBlur={leave}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') enter();
      }}
    />
  );
}
