import { type Key, useState } from 'react';

/** The chosen rows of a table, by key, with what the table needs for choosing. */
export function useChosen() {
  const [chosen, setChosen] = useState<string[]>([]);
  const rowSelection = {
    selectedRowKeys: chosen,
    onChange: (keys: Key[]) => setChosen(keys as string[]),
    columnWidth: 40,
  };
  return { chosen, clear: () => setChosen([]), rowSelection };
}
