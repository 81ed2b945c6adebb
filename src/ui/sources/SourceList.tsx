'use client';

import { Button, Select, Space, Table, type TableColumnsType, Tag } from 'antd';
import { counted } from '../../core/basics/words';
import type { SourceId } from '../../core/model/ids';
import type { SourceEntry } from '../../store/rows';
import { useSession } from '../job/session';

interface Row {
  source: SourceId;
  /** Newest first. */
  versions: SourceEntry[];
  inForce: SourceEntry;
}

/** The sources of a job where it has several, or several versions of one: which leads, and whose clock counts. */
export function SourceList() {
  const { sources, decisions, take, inventory } = useSession('sources', 'decisions', 'take', 'inventory');
  const ids = [...new Set(sources.map(({ source }) => source))];
  const rows = ids.map((source): Row => {
    const versions = sources
      .filter((each) => each.source === source)
      .toSorted((a, b) => b.version - a.version);
    const wanted = decisions.versions.get(source);
    return { source, versions, inForce: versions.find(({ version }) => version === wanted) ?? versions[0]! };
  });
  if (sources.length < 2) return null;
  const leading = ids.find((id) => id === decisions.leading) ?? ids[0]!;
  const clock = ids.find((id) => id === decisions.clockFrom) ?? leading;
  const columns: TableColumnsType<Row> = [
    { title: 'No.', dataIndex: 'source', width: 56, align: 'right' },
    { title: 'File', key: 'file', render: (_, { inForce }) => inForce.name },
    {
      title: 'Version',
      key: 'version',
      width: 210,
      render: (_, { source, versions, inForce }) =>
        versions.length === 1 ? (
          <span className="soft">the only one</span>
        ) : (
          <Select
            size="small"
            aria-label={`Version of source ${source}`}
            value={inForce.version}
            style={{ width: 190 }}
            options={versions.map(({ version, name, addedAt }) => ({
              value: version,
              label: `${version}: ${name}, ${new Date(addedAt).toLocaleDateString('en-GB')}`,
            }))}
            onChange={(version: number) => take({ kind: 'version', source, version })}
          />
        ),
    },
    {
      title: 'Size',
      key: 'size',
      width: 90,
      align: 'right',
      render: (_, { inForce }) => `${Math.max(1, Math.round(inForce.size / 1024)).toLocaleString('en')} kB`,
    },
    {
      title: 'Part in the job',
      key: 'use',
      render: (_, { source }) => (
        <Space size={6}>
          {source === leading ? (
            <Tag>Leads: {counted(inventory.strands.length, 'strand')}</Tag>
          ) : (
            <Button size="small" onClick={() => take({ kind: 'leads', source })}>
              Let it lead
            </Button>
          )}
          {source === clock ? (
            <Tag>Gives the clock</Tag>
          ) : (
            <Button
              size="small"
              onClick={() => take({ kind: 'clock-from', source: source === leading ? null : source })}
            >
              Take its clock
            </Button>
          )}
        </Space>
      ),
    },
  ];
  return (
    <Table
      size="small"
      rowKey="source"
      aria-label="Sources"
      columns={columns}
      dataSource={rows}
      pagination={false}
    />
  );
}
