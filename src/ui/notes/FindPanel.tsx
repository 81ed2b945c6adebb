import { Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { NoteRule } from '../../core/edit/select';
import type { EventId, PartId } from '../../core/model/ids';
import { isWorded, SIGNS, type Sign, signName } from '../../core/model/signs';
import type { NoteType } from '../../core/model/time';
import { useOfScore, useSession } from '../job/session';
import styles from './NotesStage.module.css';

const VALUES: readonly NoteType[] = ['32nd', '16th', 'eighth', 'quarter', 'half', 'whole'];
const FOUND_SIGNS: readonly Sign[] = SIGNS.filter(
  (sign) =>
    (!isWorded(sign) || sign === 'lyric') && sign !== 'beam' && sign !== 'crescendo' && sign !== 'diminuendo',
);

interface Option {
  label: string;
  rule: NoteRule;
}

/** A rule made of choices, one from each list; what is not chosen is any. */
const LISTS: { name: string; options: Option[] }[] = [
  {
    name: 'Length',
    options: [
      ...VALUES.slice(0, 4).map((value): Option => ({ label: `under a ${value}`, rule: { shorter: value } })),
      ...VALUES.slice(2).map((value): Option => ({ label: `over a ${value}`, rule: { longer: value } })),
      { label: 'grace notes', rule: { grace: true } },
    ],
  },
  {
    name: 'Place',
    options: [
      { label: 'on a beat', rule: { beat: 'on' } },
      { label: 'off the beat', rule: { beat: 'off' } },
    ],
  },
  {
    name: 'Height',
    options: [
      { label: 'ledger lines above', rule: { ledger: 'above' } },
      { label: 'ledger lines below', rule: { ledger: 'below' } },
      { label: 'beyond the instrument', rule: { outOfRange: true } },
    ],
  },
  {
    name: 'In chords',
    options: [
      { label: 'alone', rule: { chord: 'alone' } },
      { label: 'highest', rule: { chord: 'highest' } },
      { label: 'inner', rule: { chord: 'inner' } },
      { label: 'lowest', rule: { chord: 'lowest' } },
    ],
  },
  {
    name: 'Voice',
    options: [
      { label: 'voice 1', rule: { voice: 1 } },
      { label: 'voice 2', rule: { voice: 2 } },
    ],
  },
  {
    name: 'Sign',
    options: FOUND_SIGNS.flatMap((sign): Option[] => [
      { label: `with ${signName(sign)}`, rule: { sign, has: true } },
      { label: `without ${signName(sign)}`, rule: { sign, has: false } },
    ]),
  },
];

/** Finds notes by what they are like, and chooses them all. */
export function FindPanel({
  parts,
  onChoose,
}: {
  /** In view: notes are looked for there. */
  parts: readonly PartId[];
  onChoose: (notes: readonly EventId[]) => void;
}) {
  const { summary } = useSession('summary');
  const [picked, setPicked] = useState<Readonly<Record<string, number>>>({});
  const [velocity, setVelocity] = useState<{ softest?: number; loudest?: number }>({});
  const [bars, setBars] = useState<{ from?: number; to?: number }>({});
  const rule: NoteRule = Object.assign(
    {},
    ...LISTS.map(({ name, options }) => options[picked[name] ?? -1]?.rule),
    velocity,
  );
  const count = summary?.bars.length ?? 0;
  const indexOf = (number: number | undefined, otherwise: number) => {
    const at = number === undefined ? -1 : (summary?.bars.indexOf(number) ?? -1);
    return at < 0 ? otherwise : at;
  };
  const from = indexOf(bars.from, 0);
  const to = Math.max(from + 1, indexOf(bars.to, count - 1) + 1);
  const isEmpty = Object.keys(rule).length === 0 && bars.from === undefined && bars.to === undefined;
  const { data, isOld } = useOfScore(
    ['find', parts, from, to, rule],
    (core, revision) => core.findNotes(revision, { parts, from, to, ...rule }),
    !isEmpty && parts.length > 0 && count > 0,
  );
  if (!summary) return null;
  const found = isEmpty ? [] : (data ?? []);
  const number = (name: string, value: number | undefined, set: (value: number | undefined) => void) => (
    <InputNumber
      size="small"
      style={{ width: 62 }}
      min={1}
      aria-label={name}
      value={value ?? null}
      onChange={(next) => set(next ?? undefined)}
    />
  );
  return (
    <div className={styles.fields}>
      <p className="soft">Notes of the parts in view that are all of this:</p>
      {LISTS.map(({ name, options }) => (
        <label key={name}>
          {name}
          <Select
            size="small"
            allowClear
            showSearch={{ optionFilterProp: 'label' }}
            placeholder="any"
            aria-label={name}
            value={picked[name] ?? null}
            options={options.map(({ label }, value) => ({ value, label }))}
            onChange={(value: number | null | undefined) => {
              const { [name]: _, ...others } = picked;
              setPicked(value === null || value === undefined ? others : { ...others, [name]: value });
            }}
          />
        </label>
      ))}
      <div className={styles.field}>
        Velocity
        <span>
          {number('Velocity from', velocity.softest, (softest) =>
            setVelocity(({ softest: _, ...others }) => (softest ? { ...others, softest } : others)),
          )}{' '}
          to{' '}
          {number('Velocity to', velocity.loudest, (loudest) =>
            setVelocity(({ loudest: _, ...others }) => (loudest ? { ...others, loudest } : others)),
          )}
        </span>
      </div>
      <div className={styles.field}>
        Bars
        <span>
          {number('From bar', bars.from, (value) =>
            setBars(({ from: _, ...others }) => (value ? { ...others, from: value } : others)),
          )}{' '}
          to{' '}
          {number('To bar', bars.to, (value) =>
            setBars(({ to: _, ...others }) => (value ? { ...others, to: value } : others)),
          )}
        </span>
      </div>
      <Button
        type="primary"
        size="small"
        disabled={found.length === 0 || isOld}
        onClick={() => onChoose(found)}
      >
        {isEmpty || !data ? 'Choose notes' : `Choose ${counted(found.length, 'note')}`}
      </Button>
      {!isEmpty && !isOld && data && found.length === 0 && (
        <p className="soft">None of the parts in view has such notes.</p>
      )}
    </div>
  );
}
