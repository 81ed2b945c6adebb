import { notFound } from 'next/navigation';
import { DeliverStage } from '../../../../ui/deliver/DeliverStage';
import { NotesStage } from '../../../../ui/notes/NotesStage';
import { RosterStage } from '../../../../ui/roster/RosterStage';
import { SourcesStage } from '../../../../ui/sources/SourcesStage';
import { TimeStage } from '../../../../ui/time/TimeStage';

const STAGES: Record<string, () => React.ReactNode> = {
  sources: SourcesStage,
  roster: RosterStage,
  time: TimeStage,
  notes: NotesStage,
  deliver: DeliverStage,
};

export default async function Page({ params }: { params: Promise<{ stage: string }> }) {
  const Stage = STAGES[(await params).stage];
  if (!Stage) notFound();
  return <Stage />;
}
