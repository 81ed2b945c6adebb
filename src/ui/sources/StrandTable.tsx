'use client';

import { Input, type InputRef, Popover, Space, Table, type TableColumnsType, Tag } from 'antd';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import type { StrandDecisions } from '../../core/decisions/decisions';
import { type Family, instrumentOf } from '../../core/instruments/catalogue';
import { FAMILY_NAMES } from '../../core/instruments/families';
import { SURE } from '../../core/instruments/recognise';
import type { StrandId } from '../../core/model/ids';
import { spelledStrand } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import type { StrandEntry } from '../../core/stock/inventory';
import { EditableText } from '../common/EditableText';
import { InstrumentPicker } from '../common/InstrumentPicker';
import { useKeys } from '../common/keys';
import { ManyStrands } from '../common/ManyStrands';
import { useChosen } from '../common/useChosen';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';
import { StrandCount } from './StrandCount';

const FAMILIES = Object.keys(FAMILY_NAMES) as Family[];

/** A strand with what was decided about it. */
interface Row extends StrandEntry {
  decided: StrandDecisions;
  instrumentId: string;
  partName: string;
  family: Family;
}

/** The strands of the source, and which go into the score as what. @param isSearched the cursor is in the search field at once */
export function StrandTable({ isSearched }: { isSearched: boolean }) {
  const { inventory, decisions, summary, take } = useSession('inventory', 'decisions', 'summary', 'take');
  const [search, setSearch] = useState('');
  const { chosen, rowSelection } = useChosen<StrandId>();
  const searched = useDeferredValue(search.trim().toLowerCase());
  const searchBox = useRef<InputRef>(null);
  const height = useHeight(330);

  useKeys({ search: () => searchBox.current?.focus() });

  const rows = useMemo(
    () =>
      inventory.strands.map((strand): Row => {
        const decided = decisions.strands.get(strand.id) ?? {};
        const instrumentId = decided.instrument ?? strand.guess.id;
        const part = summary?.parts.find((each) => each.strands.includes(strand.id));
        return {
          ...strand,
          decided,
          instrumentId,
          partName: part?.name ?? decided.name ?? instrumentOf(instrumentId).name,
          family: instrumentOf(instrumentId).family,
        };
      }),
    [inventory, decisions, summary],
  );
  const shown = useMemo(
    () =>
      rows.filter((row) =>
        `${row.id} ${row.name} ${row.partName} ${instrumentOf(row.instrumentId).name}`
          .toLowerCase()
          .includes(searched),
      ),
    [rows, searched],
  );

  const inOrder = rows.filter((row) => chosen.includes(row.id)).map((row) => row.id);

  const columns: TableColumnsType<Row> = [
    {
      title: 'In',
      key: 'in',
      width: 46,
      sorter: (a, b) => Number(a.decided.out ?? false) - Number(b.decided.out ?? false),
      render: (_, row) => (
        <input
          type="checkbox"
          className={styles.tick}
          checked={!row.decided.out}
          aria-label={`${row.name || spelledStrand(row.id)} goes into the score`}
          onChange={(event) => take({ kind: 'leave-out', strand: row.id, out: !event.target.checked })}
        />
      ),
    },
    {
      title: 'Strand',
      dataIndex: 'id',
      width: 70,
      sorter: (a, b) => a.track - b.track || a.channel - b.channel,
      render: (_, row) => (
        <span className="figures" title={`Track ${row.track}, channel ${row.channel}`}>
          {row.track}·{row.channel}
        </span>
      ),
    },
    {
      title: 'Name in the source',
      dataIndex: 'name',
      width: 178,
      ellipsis: true,
      sorter: (a, b) => a.name.localeCompare(b.name),
      render: (name: string, row) => (
        <>
          {name || <span className="soft">no name</span>}
          {row.piece && <span className="soft"> · {row.piece}</span>}
        </>
      ),
    },
    {
      title: 'Part name',
      key: 'part',
      width: 165,
      sorter: (a, b) => a.partName.localeCompare(b.partName),
      render: (_, row) =>
        row.decided.into ? (
          <span className="soft">
            joined to {rows.find((each) => each.id === row.decided.into)?.partName}
          </span>
        ) : (
          <EditableText
            value={row.partName}
            label={`Part name of ${row.name || spelledStrand(row.id)}`}
            disabled={row.decided.out ?? false}
            onSave={(name) => take({ kind: 'name', strand: row.id, name })}
          />
        ),
    },
    {
      title: 'Instrument',
      key: 'instrument',
      width: 205,
      sorter: (a, b) => instrumentOf(a.instrumentId).name.localeCompare(instrumentOf(b.instrumentId).name),
      filters: FAMILIES.map((family) => ({ text: FAMILY_NAMES[family], value: family })),
      onFilter: (family, row) => row.family === family,
      render: (_, row) => (
        <Space size={4}>
          <InstrumentPicker
            value={row.instrumentId}
            label={`Instrument of ${row.name || spelledStrand(row.id)}`}
            disabled={row.decided.out ?? false}
            onChange={(instrument) => take({ kind: 'cast', strand: row.id, instrument })}
          />
          {!row.decided.instrument && !row.decided.out && row.guess.confidence < SURE && (
            <Popover content={`${row.guess.why} Choose to settle it.`}>
              <Tag className={styles.unsure}>guess</Tag>
            </Popover>
          )}
        </Space>
      ),
    },
    {
      title: 'Notes',
      dataIndex: 'notes',
      width: 72,
      align: 'right',
      sorter: (a, b) => a.notes - b.notes,
      render: (notes: number) => notes.toLocaleString('en'),
    },
    {
      title: 'Range',
      key: 'range',
      width: 84,
      sorter: (a, b) => a.lowest - b.lowest,
      render: (_, row) => `${keyName(row.lowest)}–${keyName(row.highest)}`,
    },
    {
      title: 'At once',
      dataIndex: 'most',
      width: 78,
      align: 'right',
      sorter: (a, b) => a.most - b.most,
    },
    {
      title: 'Program',
      key: 'program',
      width: 82,
      sorter: (a, b) => (a.programs[0] ?? 0) - (b.programs[0] ?? 0),
      render: (_, row) => row.programs.join(', ') || '–',
    },
    {
      title: 'Bars',
      key: 'bars',
      width: 72,
      sorter: (a, b) => a.firstBar - b.firstBar,
      render: (_, row) => `${row.firstBar}–${row.lastBar}`,
    },
    {
      title: 'Controllers',
      key: 'controllers',
      width: 150,
      ellipsis: true,
      render: (_, row) => (
        <span className="figures soft">
          {row.controllers.map((use) => `${use.controller}×${use.count}`).join(' ') || '–'}
        </span>
      ),
    },
  ];

  return (
    <>
      <div className={styles.tools}>
        <Input.Search
          ref={searchBox}
          autoFocus={isSearched}
          placeholder="Find a strand"
          aria-label="Find a strand"
          allowClear
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          style={{ width: 230 }}
        />
        <StrandCount />
        <ManyStrands chosen={inOrder} />
      </div>
      <Table
        className={styles.table}
        rowKey="id"
        size="small"
        virtual
        scroll={{ x: 1200, y: height }}
        columns={columns}
        dataSource={shown}
        pagination={false}
        rowSelection={rowSelection}
        rowClassName={(row) => (row.decided.out ? styles.out! : '')}
        locale={{ emptyText: search ? 'No strand fits the search.' : 'The source has no notes.' }}
      />
    </>
  );
}
