import { expect, it } from 'vitest';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import { visitorCapture } from './defaults.ts';
import { serve } from './odd-servers.ts';

it('captures what comes only by scrolling, so that there is an answer for those who scroll', async () => {
  const server = await serve((request, response) => {
    response.writeHead(200, { 'content-type': request.url === '/' ? 'text/html' : 'text/plain' });
    response.end(
      request.url === '/'
        ? `<!DOCTYPE html><title>Quay</title><p>Words</p><div style="height:6000px"></div><p id="late">Late</p><script>
           new IntersectionObserver((seen) => { if (seen.some((one) => one.isIntersecting)) fetch('/late.txt'); }).observe(document.getElementById('late'));
         </script>`
        : 'late',
    );
  });
  try {
    const { capture } = await capturePage(visitorCapture(server.url));
    expect(capture.exchanges.map((one) => new URL(one.url).pathname)).toContain('/late.txt');
    expect(capture.seenOnce).toEqual([]);
  } finally {
    await server.close();
  }
});
