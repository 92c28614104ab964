import type { CDPSession } from 'puppeteer-core';

/**
 * Calls `prepare` for every child target of a session (frames of other sites, and theirs) before it runs,
 * then lets it run. Workers are let run as they are.
 */
export async function forEachChildTarget(
  session: CDPSession,
  prepare: (child: CDPSession) => Promise<void>,
): Promise<void> {
  session.on('sessionattached', (child: CDPSession) => {
    void (async () => {
      await prepare(child).catch(() => undefined);
      await forEachChildTarget(child, prepare).catch(() => undefined);
      await child.send('Runtime.runIfWaitingForDebugger').catch(() => undefined);
    })();
  });
  await session.send('Target.setAutoAttach', {
    autoAttach: true,
    waitForDebuggerOnStart: true,
    flatten: true,
  });
}
