import { expect, it } from 'vitest';
import { readImages } from '../../src/core/images/page-images.ts';
import { CapturedPage } from '../../src/core/page/captured-page.ts';
import { capturePage } from '../../src/engine/capture/capture-page.ts';
import { visitorCapture } from './defaults.ts';
import { madeImage } from './made-capture.ts';
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

it('captures the images that the markup has for other screens, and says that this one did not ask for them', async () => {
  const image = await madeImage(1_170, 400);
  const asked: string[] = [];
  const server = await serve((request, response) => {
    const isPage = request.url === '/';
    if (!isPage) asked.push(request.url!);
    response.writeHead(200, { 'content-type': isPage ? 'text/html' : image.type });
    response.end(
      isPage
        ? `<!DOCTYPE html><meta name="viewport" content="width=device-width"><title>Quay</title>
           <img src="/small.png" srcset="/small.png 390w, /middle.png 1170w, /wide.png 1920w, /huge.png 4000w" sizes="1000px" alt="Quay">`
        : image.body,
    );
  });
  try {
    const { capture, bodies } = await capturePage(visitorCapture(server.url));
    const paths = (urls: readonly string[]) => urls.map((one) => new URL(one).pathname);
    const images = capture.exchanges.filter(({ kind, url }) => kind === 'image' && !url.endsWith('.ico'));
    expect(paths(images.map(({ url }) => url))).toEqual(['/middle.png', '/small.png', '/wide.png']);
    expect(images.every(({ bodyHash }) => bodyHash !== null)).toBe(true);
    expect(paths(capture.otherFiles!)).toEqual(['/small.png', '/wide.png']);
    expect(capture.seenOnce).toEqual([]);
    expect(asked.filter((one) => one === '/wide.png')).toHaveLength(1);
    // What the page is told to show is what it showed, not what stands first in its markup.
    const page = new CapturedPage(capture, (hash) => bodies.get(hash) ?? null);
    expect(paths(readImages(page).map(({ url }) => url))).toEqual(['/middle.png']);
  } finally {
    await server.close();
  }
});
