'use client';

import { Button, Popover, Space, Table, type TableColumnsType } from 'antd';
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
import { PROGRAM_NAMES, ProgramForm } from './treatments/ProgramForm';
import { SplitForm } from './treatments/SplitForm';
import { VaryForm } from './treatments/VaryForm';
import { VelocityForm } from './treatments/VelocityForm';

interface Row extends StrandEntry {
  decided: StrandDecisions;
  label: string;
}

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
    case 'chairs':
      return `over ${split.chairs?.length ?? 0} chairs`;
    case 'sounds':
      return `over ${split.players?.length ?? 0} players`;
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
