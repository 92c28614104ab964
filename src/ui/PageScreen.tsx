'use client';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { PageView, StageKey } from '@/usecases/page-view';
import { call, useConditionsId, useStartJob } from './api';
import { JobNotice } from './JobNotice';
import { useKey } from './keyboard';
import { KeysHelp } from './KeysHelp';
import { FoldStage } from './stages/FoldStage';
import { HandoffStage } from './stages/HandoffStage';
import { MapStage } from './stages/MapStage';
import { MeasureStage } from './stages/MeasureStage';
import { ProveStage } from './stages/ProveStage';
import { TreatStage } from './stages/TreatStage';
import { STAGES } from './stage-names';
import { TopBar } from './TopBar';

const SCREENS = {
  measure: MeasureStage,
  map: MapStage,
  fold: FoldStage,
  treat: TreatStage,
  prove: ProveStage,
  handoff: HandoffStage,
};

/** A page under its conditions: the stages are the navigation. */
export function PageScreen({ pageId, stage }: { pageId: number; stage: StageKey }) {
  const conditionsId = useConditionsId();
  const router = useRouter();
  const start = useStartJob();
  const { data, error } = useQuery({
    queryKey: ['page', pageId, conditionsId],
    queryFn: () => call<PageView>(`/api/pages/${pageId}?conditions=${conditionsId}`),
  });
  const go = (key: StageKey) => router.push(`/pages/${pageId}/${key}?conditions=${conditionsId}`);
  useKey('1', () => go('measure'));
  useKey('2', () => go('map'));
  useKey('3', () => go('fold'));
  useKey('4', () => go('treat'));
  useKey('5', () => go('prove'));
  useKey('6', () => go('handoff'));
  useKey('m', () => start.mutate({ kind: 'measure', pageId, conditionsId }));
  const Screen = SCREENS[stage];

  return (
    <>
      <TopBar
        where={
          <>
            <Link href={`/?conditions=${conditionsId}`}>{data?.site.name ?? '…'}</Link>{' '}
            <span className="muted">/</span> {data?.page.name ?? ''}
          </>
        }
      />
      <nav className="stages" aria-label="Stages">
        {STAGES.map(({ key, name }, index) => {
          const view = data?.stages.find((one) => one.key === key);
          const look = view?.state === 'current' ? 'current' : view?.state === 'out of date' ? 'out' : '';
          return (
            <Link
              key={key}
              href={`/pages/${pageId}/${key}?conditions=${conditionsId}`}
              aria-current={key === stage ? 'page' : undefined}
              className={look}
            >
              <span className="name">
                <b>{name}</b>
                <span className="digit">{index + 1}</span>
              </span>
              <span className="figure" style={{ display: 'block' }}>
                {view?.figure ?? '…'}
              </span>
            </Link>
          );
        })}
      </nav>
      {error ? (
        <main className="screen">
          <p className="note" role="alert">
            {error.message} <Link href="/">Go to the page board</Link>.
          </p>
        </main>
      ) : (
        <>
          <JobNotice pageId={pageId} />
          <Screen pageId={pageId} conditionsId={conditionsId} pageName={data?.page.name ?? 'the page'} />
        </>
      )}
      <KeysHelp />
    </>
  );
}
