import { notFound } from 'next/navigation';
import { PageScreen } from '@/ui/PageScreen';
import { stageScreen } from '@/ui/questions';
import { isStage } from '@/ui/stage-names';
import { conditionsIn, visitIn, type Asked } from '../../../asked';
import { FirstAnswers } from '../../../FirstAnswers';
// Named here they stand in the screen's HTML; named by a stage, which is loaded by itself, they would be asked for.
import '@/ui/parts/evidence.css';
import '@/ui/stages/fold/fold.css';
import '@/ui/stages/handoff/handoff.css';
import '@/ui/stages/map/map.css';
import '@/ui/stages/prove/gain-bar.css';
import '@/ui/stages/prove/prove.css';

export default async function StagePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string; stage: string }>;
  searchParams: Asked;
}) {
  const { id, stage } = await params;
  if (!/^\d{1,9}$/.test(id) || !isStage(stage)) notFound();
  return (
    <FirstAnswers
      to={stageScreen(Number(id), stage, await conditionsIn(searchParams), await visitIn(searchParams))}
    >
      <PageScreen pageId={Number(id)} stage={stage} />
    </FirstAnswers>
  );
}
