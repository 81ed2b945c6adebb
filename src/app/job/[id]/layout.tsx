import type { ReactNode } from 'react';
import { JobFrame } from '../../../ui/job/JobFrame';

export default async function Layout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const { id } = await params;
  return <JobFrame jobId={id}>{children}</JobFrame>;
}
