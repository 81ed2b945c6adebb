'use client';

import { useEffect, useRef, useState } from 'react';
import styles from './EditableText.module.css';

interface Props {
  value: string;
  label: string;
  disabled?: boolean;
  placeholder?: string;
  /** May say later that the text was not kept, by a promise of false or one that fails: the field then shows the old one again. */
  onSave: (value: string) => unknown;
  /** An empty text is one too. */
  mayBeEmpty?: boolean;
}

const KEPT = 'draft ';

/** Keeps a text that is being typed through a reload, where the browser has room for it. */
function keepDraft(label: string, text: string): void {
  try {
    sessionStorage.setItem(KEPT + label, text);
  } catch {
    // It is still in the field.
  }
}

/** It is kept elsewhere now, or given up; what was typed since stays. */
function dropDraft(label: string, text?: string): void {
  const draft = sessionStorage.getItem(KEPT + label);
  if (text === undefined || draft?.trim() === text) sessionStorage.removeItem(KEPT + label);
}

/**
 * A text that is edited in place: Enter or leaving saves, Escape takes back,
 * and leaving by reloading the page is leaving too. A bare input, since tables
 * hold hundreds of them.
 */
export function EditableText({
  value,
  label,
  disabled = false,
  placeholder,
  onSave,
  mayBeEmpty = false,
}: Props) {
  // Null while the field is left alone. From the moment it is entered its text is the user's:
  // a name that arrives from outside meanwhile would take the selection away.
  const [draft, setDraft] = useState<string | null>(null);
  const entered = useRef<string | null>(null);
  // A new value from outside ends the wait for what was saved.
  useEffect(() => {
    if (entered.current === null) setDraft(null);
  }, [value]);
  const save = (text: string) => {
    setDraft(text);
    // Unless the field was entered again meanwhile: then its text is the user's.
    const forget = () => {
      if (entered.current === null) setDraft(null);
    };
    // Until it is kept it outlives the page.
    keepDraft(label, text);
    Promise.resolve(onSave(text))
      .then((isKept) => {
        if (isKept === false) forget();
      }, forget)
      .finally(() => dropDraft(label, text));
  };
  // What is shown may be on its way into the store: it is what is edited, not the value from before.
  const enter = () => {
    entered.current = draft ?? value;
    setDraft(entered.current);
  };
  const leave = () => {
    const text = draft?.trim() ?? '';
    if ((text || mayBeEmpty) && text !== entered.current) save(text);
    else {
      dropDraft(label);
      setDraft(null);
    }
    entered.current = null;
  };
  const first = useRef(save);
  first.current = save;
  useEffect(() => {
    const kept = sessionStorage.getItem(KEPT + label)?.trim();
    if (kept) first.current(kept);
  }, [label]);
  return (
    <input
      className={styles.text}
      aria-label={label}
      disabled={disabled}
      placeholder={placeholder}
      value={draft ?? value}
      maxLength={120}
      onChange={({ target }) => {
        setDraft(target.value);
        keepDraft(label, target.value);
      }}
      onFocus={enter}
      onBlur={leave}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          dropDraft(label);
          setDraft(entered.current);
        }
      }}
    />
  );
}
