'use client';

import { Modal } from 'antd';
import { DRAWING_KEYS, SHORTCUTS } from '../common/keys';
import styles from './JobFrame.module.css';

/** All keys, and what they do. */
export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const rows = [
    ...Object.values(SHORTCUTS).map(({ keys, does }): [string, string] => [keys, does]),
    ...DRAWING_KEYS,
  ];
  return (
    <Modal title="Keys" open={open} onCancel={onClose} footer={null} width={440}>
      <dl className={styles.keys}>
        {rows.map(([keys, does]) => (
          <div key={keys}>
            <dt>
              <kbd>{keys}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
