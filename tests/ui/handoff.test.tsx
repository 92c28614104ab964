// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { latestCapture } from '@/store/captures';
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
