'use client';

import { Input, type InputRef, Modal } from 'antd';
import { useRouter } from 'next/navigation';
import { useId, useMemo, useRef, useState } from 'react';
import {
  DRAWING_KEYS,
  isAnswered,
  KEY_PLACES,
  type KeyPlace,
  press,
  SHORTCUTS,
  type ShortcutName,
} from '../common/keys';
import { SOURCE_VIEWS } from '../sources/views';
import styles from './ActionFinder.module.css';
import { useSession } from './session';
import { STAGES } from './stages';

/** One thing that can be found: an action, a place to go to, or a key that belongs to a drawing. */
interface Entry {
  group: string;
  label: string;
  keys?: string;
  /** Other words by which it is found. */
  also?: string;
  run?: () => void;
  /** Why it cannot be done now. */
  why?: string;
}

interface Props {
  open: boolean;
  onClose: () => void;
}

/** Everything that can be done, by name: with nothing asked for, all keys by stage. */
export function ActionFinder({ open, onClose }: Props) {
  const input = useRef<InputRef>(null);
  return (
    <Modal
      title={null}
      aria-label="Find an action"
      open={open}
      onCancel={onClose}
      footer={null}
      closable={false}
      width={760}
      destroyOnHidden
      afterOpenChange={(isOpen) => isOpen && input.current?.focus()}
    >
      {open && <Finder input={input} onClose={onClose} />}
    </Modal>
  );
}

/** More finds than this are not read. */
const MOST_FOUND = 60;

function Finder({ input, onClose }: { input: React.Ref<InputRef>; onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const entries = useEntries();
  const bars = useBarEntries(text);
  const list = useId();
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const found =
    words.length === 0
      ? entries.filter(({ keys }) => keys !== undefined)
      : [...bars, ...entries.filter((entry) => fits(entry, words))]
          // What can be done comes before what is only told.
          .sort((one, other) => Number(!one.run) - Number(!other.run))
          .slice(0, MOST_FOUND);
  const current = found[Math.min(at, found.length - 1)];
  const go = (entry: Entry | undefined) => {
    if (!entry?.run || entry.why) return;
    onClose();
    entry.run();
  };
  const groups = [...new Set(found.map(({ group }) => group))];
  return (
    <>
      <Input
        ref={input}
        value={text}
        placeholder="Find an action, a stage, a part, a bar"
        aria-label="Find an action, a stage, a part, a bar"
        role="combobox"
        aria-expanded
        aria-controls={list}
        aria-activedescendant={current && words.length > 0 ? `${list}-${found.indexOf(current)}` : undefined}
        onChange={({ target }) => {
          setText(target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
          if (step !== 0) {
            event.preventDefault();
            setAt((before) => Math.min(Math.max(0, before + step), found.length - 1));
          }
          if (event.key === 'Enter') go(current);
        }}
      />
      <div
        id={list}
        role="listbox"
        aria-label="What was found"
        className={styles.list}
        data-all={words.length === 0}
      >
        {found.length === 0 && <p className="soft">Nothing is called so.</p>}
        {groups.map((group) => (
          // biome-ignore lint/a11y/useSemanticElements: a list of choices has groups, and no fields in them
          <div key={group} role="group" aria-label={group} className={styles.group}>
            <div role="presentation" className={styles.title}>
              {group}
            </div>
            {found.map(
              (entry, index) =>
                entry.group === group && (
                  // biome-ignore lint/a11y/useKeyWithClickEvents: keys go to the field, which moves over the list
                  <div
                    key={`${entry.label} ${entry.keys}`}
                    id={`${list}-${index}`}
                    role="option"
                    tabIndex={-1}
                    aria-selected={words.length > 0 && entry === current}
                    aria-disabled={!entry.run || entry.why !== undefined}
                    className={styles.entry}
                    onClick={() => go(entry)}
                  >
                    <span>
                      {entry.label}
                      {words.length > 0 && entry.why && <span className="soft"> {entry.why}</span>}
                    </span>
                    {entry.keys && <kbd>{entry.keys}</kbd>}
                  </div>
                ),
            )}
          </div>
        ))}
      </div>
    </>
  );
}

const fits = ({ label, group, also = '' }: Entry, words: readonly string[]): boolean => {
  const own = `${label} ${group} ${also}`.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  return words.every((word) => own.some((each) => each.startsWith(word)));
};

/** What is not for one place alone has no handler of its own to be pressed. */
const NOT_PRESSED: ReadonlySet<ShortcutName> = new Set<ShortcutName>([
  'find',
  'sheet',
  'stage',
  'arrange',
  'tap',
]);

const whereWords = (where: KeyPlace): string =>
  where === 'anywhere' ? '' : `Works in ${KEY_PLACES[where]}.`;

function useEntries(): Entry[] {
  const { job, summary, kits } = useSession('job', 'summary', 'kits');
  const router = useRouter();
  return useMemo(() => {
    const go = (path: string) => () => router.push(`/job/${job.id}/${path}`, { scroll: false });
    const stages = STAGES.map(
      ({ id, name }, index): Entry => ({
        group: 'Stages',
        label: `Go to ${name}`,
        also: String(index + 1),
        run: go(id),
      }),
    );
    const views = SOURCE_VIEWS.filter(({ id }) => id !== 'kits' || kits.length > 0).map(
      ({ id, name }): Entry => ({ group: 'Views of the source', label: name, run: go(`sources?view=${id}`) }),
    );
    const actions = Object.entries(SHORTCUTS).map(([id, { where, keys, does }]): Entry => {
      const name = id as ShortcutName;
      const isLive = !NOT_PRESSED.has(name) && isAnswered(name);
      return {
        group: KEY_PLACES[where],
        label: does,
        keys,
        ...(isLive ? { run: () => press(name) } : {}),
        ...(!isLive && !NOT_PRESSED.has(name) && where !== 'anywhere' && { why: whereWords(where) }),
      };
    });
    const drawing = DRAWING_KEYS.map(
      ({ where, keys, does }): Entry => ({ group: KEY_PLACES[where], label: does, keys }),
    );
    const parts = (summary?.parts ?? []).map(
      ({ name, leader }): Entry => ({
        group: 'Parts',
        label: name,
        also: 'part',
        run: go(`notes?part=${encodeURIComponent(leader)}`),
      }),
    );
    return [...stages, ...actions, ...drawing, ...views, ...parts];
  }, [job.id, summary?.parts, kits.length, router]);
}

/** A number is a bar. */
function useBarEntries(text: string): Entry[] {
  const { job, summary } = useSession('job', 'summary');
  const router = useRouter();
  const number = /^(?:bar\s*)?(\d{1,6})$/i.exec(text.trim())?.[1];
  if (!summary || number === undefined || !summary.bars.includes(Number(number))) return [];
  return [
    {
      group: 'Bars',
      label: `Bar ${number} in the score`,
      run: () => router.push(`/job/${job.id}/notes?bar=${number}`, { scroll: false }),
    },
    {
      group: 'Bars',
      label: `Bar ${number} as played and as written`,
      run: () => router.push(`/job/${job.id}/time?bar=${number}`, { scroll: false }),
    },
  ];
}
