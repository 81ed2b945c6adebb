import { Spin } from 'antd';
import { useSession } from '../job/session';

interface Props {
  parts: number;
  className?: string | undefined;
}

/** What a stage says that has no part to show: what is not known yet is not said to be nothing. */
export function NothingShown({ parts, className }: Props) {
  const { summary, stopped, resume } = useSession('summary', 'stopped', 'resume');
  return (
    <p className={className} role="status">
      {!summary ? (
        stopped ? (
          <>
            The score has not been written.{' '}
            <button type="button" onClick={resume}>
              Write it
            </button>
          </>
        ) : (
          <>
            <Spin size="small" /> The score is being written
          </>
        )
      ) : parts === 0 ? (
        'No strand is in the score. Take one in under Sources.'
      ) : (
        'No part is in view. Tick one at the left.'
      )}
    </p>
  );
}
