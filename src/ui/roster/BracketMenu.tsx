import { Button, Dropdown } from 'antd';
import { withBracket } from '../../core/cast/brackets';
import type { StrandId } from '../../core/model/ids';
import { GROUP_SYMBOLS, type GroupSymbol } from '../../core/model/score';
import { useSession } from '../job/session';

const LABELS: Record<GroupSymbol, string> = {
  bracket: 'Bracket',
  brace: 'Brace',
  square: 'Square bracket',
  line: 'Line',
  none: 'None',
};
const BY_FAMILY = 'family';

/** Brackets and braces over the parts of the chosen strands, from the first to the last. */
export function BracketMenu({ chosen }: { chosen: readonly StrandId[] }) {
  const { summary, decisions, take } = useSession('summary', 'decisions', 'take');
  const parts = summary?.parts ?? [];
  const places = parts.flatMap(({ strands }, index) =>
    strands.some((id) => chosen.includes(id)) ? [index] : [],
  );
  const [from, to] = [Math.min(...places), Math.max(...places)];
  const isOne = places.length < 2;
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          ...GROUP_SYMBOLS.map((key) => ({ key, label: LABELS[key], disabled: isOne })),
          { type: 'divider' },
          { key: BY_FAMILY, label: 'One over each family', disabled: decisions.brackets === null },
        ],
        onClick: ({ key }) => {
          const symbol = GROUP_SYMBOLS.find((each) => each === key);
          take({
            kind: 'brackets',
            groups: symbol
              ? withBracket(parts, summary?.groups, {
                  from,
                  to,
                  symbol,
                  // Bar lines run through what belongs together, not through what is only set apart.
                  joined: symbol !== 'line' && symbol !== 'none',
                })
              : null,
          });
        },
      }}
    >
      <Button size="small" title={isOne ? 'Tick strands of two parts or more' : undefined}>
        Bracket…
      </Button>
    </Dropdown>
  );
}
