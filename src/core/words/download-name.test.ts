import { expect, it } from 'vitest';
import { downloadName } from './download-name.ts';

it.each([
  ['Home', 'home-report-2026-03-09.html'],
  ['/news/b?page=2', 'news-bpage2-report-2026-03-09.html'],
  ['Überfahrt “Orrask”', 'uberfahrt-orrask-report-2026-03-09.html'],
  ['../../etc/passwd', 'etc-passwd-report-2026-03-09.html'],
  ['時刻表', 'page-report-2026-03-09.html'],
])('names the download of %s by the page and the day', (page, name) => {
  expect(downloadName(page, 'report', 'html', new Date(2026, 2, 9, 23, 59))).toBe(name);
});
