import type { Browser } from 'puppeteer-core';
import { goOn, requestsTo, type AddedHeaders } from './add-headers.ts';
import { takePieces } from './take-body.ts';

/** A server that does not answer once more in so long is not waited for, ms. */
const ANSWERS_WITHIN_MS = 20_000;

/**
 * Why a document may not be taken whole, as the end of a sentence about it: it is asked for once more, by itself, as a
 * visitor who is new (with the headers that the user adds), unpacked piece by piece, and let go as soon as that is known. Null where it may, or nothing is
 * known of it.
 */
export async function probeDocument(
  browser: Browser,
  url: string,
  add: AddedHeaders | null,
): Promise<string | null> {
  const context = await browser.createBrowserContext();
  let limit: ReturnType<typeof setTimeout> | undefined;
  try {
    const page = await context.newPage();
    const session = await page.createCDPSession();
    const known = new Promise<string | null>((resolve) => {
      limit = setTimeout(resolve, ANSWERS_WITHIN_MS, null);
      session.on('Fetch.requestPaused', (event) => {
        const { requestId, responseStatusCode: status, responseErrorReason } = event;
        const isAnswer = status !== undefined || responseErrorReason !== undefined;
        if (!isAnswer || (status !== undefined && status >= 300 && status < 400))
          void goOn(session, event, isAnswer ? null : add);
        else
          void takePieces(session, requestId, () => 0).then(
            (taken) => resolve(taken.from === 'nowhere' ? taken.leftOut : null),
            () => resolve(null),
          );
      });
      session
        .send('Fetch.enable', {
          patterns: [
            { urlPattern: 'http*', resourceType: 'Document', requestStage: 'Response' },
            ...(add ? requestsTo(add) : []),
          ],
        })
        .then(() => page.goto(url, { timeout: ANSWERS_WITHIN_MS }))
        // What is taken to be looked at is never shown: by then it is known.
        .catch(() => resolve(null));
    });
    return await known;
  } finally {
    clearTimeout(limit);
    await context.close().catch(() => undefined);
  }
}
