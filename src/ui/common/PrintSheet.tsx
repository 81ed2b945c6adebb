'use client';

import { Button } from 'antd';
import { type ReactNode, useState } from 'react';
import { createPortal, flushSync } from 'react-dom';

interface Props {
  /** What the paper says: a heading and tables. */
  children: ReactNode;
  disabled?: boolean;
}

/** A button that prints a sheet of its own, and nothing else of the page. */
export function PrintSheet({ children, disabled = false }: Props) {
  const [printing, setPrinting] = useState(false);
  const print = () => {
    flushSync(() => setPrinting(true));
    window.print();
    setPrinting(false);
  };
  return (
    <>
      <Button size="small" disabled={disabled} onClick={print}>
        Print…
      </Button>
      {printing && createPortal(<div className="print-sheets print-list">{children}</div>, document.body)}
    </>
  );
}

/** A table for paper. */
export function PrintedTable({
  heads,
  rows,
}: {
  heads: readonly string[];
  rows: readonly (readonly string[])[];
}) {
  return (
    <table>
      <thead>
        <tr>
          {heads.map((head) => (
            <th key={head}>{head}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={index}>
            {row.map((cell, at) => (
              <td key={heads[at]}>{cell}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
