import { expect, it } from 'vitest';
import { carryOutApart } from './job-client.ts';

it('does not begin what was cancelled before', async () => {
  const cancel = new AbortController();
  cancel.abort();
  const said: string[] = [];
  await expect(
    carryOutApart(
      { kind: 'read-har', pageName: 'x', path: '/nowhere.har' },
      (step) => said.push(step),
      cancel.signal,
    ),
  ).rejects.toMatchObject({ kind: 'cancelled' });
  expect(said).toEqual([]);
});
