import { InputNumber, Modal, Segmented } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { PlainDirective } from '../../core/decisions/kinds';
import { drumSound } from '../../core/instruments/kit';
import { setUps } from '../../core/instruments/kit-players';
import { pieceId, type StrandId } from '../../core/model/ids';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';

const MOST = 6;

/** Several percussionists: who has which sounds. */
export function PlayersDialog({
  strand,
  name,
  onClose,
}: {
  strand: StrandId;
  name: string;
  onClose: () => void;
}) {
  const { kits, take } = useSession('kits', 'take');
  const keys = (kits.find((each) => each.strand === strand)?.keys ?? []).map(({ to, count }) => ({
    key: to,
    count,
  }));
  const [count, setCount] = useState(2);
  const [given, setGiven] = useState<ReadonlyMap<number, number>>(() => setUps(keys, 2));
  const playerOf = (key: number) => Math.min(given.get(key) ?? 0, count - 1);
  const players = Array.from({ length: count }, (_, player) =>
    keys.filter(({ key }) => playerOf(key) === player).map(({ key }) => key),
  );
  const isEmpty = players.some((own) => own.length === 0);
  const divide = () => {
    take(
      { kind: 'split', strand, by: 'sounds', players },
      ...players.map(
        (_, player): PlainDirective => ({
          kind: 'cast',
          strand: player === 0 ? strand : pieceId(strand, player + 1),
          instrument: 'percussion',
        }),
      ),
    );
    onClose();
  };
  return (
    <Modal
      open
      title={`Divide ${name} over percussionists`}
      okText="Divide"
      okButtonProps={{ disabled: isEmpty }}
      onOk={divide}
      onCancel={onClose}
    >
      <div className={styles.divide}>
        <label>
          Players
          <InputNumber
            aria-label="Players"
            min={2}
            max={Math.min(MOST, Math.max(2, keys.length))}
            precision={0}
            value={count}
            onChange={(value) => {
              setCount(value ?? 2);
              setGiven(setUps(keys, value ?? 2));
            }}
          />
        </label>
        <table className={styles.switches}>
          <tbody>
            {keys.map(({ key, count: strokes }) => (
              <tr key={key}>
                <th scope="row">{drumSound(key).name}</th>
                <td className="figures">{counted(strokes, 'stroke')}</td>
                <td>
                  <Segmented
                    size="small"
                    aria-label={`Who plays ${drumSound(key).name}`}
                    value={playerOf(key)}
                    options={players.map((_, player) => ({ value: player, label: `${player + 1}` }))}
                    onChange={(player) => setGiven(new Map(given).set(key, player))}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {isEmpty && <p className="rubric">Every player needs a sound.</p>}
      </div>
    </Modal>
  );
}
