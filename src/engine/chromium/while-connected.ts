import type { Browser } from 'puppeteer-core';

/**
 * Done with work of a browser, or refused as soon as the browser is gone: for a page that is just being opened, its
 * driver would wait half a minute more.
 */
export async function whileConnected<T>(browser: Browser, work: Promise<T>): Promise<T> {
  let refuse: () => void;
  const gone = new Promise<never>((_, reject) => {
    refuse = () => reject(new Error('Connection closed'));
    browser.once('disconnected', refuse);
  });
  work.catch(() => undefined);
  try {
    return await Promise.race([work, gone]);
  } finally {
    browser.off('disconnected', refuse!);
  }
}
