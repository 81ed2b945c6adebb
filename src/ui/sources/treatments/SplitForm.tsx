import { Button, InputNumber, Space } from 'antd';
import { useState } from 'react';
import type { PlainDirective } from '../../../core/decisions/kinds';
import type { StrandId } from '../../../core/model/ids';
import { keyName } from '../../../core/model/pitch';
import { useSession } from '../../job/session';
import type { FormProps } from './form';

/** Makes several strands of one. */
export function SplitForm({ forAll, close }: FormProps) {
  const { inventory } = useSession('inventory');
  const [key, setKey] = useState(60);
  const split = (make: (strand: StrandId) => PlainDirective) => {
    forAll(make);
    close();
  };
  const switchesOf = (strand: StrandId): number[] => {
    const mend = inventory.oddities.find((each) => each.kind === 'key-switches' && each.strand === strand);
    const [directive] = mend?.mend.directives ?? [];
    return directive?.kind === 'key-switches' ? [...directive.keys] : [];
  };
  return (
    <>
      <label>
        From key {keyName(key)} up
        <InputNumber
          size="small"
          min={1}
          max={127}
          precision={0}
          value={key}
          onChange={(value) => setKey(value ?? 60)}
        />
      </label>
      <Space wrap>
        <Button
          size="small"
          type="primary"
          onClick={() => split((strand) => ({ kind: 'split', strand, by: 'pitch', key }))}
        >
          By pitch
        </Button>
        <Button size="small" onClick={() => split((strand) => ({ kind: 'split', strand, by: 'program' }))}>
          By program
        </Button>
        <Button
          size="small"
          onClick={() =>
            split((strand) => ({ kind: 'split', strand, by: 'key-switch', keys: switchesOf(strand) }))
          }
        >
          By key switch
        </Button>
        <Button size="small" onClick={() => split((strand) => ({ kind: 'split', strand, by: null }))}>
          Whole again
        </Button>
      </Space>
      <p className="soft">
        Channels of a track are strands already. A passage is split off on the note bars.
      </p>
    </>
  );
}
