// @vitest-environment jsdom
import { cleanup, screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { Exchange } from '@/core/measure/exchange';
import { listJobs } from '@/store/jobs';
import { keepLighter } from '@/store/lighter-files';
import { measuredPage } from '@/usecases/stored-page';
import { eventually, open, rowsOf, withDemo } from './application';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const TREAT = '/pages/1/treat?conditions=slow-phone';

it('makes images lighter on a press, tells of each what that saves, and leaves them when the page has changed', async () => {
  const db = await database();
  // The demo has them already.
  await db.query('DELETE FROM lighter_images');
  const user = await open(TREAT);
  expect(screen.getByText(/^Its 4 images take 175 KB, its 2 fonts /)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Make lighter files' }));
  await eventually(async () =>
    expect((await listJobs(db)).map(({ kind }) => kind)).toContain('lighter-images'),
  );
  const page = (await measuredPage(db, 1, 'slow-phone'))!;
  const url = page.capture.exchanges.find((one) => one.url.endsWith('/hero.jpg'))!.url;
  const of = page.capture.exchanges.find((one) => one.url === url)!.bodyHash!;
  const [face, otherFace] = page.capture.exchanges.filter(
    ({ kind, url: at }) => kind === 'font' && new URL(at).origin === new URL(page.capture.url).origin,
  ) as [Exchange, Exchange];
  const film = page.assets.captured.document.elements.find(({ tag }) => tag === 'iframe')!.attributes['src']!;
  const filmHash = page.capture.exchanges.find((one) => one.url === film)!.bodyHash!;
  const version = {
    format: 'avif' as const,
    width: 1_440,
    height: 620,
    bodyHash: 'a'.repeat(64),
    bytes: 30_000,
  };
  const record = {
    takenAt: '2026-12-01T09:00:00.000Z',
    images: [
      {
        url,
        of,
        bytes: 121_027,
        size: { width: 1_440, height: 620 },
        needs: [
          { viewportWidth: 390, width: 390 },
          { viewportWidth: 1_440, width: 1_440 },
        ],
        sizedByFile: false,
        versions: [version],
        chosen: [{ format: 'avif' as const, quality: 68, likeness: 0.95 }],
      },
    ],
    stay: [{ url: url.replace('hero', 'news-1'), why: 'not lighter' as const }],
    fonts: [
      {
        url: face.url,
        of: face.bodyHash!,
        bytes: 13_140,
        smaller: { bodyHash: 'b'.repeat(64), bytes: 6_200 },
        pages: 3,
        ranges: [[0x20, 0x7e] as const],
      },
    ],
    embeds: [{ url: film, of: filmHash, bodyHash: 'c'.repeat(64), bytes: 4_100 }],
    fontsStay: [{ url: otherFace.url, why: 'not smaller' as const }],
    fingerprint: page.assets.captured.fingerprint,
  };
  const keep = (of: typeof record, captureId: number) =>
    db.transaction((queries) =>
      keepLighter(
        queries,
        1,
        captureId,
        of,
        new Map(
          [version.bodyHash, of.fonts[0]!.smaller.bodyHash, of.embeds[0]!.bodyHash].map(
            (hash) => [hash, new Uint8Array([1])] as const,
          ),
        ),
      ),
    );
  await keep(record, page.captureId);
  cleanup();
  await open(TREAT);
  const told = screen.getByText(
    /^One image: 30 KB on a phone, 30 KB on a laptop, in the place of 121 KB\. One font: 6\.2 KB in the place of 13 KB\./,
  );
  told.closest('details')!.open = true;
  const made = within(told.closest('details')!);
  expect(rowsOf(made.getAllByRole('table')[0]!)[1]).toBe(
    'hero.jpg | 121 KB | 30 KB | 30 KB | 1440 | AVIF 95.0 % | yes',
  );
  expect(rowsOf(made.getAllByRole('table')[1]!)[1]).toMatch(
    /^\S+\.woff2 \| 13 KB \| 6\.2 KB \| 95 \| 3 \| yes$/,
  );
  expect(
    made.getByText(/^\S+\.woff2 stays: the signs that the site needs take nearly all of it\.$/),
  ).toBeTruthy();
  expect(told.textContent).toContain('One embed has a picture');
  expect(
    made.getByText(
      'A picture of “Film of the crossing” takes 4.1 KB; not in the plan: “on a press” is a choice of the embed’s own.',
    ),
  ).toBeTruthy();
  expect(made.getByText('news-1.jpg stays: no version of it was lighter and like it.')).toBeTruthy();
  expect(told.textContent).toMatch(/ 2 more were not looked at as now: make them again\.$/);
  expect(made.getByText('news-3.jpg is new, has changed, or was not looked at then.')).toBeTruthy();
  expect(screen.getAllByText('lighter files').length).toBeGreaterThan(0);
  expect(screen.getAllByText('subset').length).toBeGreaterThan(0);
  // A film that has changed since is not shown by its picture of before.
  await keep(
    {
      ...record,
      embeds: [{ ...record.embeds[0]!, of: 'd'.repeat(64) }],
      takenAt: '2026-12-01T09:30:00.000Z',
    },
    page.captureId,
  );
  cleanup();
  await open(TREAT);
  expect(
    screen.getByText(
      /^There is no picture of “Film of the crossing”: it shows nothing, has changed, or .*; not in the plan/,
    ),
  ).toBeTruthy();
  // Of another capture, whose sheets are others, the sizes may be others as well.
  await keep(
    { ...record, takenAt: '2026-12-01T10:00:00.000Z', fingerprint: { ...record.fingerprint, sheets: [] } },
    page.captureId + 1,
  );
  cleanup();
  await open(TREAT);
  expect(screen.getByText(/The stylesheet \S+ is new\./)).toBeTruthy();
  expect(screen.queryAllByText('lighter files')).toEqual([]);
});
