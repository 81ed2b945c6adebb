import { Button } from 'antd';
import { useKeys } from '../common/keys';
import { useSession } from '../job/session';
import type { StrandRow } from './StrandList';

/** Takes the proposed line-up as it stands: every guess becomes a decision, in one step. */
export function Confirm({ rows }: { rows: readonly StrandRow[] }) {
  const { take } = useSession('take');
  const open = rows.filter(({ decided }) => !decided.out && !decided.into && !decided.instrument);
  const unsure = open.filter(({ isUnsure }) => isUnsure).length;
  const confirm = () => {
    if (open.length > 0)
      take(
        ...open.map(({ entry: { id, guess } }) => ({
          kind: 'cast' as const,
          strand: id,
          instrument: guess.id,
        })),
      );
  };
  useKeys({ confirm });
  return (
    <Button
      type={unsure > 0 ? 'primary' : 'default'}
      disabled={open.length === 0}
      title={open.length === 0 ? 'Every instrument is decided' : 'Ctrl Enter'}
      onClick={confirm}
    >
      {unsure > 0 ? `Confirm the line-up, ${unsure} guessed` : 'Confirm the line-up'}
    </Button>
  );
}
