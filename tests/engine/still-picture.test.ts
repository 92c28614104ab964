import { expect, it } from 'vitest';
import { BUILT_IN_CONDITIONS } from '../../src/core/measure/conditions.ts';
import { launchChromium } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit } from '../../src/engine/chromium/visit.ts';
import { takePicture } from '../../src/engine/load/picture.ts';
import { serve } from './odd-servers.ts';

it('a page’s picture stands still, also where the page lets no styles in', async () => {
  const server = await serve((request, response) => {
    if (request.url === '/a.css') {
      response.writeHead(200, { 'content-type': 'text/css' });
      response.end(
        '@keyframes turn{to{rotate:1turn}}p{width:90px;background:teal;animation:turn 1s infinite}',
      );
      return;
    }
    response.writeHead(200, {
      'content-type': 'text/html',
      'content-security-policy': "default-src 'self'",
    });
    response.end('<!DOCTYPE html><link rel="stylesheet" href="a.css"><p>Turning</p>');
  });
  const chromium = await launchChromium();
  try {
    const conditions = BUILT_IN_CONDITIONS[0]!;
    const visit = await openVisit(chromium.browser, conditions, { clock: null, state: null });
    await goTo(visit, server.url, { ...LOAD_LIMITS, quietMs: 200 });
    const first = await takePicture(visit);
    await visit.page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 130)));
    expect(Buffer.compare(first, await takePicture(visit))).toBe(0);
  } finally {
    await chromium.close();
    await server.close();
  }
});
