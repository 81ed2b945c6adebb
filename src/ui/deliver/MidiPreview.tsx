import { Table, type TableColumnsType } from 'antd';
import { counted } from '../../core/basics/words';
import type { Preview, TrackContent } from '../../core/deliver';
import { useHeight } from '../common/useHeight';
import styles from './DeliverStage.module.css';

const number = (value: number) =>
  value === 0 ? <span className="soft">–</span> : value.toLocaleString('en');

/** What a MIDI hand-over will hold, track by track, and what it leaves out. */
export function MidiPreview({ preview }: { preview: Preview }) {
  const height = useHeight(380, 160);
  const columns: TableColumnsType<TrackContent & { id: number }> = [
    { title: 'Track', dataIndex: 'name', ellipsis: true, render: (name: string) => name || '–' },
    { title: 'Ch', key: 'channels', width: 48, render: (_, row) => row.channels.join(' ') || '–' },
    { title: 'Notes', dataIndex: 'notes', width: 68, align: 'right', render: number },
    { title: 'Prog', dataIndex: 'programs', width: 52, align: 'right', render: number },
    { title: 'Contr', dataIndex: 'controllers', width: 58, align: 'right', render: number },
    { title: 'Texts', dataIndex: 'texts', width: 54, align: 'right', render: number },
  ];
  if (preview.loops)
    return (
      <>
        <p>{counted(preview.loops.length, 'file')}; parts that rest in a section have none for it.</p>
        <Table
          size="small"
          rowKey="file"
          pagination={false}
          virtual
          scroll={{ x: 380, y: height }}
          columns={[
            { title: 'File', dataIndex: 'file', ellipsis: true },
            { title: 'Notes', dataIndex: 'notes', width: 70, align: 'right' },
          ]}
          dataSource={preview.loops}
        />
      </>
    );
  return (
    <>
      {preview.remarks.map((remark) => (
        <p key={remark} className={styles.note}>
          {remark}
        </p>
      ))}
      <Table
        size="small"
        rowKey="id"
        pagination={false}
        virtual
        scroll={{ x: 420, y: height }}
        columns={columns}
        dataSource={preview.contents.map((track, id) => ({ ...track, id }))}
      />
      {preview.omissions.length > 0 && (
        <div>
          <h2>What it leaves out</h2>
          <table className={styles.account}>
            <tbody>
              {preview.omissions.map(({ what, count, why }) => (
                <tr key={what + why}>
                  <td className="figures">{count.toLocaleString('en')}</td>
                  <td>
                    {what}, {why}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
