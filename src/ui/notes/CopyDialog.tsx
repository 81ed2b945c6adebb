import { Checkbox, InputNumber, Modal, Select } from 'antd';
import { useState } from 'react';
import { isAdded, type StrandId } from '../../core/model/ids';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import styles from './NotesStage.module.css';
import type { NoteEdit } from './useNoteEdits';

/** Copies the chosen notes to a part and a bar. */
export function CopyDialog({
  origins,
  onEdit,
  onClose,
}: {
  origins: readonly NoteOrigin[];
  onEdit: (edit: NoteEdit) => void;
  onClose: () => void;
}) {
  const { summary } = useSession('summary');
  const first = origins.reduce<NoteOrigin | null>(
    (best, each) => (best && best.on <= each.on ? best : each),
    null,
  );
  const own = summary?.parts.find(({ strands }) => first !== null && strands.includes(first.strandId));
  const [to, setTo] = useState<StrandId | undefined>(undefined);
  const [bar, setBar] = useState<number | null>(null);
  const [instead, setInstead] = useState(false);
  if (!summary || !first || !own) return null;
  const target = bar ?? first.bar;
  const later = (summary.barTicks[target] ?? 0) - (summary.barTicks[first.bar] ?? 0);
  const isSame = (to === undefined || to === own.leader) && later === 0;
  return (
    <Modal
      open
      width={400}
      title={`Copy ${origins.length === 1 ? 'the note' : `${origins.length} notes`}`}
      okText="Copy"
      okButtonProps={{ disabled: isSame }}
      onCancel={onClose}
      onOk={() => {
        onEdit({ copy: { ...(to && to !== own.leader && { to }), later, instead } });
        onClose();
      }}
    >
      <div className={styles.fields}>
        <label>
          To part
          <Select
            aria-label="Part to copy to"
            value={to ?? own.leader}
            options={summary.parts
              .filter(({ leader }) => !isAdded(leader))
              .map(({ name, leader }) => ({ value: leader, label: name }))}
            onChange={setTo}
          />
        </label>
        <label>
          To bar
          <InputNumber
            aria-label="Bar to copy to"
            min={summary.bars[0]}
            max={summary.bars.at(-1)}
            value={summary.bars[target]}
            onChange={(number) => {
              const index = summary.bars.indexOf(Number(number));
              setBar(index < 0 ? null : index);
            }}
          />
        </label>
        <Checkbox checked={instead} onChange={(event) => setInstead(event.target.checked)}>
          In the place of what begins there
        </Checkbox>
        {isSame && <p className="soft">Choose another part or another bar.</p>}
      </div>
    </Modal>
  );
}
