// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { latestCapture } from '@/store/captures';
import { savePageDecisions } from '@/store/proofs';
import { ensurePage } from '@/store/sites';
import { BUILT_IN_CONDITIONS } from '@/core/measure/conditions';
import { readSeed } from '@/demo/seed-file';
import { keepMeasurement, keepTrial } from '@/usecases/keep';
import { planNow } from '@/usecases/stored-page';
import { open, withDemo } from './application';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();

it('says of a page whose policy lives by a nonce where the server’s own has to stand', async () => {
  const db = await database();
  const { id, capture } = (await latestCapture(db, 1))!;
  const policy = ['content-security-policy', "style-src 'self' 'nonce-q7'"] as const;
  const exchanges = capture.exchanges.map((one) =>
    one.url === capture.documentUrl ? { ...one, responseHeaders: [...one.responseHeaders, policy] } : one,
  );
  // Before any screen has read it: a capture is read once and never changes.
  await db.query('UPDATE capture SET data = $2 WHERE id = $1', [
    id,
    JSON.stringify({ ...capture, exchanges }),
  ]);
  await open('/pages/1/handoff?conditions=slow-phone');
  expect(screen.getByText(/put it in wherever nonce="q7", this capture’s, stands below\.$/)).toBeTruthy();
  const changes = screen.getByRole('region', { name: 'Changes' });
  expect(within(changes).getAllByText(/<style nonce="q7">/).length).toBeGreaterThan(0);
});

it('says, before what is to be put in, what the plan of another page does with the same files', async () => {
  const db = await database();
  const seed = readSeed();
  const other = await ensurePage(db, new URL('/berths', seed.url).href, 'Berths');
  const { captureId } = await keepMeasurement(db, other.id, BUILT_IN_CONDITIONS[0]!, seed.measure);
  const { plan } = (await planNow(db, other.id, 'slow-phone'))!;
  const rules = plan.rules.map((rule) => (rule.kind === 'font' ? { ...rule, on: false } : rule));
  const knew = rules.map(({ kind, match }) => ({ kind, match }));
  await savePageDecisions(db, other.id, { rules, knew });
  await keepTrial(
    db,
    other.id,
    { captureId, plan, ownPlan: true, decided: null, foldHash: null },
    seed.trial,
  );
  await open('/pages/1/handoff?conditions=slow-phone');
  const changes = screen.getByRole('region', { name: 'Changes' });
  expect(
    await within(changes).findByText(/^Berths loads type\.css, .* and was proved with them unchanged:/),
  ).toBeTruthy();
});
