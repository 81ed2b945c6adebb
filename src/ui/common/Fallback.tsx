'use client';

import { Alert, Button, Space } from 'antd';
import Link from 'next/link';
import type { FallbackProps } from 'react-error-boundary';

/** What stands where a part of the page failed: what happened, and the ways on. */
export function Fallback({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div className="plain-page">
      <Alert
        type="error"
        title="This view failed"
        description={
          <>
            <p>
              {error instanceof Error ? error.message : 'Nothing more is known.'} Nothing that was decided is
              lost: it is kept in this browser.
            </p>
            <Space>
              <Button onClick={resetErrorBoundary}>Draw it again</Button>
              <Link href="/">To the jobs</Link>
            </Space>
          </>
        }
      />
    </div>
  );
}
