'use client';

import { Select } from 'antd';
import { lastAt } from '../../core/decisions/kind';
import { isSameMeter } from '../../core/model/clock';
import { groupings } from '../../core/model/groups';
import type { GroupedBar } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import { groupsWords } from './words';

interface Props {
  /** The bars that the choice is about; those of the first irregular meter among them are meant. */
  bars: readonly GroupedBar[];
  /** Ticks; none for the whole piece. */
  passage: { from?: number; to?: number };
  /** Where the choice in force is looked up, a tick. */
  tick: number;
}

/** How bars of an irregular meter group: as found, or one of the ways that there are. */
export function GroupsChoice({ bars, passage, tick }: Props) {
  const { decisions, take } = useSession('decisions', 'take');
  const [first] = bars;
  if (!first) return null;
  const { numerator, denominator } = first.meter;
  const chosen =
    lastAt(
      decisions.groups.filter((each) => isSameMeter(each, first.meter)),
      tick,
    )?.groups ?? [];
  return (
    <label>
      Groups of {numerator}/{denominator}
      <Select
        size="small"
        style={{ width: 144 }}
        value={chosen.join('+')}
        options={[
          { value: '', label: groupsWords(bars.filter(({ meter }) => isSameMeter(meter, first.meter))) },
          ...groupings(first.meter).map((groups) => ({ value: groups.join('+'), label: groups.join('+') })),
        ]}
        onChange={(value) =>
          take({
            kind: 'groups',
            numerator,
            denominator,
            groups: value === '' ? [] : value.split('+').map(Number),
            ...passage,
          })
        }
      />
    </label>
  );
}
