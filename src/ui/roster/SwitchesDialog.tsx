import { Modal, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { ORDINARY } from '../../core/decisions/kinds/technique';
import { TECHNIQUE_NAMES } from '../../core/instruments/name-techniques';
import type { StrandId } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import type { Oddity } from '../../core/stock/oddities';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';

interface Props {
  strand: StrandId;
  name: string;
  switches: NonNullable<Oddity['switches']>;
  onClose: () => void;
}

/** What each key switch of a strand asks for: named once, it is a text where it takes hold. */
export function SwitchesDialog({ strand, name, switches, onClose }: Props) {
  const { take } = useSession('take');
  const [named, setNamed] = useState<readonly string[]>(() => switches.map(() => ORDINARY));
  return (
    <Modal
      open
      title={`Key switches of ${name}`}
      okText="Make texts of them"
      onCancel={onClose}
      onOk={() => {
        take({
          kind: 'split',
          strand,
          by: 'key-switch',
          keys: switches.map(({ key }) => key),
          techniques: [...named],
        });
        onClose();
      }}
    >
      <div className={styles.divide}>
        <table className={styles.switches}>
          <thead>
            <tr>
              <th scope="col">Key</th>
              <th scope="col">Notes</th>
              <th scope="col">From bar</th>
              <th scope="col">Played</th>
            </tr>
          </thead>
          <tbody>
            {switches.map(({ key, notes, bar }, at) => (
              <tr key={key}>
                <th scope="row">{keyName(key)}</th>
                <td>{counted(notes, 'note')}</td>
                <td className="figures">{notes > 0 ? bar : '–'}</td>
                <td>
                  <Select
                    size="small"
                    showSearch
                    aria-label={`What ${keyName(key)} asks for`}
                    value={named[at] ?? ORDINARY}
                    style={{ width: 160 }}
                    options={[ORDINARY, ...TECHNIQUE_NAMES].map((value) => ({ value, label: value }))}
                    onChange={(technique: string) => setNamed(named.with(at, technique))}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="soft">
          The keys are taken out. The strand stays one part; “{'pizz.'}”, “arco” and the like stand where the
          playing changes.
        </p>
      </div>
    </Modal>
  );
}
