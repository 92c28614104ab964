'use client';
import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { PageView, StageKey } from '@/usecases/page-view';
import { useAnswer, useConditionsId, useStartJob } from './api';
import { JobNotice } from './JobNotice';
import { useKey } from './keyboard';
import { KeysHelp } from './KeysHelp';
import { pageQuestion } from './questions';
import { STAGES } from './stage-names';
import { TopBar } from './TopBar';
import './page-screen.css';

/** Each loads what it is made of when it is gone to. */
const SCREENS = {
  measure: dynamic(() => import('./stages/MeasureStage').then((one) => one.MeasureStage)),
  map: dynamic(() => import('./stages/MapStage').then((one) => one.MapStage)),
  fold: dynamic(() => import('./stages/FoldStage').then((one) => one.FoldStage)),
  treat: dynamic(() => import('./stages/TreatStage').then((one) => one.TreatStage)),
  prove: dynamic(() => import('./stages/ProveStage').then((one) => one.ProveStage)),
  handoff: dynamic(() => import('./stages/HandoffStage').then((one) => one.HandoffStage)),
};

/** A page under its conditions: the stages are the navigation. */
export function PageScreen({ pageId, stage }: { pageId: number; stage: StageKey }) {
  const conditionsId = useConditionsId();
  const router = useRouter();
  const start = useStartJob();
  const { data, error } = useAnswer<PageView>(pageQuestion(pageId, conditionsId));
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
        whole={data ? `${data.site.name} / ${data.page.name}` : ''}
        where={
          <>
            <Link prefetch={false} href={`/?conditions=${conditionsId}`}>
              {data?.site.name ?? '…'}
            </Link>
            <span className="muted" style={{ flexShrink: 0 }}>
              /
            </span>
            <span>{data?.page.name ?? ''}</span>
          </>
        }
      />
      <nav className="stages" aria-label="Stages">
        {STAGES.map(({ key, name }, index) => {
          const view = data?.stages.find((one) => one.key === key);
          const look = view?.state === 'current' ? 'current' : view?.state === 'out of date' ? 'out' : '';
          return (
            <Link
              prefetch={false}
              key={key}
              href={`/pages/${pageId}/${key}?conditions=${conditionsId}`}
              aria-current={key === stage ? 'page' : undefined}
              className={look}
            >
              <span className="name">
                <b>{name}</b>
                <span className="digit">{index + 1}</span>
              </span>
              <span className="figure" style={{ display: 'block' }} title={view?.figure}>
                {view?.figure ?? '…'}
              </span>
            </Link>
          );
        })}
      </nav>
      {error ? (
        <main className="screen">
          <p className="note" role="alert">
            {error.message}{' '}
            <Link prefetch={false} href="/">
              Go to the page board
            </Link>
            .
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
