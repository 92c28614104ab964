import { notFound } from 'next/navigation';
import { PageScreen } from '@/ui/PageScreen';
import { stageScreen } from '@/ui/questions';
import { isStage } from '@/ui/stage-names';
import { conditionsIn, visitIn, type Asked } from '../../../asked';
import { FirstAnswers } from '../../../FirstAnswers';

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
