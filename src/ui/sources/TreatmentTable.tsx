'use client';

import { Button, InputNumber, Popover, Select, Slider, Space, Table, type TableColumnsType } from 'antd';
import { type ReactNode, useMemo, useState } from 'react';
import { counted } from '../../core/basics/words';
import { decidedFor, type StrandDecisions } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { StrandId } from '../../core/model/ids';
import { spelledStrand } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import type { StrandEntry } from '../../core/stock/inventory';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

interface Row extends StrandEntry {
  decided: StrandDecisions;
  label: string;
}

const PROGRAM_NAMES = {
  source: 'as in the source',
  first: 'the first only',
  none: 'none',
  instrument: 'of its instrument',
  number: 'chosen',
} as const;

const splitText = ({ split }: StrandDecisions): string => {
  switch (split?.by) {
    case 'pitch':
      return `at ${keyName(split.key ?? 60)}`;
    case 'program':
      return 'by program';
    case 'key-switch':
      return 'by key switch';
    case 'passage':
      return 'a passage';
    default:
      return '';
  }
};

/** Strand by strand: velocities, programs, splits, variation; for one or for all that are chosen. */
export function TreatmentTable() {
  const { inventory, decisions, take } = useSession('inventory', 'decisions', 'take');
  const { chosen, rowSelection } = useChosen<StrandId>();
  const height = useHeight(386);
  const rows = useMemo(
    () =>
      inventory.strands.map((strand): Row => {
        const name = strand.name || spelledStrand(strand.id);
        return {
          ...strand,
          decided: decidedFor(decisions, strand.id),
          label: strand.piece ? `${name}, ${strand.piece}` : name,
        };
      }),
    [inventory, decisions],
  );
  const targets = chosen.length > 0 ? chosen : rows.map((row) => row.id);
  const forAll = (make: (strand: StrandId) => PlainDirective) => take(...targets.map(make));

  const columns: TableColumnsType<Row> = [
    {
      title: 'Strand',
      dataIndex: 'label',
      width: 230,
      ellipsis: true,
      sorter: (a, b) => a.label.localeCompare(b.label),
    },
    { title: 'Notes', dataIndex: 'notes', width: 80, align: 'right', sorter: (a, b) => a.notes - b.notes },
    {
      title: 'Channel',
      dataIndex: 'channel',
      width: 84,
      align: 'right',
      sorter: (a, b) => a.channel - b.channel,
    },
    {
      title: 'Velocities',
      key: 'velocities',
      width: 150,
      sorter: (a, b) => a.velocities[1] - b.velocities[1],
      render: (_, { velocities: [low, high], decided }) => (
        <>
          {low === high ? `all ${low}` : `${low}–${high}`}
          {decided.velocities && <span className="soft"> · shaped</span>}
        </>
      ),
    },
    {
      title: 'Programs',
      key: 'programs',
      width: 170,
      render: (_, { decided, programs }) =>
        decided.programs && decided.programs.use !== 'source'
          ? decided.programs.use === 'number'
            ? decided.programs.program
            : PROGRAM_NAMES[decided.programs.use]
          : programs.join(', ') || '–',
    },
    { title: 'Split', key: 'split', width: 120, render: (_, { decided }) => splitText(decided) || '–' },
    {
      title: 'Variation',
      key: 'vary',
      width: 150,
      render: (_, { decided: { vary } }) =>
        vary && (vary.time > 0 || vary.velocity > 0) ? `±${vary.time} ms, ±${vary.velocity}` : '–',
    },
  ];
  return (
    <>
      <div className={styles.tools}>
        <Space role="group" aria-label="Treat strands">
          <strong>{chosen.length > 0 ? `${counted(chosen.length, 'strand')}:` : 'All strands:'}</strong>
          <Treatment title="Velocities" form={(close) => <VelocityForm forAll={forAll} close={close} />} />
          <Treatment title="Programs" form={(close) => <ProgramForm forAll={forAll} close={close} />} />
          <Treatment
            title="Split"
            unavailable={chosen.length === 0 ? 'Choose the strands to split' : ''}
            form={(close) => <SplitForm forAll={forAll} close={close} />}
          />
          <Treatment title="Variation" form={(close) => <VaryForm forAll={forAll} close={close} />} />
          <Button
            size="small"
            disabled={chosen.length < 2}
            title={chosen.length < 2 ? 'Choose two or more' : undefined}
            onClick={() => {
              const [first, ...others] = rows.filter((row) => chosen.includes(row.id)).map((row) => row.id);
              take(...others.map((strand): PlainDirective => ({ kind: 'join', strand, into: first! })));
            }}
          >
            Merge
          </Button>
        </Space>
      </div>
      <Table
        className={styles.table}
        size="small"
        rowKey="id"
        virtual
        scroll={{ x: 960, y: height }}
        columns={columns}
        dataSource={rows}
        pagination={false}
        rowClassName={(row) => (row.decided.out ? styles.out! : '')}
        rowSelection={rowSelection}
      />
    </>
  );
}

function Treatment({
  title,
  form,
  unavailable = '',
}: {
  title: string;
  form: (close: () => void) => ReactNode;
  unavailable?: string;
}) {
  const [isOpen, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      open={isOpen && !unavailable}
      onOpenChange={setOpen}
      placement="bottomLeft"
      content={<div className={styles.form}>{form(() => setOpen(false))}</div>}
    >
      <Button size="small" disabled={unavailable !== ''} title={unavailable || undefined}>
        {title}…
      </Button>
    </Popover>
  );
}

interface FormProps {
  forAll: (make: (strand: StrandId) => PlainDirective) => void;
  close: () => void;
}

function VelocityForm({ forAll, close }: FormProps) {
  const [scale, setScale] = useState(100);
  const [level, setLevel] = useState(80);
  const [strength, setStrength] = useState(0);
  const set = (values: { scale: number; level: number; strength: number }) => {
    forAll((strand) => ({ kind: 'velocities', strand, ...values }));
    close();
  };
  return (
    <>
      <label>
        Scale, per cent
        <InputNumber
          size="small"
          min={1}
          max={400}
          value={scale}
          onChange={(value) => setScale(value ?? 100)}
        />
      </label>
      <label>
        Draw towards
        <InputNumber
          size="small"
          min={1}
          max={127}
          precision={0}
          value={level}
          onChange={(value) => setLevel(value ?? 80)}
        />
      </label>
      <span id="level-strength">by {strength} %: 100 makes all alike</span>
      <Slider
        min={0}
        max={100}
        step={5}
        value={strength}
        onChange={setStrength}
        ariaLabelledByForHandle="level-strength"
      />
      <Space>
        <Button size="small" type="primary" onClick={() => set({ scale, level, strength })}>
          Shape
        </Button>
        <Button size="small" onClick={() => set({ scale: 100, level: 80, strength: 0 })}>
          As in the source
        </Button>
      </Space>
    </>
  );
}

function ProgramForm({ forAll, close }: FormProps) {
  const [use, setUse] = useState<keyof typeof PROGRAM_NAMES>('instrument');
  const [program, setProgram] = useState(1);
  return (
    <>
      <label>
        Programs
        <Select
          size="small"
          style={{ width: 160 }}
          value={use}
          options={Object.entries(PROGRAM_NAMES).map(([value, label]) => ({ value, label }))}
          onChange={(value) => setUse(value as keyof typeof PROGRAM_NAMES)}
        />
      </label>
      {use === 'number' && (
        <label>
          Program, 1–128
          <InputNumber
            size="small"
            min={1}
            max={128}
            precision={0}
            value={program}
            onChange={(value) => setProgram(value ?? 1)}
          />
        </label>
      )}
      <Button
        size="small"
        type="primary"
        onClick={() => {
          forAll((strand) => ({ kind: 'programs', strand, use, ...(use === 'number' && { program }) }));
          close();
        }}
      >
        Set
      </Button>
    </>
  );
}

function SplitForm({ forAll, close }: FormProps) {
  const { inventory } = useSession('inventory');
  const [key, setKey] = useState(60);
  const split = (make: (strand: StrandId) => PlainDirective) => {
    forAll(make);
    close();
  };
  const switchesOf = (strand: StrandId): number[] => {
    const mend = inventory.oddities.find((each) => each.kind === 'key-switches' && each.strand === strand);
    const [directive] = mend?.mend.directives ?? [];
    return directive?.kind === 'key-switches' ? [...directive.keys] : [];
  };
  return (
    <>
      <label>
        From key {keyName(key)} up
        <InputNumber
          size="small"
          min={1}
          max={127}
          precision={0}
          value={key}
          onChange={(value) => setKey(value ?? 60)}
        />
      </label>
      <Space wrap>
        <Button
          size="small"
          type="primary"
          onClick={() => split((strand) => ({ kind: 'split', strand, by: 'pitch', key }))}
        >
          By pitch
        </Button>
        <Button size="small" onClick={() => split((strand) => ({ kind: 'split', strand, by: 'program' }))}>
          By program
        </Button>
        <Button
          size="small"
          onClick={() =>
            split((strand) => ({ kind: 'split', strand, by: 'key-switch', keys: switchesOf(strand) }))
          }
        >
          By key switch
        </Button>
        <Button size="small" onClick={() => split((strand) => ({ kind: 'split', strand, by: null }))}>
          Whole again
        </Button>
      </Space>
      <p className="soft">
        Channels of a track are strands already. A passage is split off on the note bars.
      </p>
    </>
  );
}

function VaryForm({ forAll, close }: FormProps) {
  const [time, setTime] = useState(10);
  const [velocity, setVelocity] = useState(8);
  const [seed, setSeed] = useState(1);
  const set = (values: { time: number; velocity: number; seed: number }) => {
    forAll((strand) => ({ kind: 'vary', strand, ...values }));
    close();
  };
  return (
    <>
      <label>
        Time, ± ms
        <InputNumber size="small" min={0} max={60} value={time} onChange={(value) => setTime(value ?? 0)} />
      </label>
      <label>
        Velocity, ±
        <InputNumber
          size="small"
          min={0}
          max={40}
          value={velocity}
          onChange={(value) => setVelocity(value ?? 0)}
        />
      </label>
      <label>
        Seed
        <InputNumber
          size="small"
          min={0}
          max={4_294_967_295}
          precision={0}
          value={seed}
          onChange={(value) => setSeed(value ?? 0)}
        />
      </label>
      <Space>
        <Button size="small" type="primary" onClick={() => set({ time, velocity, seed })}>
          Vary
        </Button>
        <Button size="small" onClick={() => set({ time: 0, velocity: 0, seed: 0 })}>
          Not at all
        </Button>
      </Space>
      <p className="soft">
        For playback and hand-over; the score is written from what was played. One seed makes strands drift
        together.
      </p>
    </>
  );
}
