import { Button, Checkbox, Slider, Table, type TableColumnsType } from 'antd';
import { type StrandId, spelledStrand } from '../../core/model/ids';
import { useChosen } from '../common/useChosen';
import { useSession } from '../job/session';
import { PLAIN } from './hearing';
import { usePlayback } from './playback';
import styles from './Transport.module.css';

interface Row {
  id: StrandId;
  name: string;
}

/** What is heard of each strand, and how loud and where. */
export function StrandLevels() {
  const { inventory, summary } = useSession('inventory', 'summary');
  const { hearing, hear } = usePlayback();
  const { chosen, rowSelection } = useChosen<StrandId>();
  const rows = inventory.strands.map((strand): Row => {
    const part = summary?.parts.find((each) => each.strands.includes(strand.id));
    const name = part?.name ?? (strand.name || spelledStrand(strand.id));
    return { id: strand.id, name: strand.piece ? `${name}, ${strand.piece}` : name };
  });
  const of = (row: Row) => hearing.get(row.id) ?? PLAIN;
  /** A change of one chosen strand is made to all that are chosen. */
  const about = (row: Row) => (chosen.includes(row.id) ? chosen : [row.id]);
  const columns: TableColumnsType<Row> = [
    { title: 'Strand', dataIndex: 'name', ellipsis: true },
    {
      title: 'Mute',
      width: 52,
      render: (_, row) => (
        <Checkbox
          aria-label={`Mute ${row.name}`}
          checked={of(row).muted}
          onChange={(event) => hear(about(row), { muted: event.target.checked })}
        />
      ),
    },
    {
      title: 'Solo',
      width: 50,
      render: (_, row) => (
        <Checkbox
          aria-label={`Solo ${row.name}`}
          checked={of(row).solo}
          onChange={(event) => hear(about(row), { solo: event.target.checked })}
        />
      ),
    },
    {
      title: 'Level',
      width: 92,
      render: (_, row) => (
        <Slider
          className={styles.slider!}
          min={0}
          max={200}
          value={Math.round(of(row).gain * 100)}
          ariaLabelForHandle={`Level of ${row.name}`}
          onChange={(percent) => hear(about(row), { gain: percent / 100 })}
        />
      ),
    },
    {
      title: 'Pan',
      width: 82,
      render: (_, row) => (
        <Slider
          className={styles.slider!}
          min={-100}
          max={100}
          value={Math.round(of(row).pan * 100)}
          ariaLabelForHandle={`Pan of ${row.name}`}
          onChange={(percent) => hear(about(row), { pan: percent / 100 })}
        />
      ),
    },
  ];
  return (
    <>
      <p className="soft">
        For listening only: none of this goes into a hand-over. Choose several to change them together.
      </p>
      <Table
        size="small"
        rowKey="id"
        virtual
        scroll={{ x: 410, y: 420 }}
        columns={columns}
        dataSource={rows}
        pagination={false}
        rowSelection={rowSelection}
      />
      <Button
        size="small"
        className={styles.plain!}
        onClick={() =>
          hear(
            rows.map((row) => row.id),
            PLAIN,
          )
        }
      >
        All plain again
      </Button>
    </>
  );
}
