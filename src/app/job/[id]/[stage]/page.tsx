import { notFound } from 'next/navigation';
import { DeliverStage } from '../../../../ui/deliver/DeliverStage';
import { NotesStage } from '../../../../ui/notes/NotesStage';
import { RosterStage } from '../../../../ui/roster/RosterStage';
import { SourcesStage } from '../../../../ui/sources/SourcesStage';

const STAGES: Record<string, () => React.ReactNode> = {
  sources: SourcesStage,
  roster: RosterStage,
  notes: NotesStage,
  deliver: DeliverStage,
};

export default async function Page({ params }: { params: Promise<{ stage: string }> }) {
  const Stage = STAGES[(await params).stage];
  if (!Stage) notFound();
  return <Stage />;
}
