import { notFound } from 'next/navigation';
import { PageScreen } from '@/ui/PageScreen';
import { isStage } from '@/ui/stage-names';

export default async function StagePage({ params }: { params: Promise<{ id: string; stage: string }> }) {
  const { id, stage } = await params;
  if (!/^\d+$/.test(id) || !isStage(stage)) notFound();
  return <PageScreen pageId={Number(id)} stage={stage} />;
}
