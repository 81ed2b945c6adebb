import { Alert, Checkbox, Modal, Spin, Table } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { COPIED, type Copied, type Likeness, type LikePassage } from '../../core/edit/like-passages';
import type { EventId } from '../../core/model/ids';
import { useOfScore, useSession } from '../job/session';
import styles from './NotesStage.module.css';

const LABELS: Record<Copied, string> = {
  articulation: 'Articulation',
  slurs: 'Slurs',
  dynamics: 'Dynamics, hairpins',
  ornaments: 'Ornaments, techniques',
  texts: 'Texts',
  rhythm: 'Rhythm instead',
};

const LIKENESSES: Record<Likeness, string> = {
  same: 'the same notes',
  moved: 'the same, moved',
  rhythm: 'the same rhythm',
  near: 'nearly',
};

const keyOf = ({ part, note }: LikePassage): string => `${part} ${note}`;

/** Copies what stands over the chosen passage to the passages like it, which are shown before. */
export function LikeDialog({ notes, onClose }: { notes: readonly EventId[]; onClose: () => void }) {
  const { summary, take, stock } = useSession('summary', 'take', 'stock');
  // The rhythm of a score that was read stays.
  const choices = COPIED.filter((value) => value !== 'rhythm' || stock.kind !== 'score');
  const [what, setWhat] = useState<readonly Copied[]>(['articulation', 'slurs']);
  /** Those that are left out, or taken though they are only nearly alike. */
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const { data, isOld, why } = useOfScore(
    ['like', notes, what],
    (core, revision) => core.likePassages(revision, { notes, what }),
    what.length > 0,
  );
  const passages = what.length > 0 ? (data ?? []) : [];
  const isTaken = (each: LikePassage) => each.likely !== turned.has(keyOf(each));
  const taken = passages.filter((each) => isTaken(each) && each.directives.length > 0);
  const setTaken = (keys: readonly React.Key[]) => {
    const wanted = new Set(keys.map(String));
    setTurned(new Set(passages.filter((each) => each.likely !== wanted.has(keyOf(each))).map(keyOf)));
  };
  if (!summary) return null;
  return (
    <Modal
      open
      width={560}
      title="To like passages"
      okText={`Copy to ${counted(taken.length, 'passage')}`}
      okButtonProps={{ disabled: taken.length === 0 || isOld }}
      onCancel={onClose}
      onOk={() => {
        take(...taken.flatMap(({ directives }) => directives));
        onClose();
      }}
    >
      <Checkbox.Group
        aria-label="What is copied"
        className={styles.copied}
        value={[...what]}
        options={choices.map((value) => ({ value, label: LABELS[value] }))}
        onChange={(values) => {
          const next = values as Copied[];
          // Rhythm is copied by itself: passages are told apart by it otherwise.
          setWhat(
            next.includes('rhythm') && !what.includes('rhythm')
              ? ['rhythm']
              : next.filter((each) => each !== 'rhythm' || next.length === 1),
          );
          setTurned(new Set());
        }}
      />
      {why !== null && <Alert type="error" title="Passages could not be looked for." description={why} />}
      <p className="soft" role="status">
        {isOld || (!data && what.length > 0) ? (
          <>
            <Spin size="small" /> Looking
          </>
        ) : (
          `${counted(passages.length, 'passage')} like it, ${passages.filter(({ directives }) => directives.length === 0).length} marked so already.`
        )}
      </p>
      <Table
        size="small"
        virtual
        scroll={{ y: 300 }}
        pagination={false}
        rowKey={keyOf}
        dataSource={passages}
        rowSelection={{
          selectedRowKeys: passages.filter(isTaken).map(keyOf),
          onChange: setTaken,
          getCheckboxProps: (row) => ({
            'aria-label': `Bar ${summary.bars[row.bar]}, ${summary.parts[row.part]?.name}`,
          }),
        }}
        columns={[
          {
            title: 'Place',
            width: 130,
            render: (_, row) => `bar ${summary.bars[row.bar]}, ${row.words}`,
          },
          { title: 'Part', ellipsis: true, render: (_, row) => summary.parts[row.part]?.name },
          { title: 'Alike', width: 130, render: (_, row) => LIKENESSES[row.likeness] },
          {
            title: 'Changes',
            width: 84,
            align: 'right',
            render: (_, row) => (row.directives.length === 0 ? 'none' : row.directives.length),
          },
        ]}
      />
    </Modal>
  );
}
