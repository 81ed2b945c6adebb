import { notFound } from 'next/navigation';
import { DeliverStage } from '../../../../ui/deliver/DeliverStage';
import type { StageId } from '../../../../ui/job/stages';
import { NotesStage } from '../../../../ui/notes/NotesStage';
import { ProofStage } from '../../../../ui/proof/ProofStage';
import { RosterStage } from '../../../../ui/roster/RosterStage';
import { SourcesStage } from '../../../../ui/sources/SourcesStage';
import { TimeStage } from '../../../../ui/time/TimeStage';

const PAGES: Record<StageId, () => React.ReactNode> = {
  sources: SourcesStage,
  roster: RosterStage,
  time: TimeStage,
  notes: NotesStage,
  proof: ProofStage,
  deliver: DeliverStage,
};

const isStage = (name: string): name is StageId => Object.hasOwn(PAGES, name);

export default async function Page({ params }: { params: Promise<{ stage: string }> }) {
  const { stage } = await params;
  if (!isStage(stage)) notFound();
  const Stage = PAGES[stage];
  return <Stage />;
}
