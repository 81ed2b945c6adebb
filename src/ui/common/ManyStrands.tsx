import { App, Button, Space } from 'antd';
import type { ReactNode } from 'react';
import { counted } from '../../core/basics/words';
import type { PlainDirective } from '../../core/decisions/kinds';
import type { StrandId } from '../../core/model/ids';
import { useSession } from '../job/session';
import { InstrumentSelect } from './InstrumentSelect';
import styles from './ManyStrands.module.css';

interface Props {
  chosen: readonly StrandId[];
  /** What a stage adds. */
  children?: ReactNode;
}

/** What can be done to all chosen strands, given in the order of the table. */
export function ManyStrands({ chosen, children }: Props) {
  const { take } = useSession('take');
  const { message } = App.useApp();
  const forAll = (make: (strand: StrandId) => PlainDirective) => take(...chosen.map(make));
  if (chosen.length === 0) return null;
  const join = () => {
    const [first] = chosen;
    if (!first) return;
    forAll((strand) => ({ kind: 'join', strand, into: strand === first ? null : first }));
    message.success(`${counted(chosen.length, 'strand')} now make one part.`);
  };
  return (
    <Space className={styles.many} role="group" aria-label="Do to all chosen">
      <strong>{counted(chosen.length, 'strand')}:</strong>
      <Button size="small" onClick={() => forAll((strand) => ({ kind: 'leave-out', strand, out: true }))}>
        Leave out
      </Button>
      <Button size="small" onClick={() => forAll((strand) => ({ kind: 'leave-out', strand, out: false }))}>
        Take in
      </Button>
      <InstrumentSelect
        value={null}
        label="Cast all chosen as"
        placeholder="Cast as…"
        width={150}
        onChange={(instrument) => forAll((strand) => ({ kind: 'cast', strand, instrument }))}
      />
      <Button
        size="small"
        disabled={chosen.length < 2}
        title={chosen.length < 2 ? 'Choose two or more' : undefined}
        onClick={join}
      >
        Join into one part
      </Button>
      <Button size="small" onClick={() => forAll((strand) => ({ kind: 'join', strand, into: null }))}>
        Part again
      </Button>
      {children}
    </Space>
  );
}
