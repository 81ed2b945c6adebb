import type { ReactNode } from 'react';
import styles from './NotesStage.module.css';

/** What can be done to one side of the chosen notes: its name, and its tools in a line. */
export function ToolRow({
  name,
  label = name,
  children,
}: {
  name: string;
  label?: string;
  children: ReactNode;
}) {
  return (
    <div className={styles.tool}>
      <span aria-hidden>{name}</span>
      <div role="toolbar" aria-label={label}>
        {children}
      </div>
    </div>
  );
}

/** Less and more of something. */
export function Pair({ name, children }: { name?: string; children: ReactNode }) {
  return (
    <span className={styles.pair}>
      {name && <span>{name}</span>}
      {children}
    </span>
  );
}
