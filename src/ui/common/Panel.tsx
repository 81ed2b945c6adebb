import { Alert, Button } from 'antd';
import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { useSession } from '../job/session';
import styles from './Panel.module.css';

/**
 * A part of a view that can fail by itself: what stands beside it stays, and works. It is drawn again by itself once something
 * was decided or the score was written, since it may have failed at what is past.
 */
export function Panel({
  name,
  inLine = false,
  children,
}: {
  name: string;
  /** It stands among others in one line, where there is room for a button alone. */
  inLine?: boolean;
  children: ReactNode;
}) {
  const { stock, summary } = useSession('stock', 'summary');
  return (
    <ErrorBoundary
      resetKeys={[stock.revision, summary?.revision]}
      fallbackRender={(failure) => <Failed name={name} inLine={inLine} {...failure} />}
    >
      {children}
    </ErrorBoundary>
  );
}

function Failed({
  name,
  inLine,
  error,
  resetErrorBoundary,
}: { name: string; inLine: boolean } & FallbackProps) {
  const why = error instanceof Error ? error.message : 'Nothing more is known.';
  if (inLine)
    return (
      <Button size="small" danger title={why} onClick={resetErrorBoundary}>
        {name} failed: show it again
      </Button>
    );
  return (
    <Alert
      type="error"
      className={styles.failed}
      title={`${name} cannot be shown`}
      description={
        <>
          <p>{why} Your decisions are kept.</p>
          <Button size="small" onClick={resetErrorBoundary}>
            Show it again
          </Button>
        </>
      }
    />
  );
}
