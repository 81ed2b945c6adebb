import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { ENGINE } from '../../../core/workbench/engine';
import { NONCE } from '../../../proxy';
import { JobFrame } from '../../../ui/job/JobFrame';

export default async function Layout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const { id } = await params;
  const nonce = (await headers()).get(NONCE) ?? undefined;
  return (
    <>
      <script async nonce={nonce} src={`/workers/${ENGINE}/start.js`} />
      <JobFrame jobId={id}>{children}</JobFrame>
    </>
  );
}
