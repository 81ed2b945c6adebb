import { type Key, useState } from 'react';

/** The chosen rows of a table, by key, with what the table needs for choosing. */
export function useChosen<Id extends string>() {
  const [chosen, setChosen] = useState<Id[]>([]);
  const rowSelection = {
    selectedRowKeys: chosen,
    onChange: (keys: Key[]) => setChosen(keys as Id[]),
    columnWidth: 40,
  };
  return { chosen, clear: () => setChosen([]), rowSelection };
}
