import { Button, Checkbox, Input, type InputRef, Select } from 'antd';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { type Family, instrumentOf } from '../../core/instruments/catalogue';
import { FAMILY_NAMES } from '../../core/instruments/families';
import type { StrandId } from '../../core/model/ids';
import { useKeys } from '../common/keys';
import styles from './RosterStage.module.css';
import { type StrandRow, strandName } from './StrandList';

const STATES = {
  all: 'All strands',
  unsure: 'Guessed',
  joined: 'Joined',
  out: 'Left out',
} as const;
type State = keyof typeof STATES;

const inState: Record<State, (row: StrandRow) => boolean> = {
  all: () => true,
  unsure: ({ isUnsure }) => isUnsure,
  joined: ({ decided }) => Boolean(decided.into),
  out: ({ decided }) => decided.out === true,
};

const instrumentIn = ({ decided, entry }: StrandRow) => instrumentOf(decided.instrument ?? entry.guess.id);

/** The strands that are in view, and how they are chosen. */
export function useFiltered(all: readonly StrandRow[]) {
  const [text, setText] = useState('');
  const [state, setState] = useState<State>('all');
  const [family, setFamily] = useState<Family | null>(null);
  const words = useDeferredValue(text.trim().toLowerCase());
  const rows = useMemo(
    () =>
      all.filter(
        (row) =>
          inState[state](row) &&
          (family === null || instrumentIn(row).family === family) &&
          `${strandName(row.entry)} ${instrumentIn(row).name}`.toLowerCase().includes(words),
      ),
    [all, state, family, words],
  );
  return { rows, text, setText, state, setState, family, setFamily };
}

interface Props {
  filter: ReturnType<typeof useFiltered>;
  all: readonly StrandRow[];
  chosen: ReadonlySet<StrandId>;
  onChoose: (ids: readonly StrandId[], isChosen: boolean) => void;
}

/** Which strands are in view: by name, state and family; all of them are ticked at once. */
export function StrandFilter({ filter, all, chosen, onChoose }: Props) {
  const { rows, text, setText, state, setState, family, setFamily } = filter;
  const box = useRef<InputRef>(null);
  useKeys({ search: () => box.current?.focus() });
  const inView = rows.map(({ entry }) => entry.id);
  const ticked = inView.filter((id) => chosen.has(id)).length;
  const out = all.filter(({ decided }) => decided.out);
  const notes = out.reduce((sum, { entry }) => sum + entry.notes, 0);
  return (
    <div className={styles.filter}>
      <Checkbox
        aria-label="Choose all in view"
        checked={ticked > 0 && ticked === inView.length}
        indeterminate={ticked > 0 && ticked < inView.length}
        onChange={({ target }) => onChoose(inView, target.checked)}
      />
      <Input
        ref={box}
        size="small"
        allowClear
        placeholder="Search (/)"
        aria-label="Search the strands"
        value={text}
        onChange={({ target }) => setText(target.value)}
        style={{ width: 120 }}
      />
      <Select<State>
        size="small"
        aria-label="Which strands"
        value={state}
        style={{ width: 106 }}
        options={(Object.keys(STATES) as State[]).map((value) => ({
          value,
          label: `${STATES[value]} ${all.filter(inState[value]).length}`,
        }))}
        popupMatchSelectWidth={false}
        onChange={setState}
      />
      <Select<Family | 'any'>
        size="small"
        aria-label="Family"
        value={family ?? 'any'}
        style={{ width: 104 }}
        options={[
          { value: 'any', label: 'Any family' },
          ...Object.entries(FAMILY_NAMES).map(([value, label]) => ({ value: value as Family, label })),
        ]}
        popupMatchSelectWidth={false}
        onChange={(value) => setFamily(value === 'any' ? null : value)}
      />
      {out.length > 0 && (
        <Button type="link" size="small" onClick={() => setState('out')}>
          {counted(out.length, 'strand')} left out, {counted(notes, 'note')}
        </Button>
      )}
    </div>
  );
}
