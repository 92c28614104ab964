import type { Browser, BrowserContext, CDPSession, Page } from 'puppeteer-core';

/** Longer texts of a dialog are cut. */
const MOST_TEXT = 80;

const SAID: Record<string, string> = {
  alert: 'a message',
  confirm: 'a question',
  prompt: 'a question for text',
  beforeunload: 'a question whether to leave it',
};

/**
 * Answers a target's dialogs as a visitor who closes them, and who leaves when asked whether to: an open dialog stops
 * the page and everything that is asked of it.
 */
export async function closeDialogs(session: CDPSession, note: (words: string) => void): Promise<void> {
  session.on('Page.javascriptDialogOpening', ({ type, message }) => {
    const text = message.length > MOST_TEXT ? `${message.slice(0, MOST_TEXT)}…` : message;
    note(`The page opens ${SAID[type] ?? 'a dialog'}${text ? `, “${text}”` : ''}: it was closed.`);
    session.send('Page.handleJavaScriptDialog', { accept: type === 'beforeunload' }).catch(() => undefined);
  });
  await session.send('Page.enable');
}

/**
 * Closes what a page opens beside itself, refuses its downloads, and every permission it asks for, as a visitor would
 * who wants none of it.
 */
export async function refuseTheRest(
  browser: Browser,
  context: BrowserContext,
  page: Page,
  note: (words: string) => void,
): Promise<void> {
  context.on('targetcreated', (target) => {
    if (target.type() !== 'page') return;
    void target.page().then(
      (opened) => {
        if (!opened || opened === page) return;
        note(`The page opens another window${target.url() ? ` (${target.url()})` : ''}: it was closed.`);
        return opened.close();
      },
      () => undefined,
    );
  });
  const session = await browser.target().createCDPSession();
  const browserContextId = context.id;
  if (browserContextId === undefined) return;
  // A download has no document of its own, and a permission no answer, until somebody decides.
  await session.send('Browser.setDownloadBehavior', {
    behavior: 'deny',
    browserContextId,
    eventsEnabled: true,
  });
  session.on('Browser.downloadWillBegin', ({ url }) => {
    note(`The page begins a download (${url}): it was refused.`);
  });
  await session.send('Browser.grantPermissions', { permissions: [], browserContextId });
  page.once('close', () => void session.detach().catch(() => undefined));
}
