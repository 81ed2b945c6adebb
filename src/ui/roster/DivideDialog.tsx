import { InputNumber, Modal, Radio, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { LINE_UPS } from '../../core/cast/line-ups';
import type { PlainDirective } from '../../core/decisions/kinds';
import { instrumentOf } from '../../core/instruments/catalogue';
import { pieceId, type StrandId } from '../../core/model/ids';
import type { StrandEntry } from '../../core/stock/inventory';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';

const MOST = 12;
const SECTION = 'section';

/** Sets of players that one strand may be divided over. */
const SETS = LINE_UPS.filter(
  ({ parts }) =>
    parts.length > 1 &&
    parts.length <= MOST &&
    !parts.some(({ instrument }) => instrumentOf(instrument).unpitched),
);

/** One strand over several players: of its own instrument, or of a standing ensemble. */
export function DivideDialog({ strands, onClose }: { strands: readonly StrandEntry[]; onClose: () => void }) {
  const { decisions, summary, stock, take } = useSession('decisions', 'summary', 'stock', 'take');
  const isScore = stock.kind === 'score';
  const most = Math.max(2, ...strands.map((strand) => strand.most));
  const [over, setOver] = useState<string>(SECTION);
  const [count, setCount] = useState(Math.min(MOST, most));
  const [isShared, setShared] = useState(false);
  const instrumentIn = ({ id, guess }: StrandEntry) =>
    decisions.strands.get(id)?.instrument ??
    (isScore ? summary?.parts.find(({ strands }) => strands.includes(id))?.instrument : undefined) ??
    guess.id;
  const chairsFor = (strand: StrandEntry): string[] =>
    SETS.find(({ name }) => name === over)?.parts.map(({ instrument }) => instrument) ??
    Array.from({ length: count }, () => instrumentIn(strand));

  const divide = () => {
    take(
      ...strands
        .filter((strand) => isScore || strand.most > 1)
        .flatMap((strand): PlainDirective[] => {
          const chairs = chairsFor(strand);
          const piece = (at: number): StrandId => (at === 0 ? strand.id : pieceId(strand.id, at + 1));
          const pairs = chairs.flatMap((_, at): PlainDirective[] =>
            at % 2 === 1 ? [{ kind: 'join', strand: piece(at), into: isShared ? piece(at - 1) : null }] : [],
          );
          return [{ kind: 'split', strand: strand.id, by: 'chairs', chairs }, ...pairs];
        }),
    );
    onClose();
  };

  return (
    <Modal
      open
      title={
        strands.length === 1
          ? 'Divide a strand over players'
          : `Divide ${strands.length} strands over players`
      }
      okText="Divide"
      onOk={divide}
      onCancel={onClose}
    >
      <div className={styles.divide}>
        <label>
          Over
          <Select
            aria-label="Over which players"
            value={over}
            style={{ width: 260 }}
            options={[
              { value: SECTION, label: 'Players of its own instrument' },
              ...SETS.map(({ name, parts }) => ({ value: name, label: `${name}, ${parts.length}` })),
            ]}
            onChange={setOver}
          />
        </label>
        {over === SECTION && (
          <label>
            Players
            <InputNumber
              aria-label="Players"
              min={2}
              max={MOST}
              precision={0}
              value={count}
              onChange={(value) => setCount(value ?? 2)}
            />
          </label>
        )}
        <Radio.Group
          aria-label="Staves of the players"
          value={isShared}
          onChange={({ target }) => setShared(target.value as boolean)}
          options={[
            { value: false, label: 'A staff for each' },
            { value: true, label: 'Two on a staff' },
          ]}
        />
        <p className="soft">
          {isScore &&
            'Where the score says who plays, by “1.”, “a2”, names or voices, it is followed. Elsewhere: '}
          Up to {counted(most, 'note')} sound at once. The highest is the first player’s, lines go on in the
          same hands, and each keeps to what the instrument has.
        </p>
      </div>
    </Modal>
  );
}
