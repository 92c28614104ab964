'use client';
import { lazy } from 'react';
import type { OwnChecksText } from '@/store/own-checks';
import { useAnswer } from '../api';
import { ownChecksQuestion } from '../questions';
import { OnceThere } from './Later';
import type { CheckedPage } from './OwnChecksForm';

const OwnChecksForm = lazy(() => import('./OwnChecksForm').then((one) => ({ default: one.OwnChecksForm })));

/** What the developer knows that the page does: written here, or recorded, and tried whenever a plan is rehearsed. */
export function OwnChecks({ pageId, conditionsId }: CheckedPage) {
  const { data } = useAnswer<OwnChecksText>(ownChecksQuestion(pageId));
  if (!data) return null;
  const lines = [data.family?.text ?? '', data.page].flatMap((text) =>
    text.split('\n').filter((line) => line.trim()),
  );
  return (
    <details style={{ marginTop: 4 }}>
      <summary>Checks of your own: {lines.length || 'none yet'}</summary>
      <OnceThere>
        <OwnChecksForm key={lines.join('\n')} pageId={pageId} conditionsId={conditionsId} kept={data} />
      </OnceThere>
    </details>
  );
}
