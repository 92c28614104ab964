import { setTimeout as sleep } from 'node:timers/promises';
import type { VisitSettings, VisitState, VisitStep } from '../../core/measure/visit.ts';
import { goTo, type LoadLimits, settledAfter, type Visit } from '../chromium/visit.ts';
import { stopIfCancelled, Trouble } from '../errors.ts';

const STEP_LIMIT_MS = 10_000;

/**
 * Loads the page once, does the user's steps on it, and takes what the browser then holds (cookies, local
 * storage): every later load begins with that.
 *
 * @throws Trouble that names the step that could not be done
 */
export async function prepareVisit(
  visit: Visit,
  url: string,
  settings: VisitSettings,
  limits: LoadLimits,
  signal?: AbortSignal,
): Promise<VisitState> {
  if (settings.cookies.length) {
    await visit.session.send('Network.setCookies', {
      cookies: settings.cookies.map(({ name, value }) => ({ name, value, url })),
    });
  }
  await goTo(visit, url, limits, signal);
  for (const [index, step] of settings.steps.entries()) {
    stopIfCancelled(signal);
    await doStep(visit, step).catch((error: unknown) => {
      const why = error instanceof Error ? error.message.split('\n')[0] : String(error);
      throw new Trouble(
        'measuring',
        `Step ${index + 1} before the capture could not be done (${words(step)}: ${why}). Nothing stored was changed; correct the step and measure again.`,
      );
    });
    await settledAfter(visit, { ...limits, afterLoadMs: 5_000, quietMs: 400 }, signal);
  }
  const { cookies } = await visit.session.send('Network.getCookies', { urls: [url] });
  const items = await visit.inPage.call('storedItems');
  return {
    cookies: cookies.map(({ name, value, domain, path, secure, httpOnly }) => ({
      name,
      value,
      domain,
      path,
      secure,
      httpOnly,
    })),
    storage: [{ origin: new URL(visit.page.url()).origin, items }],
  };
}

async function doStep(visit: Visit, step: VisitStep): Promise<void> {
  if (step.do === 'pause') await sleep(step.ms);
  else if (step.do === 'until')
    await visit.page.waitForSelector(step.selector, { timeout: STEP_LIMIT_MS, visible: true });
  else {
    const found = await visit.page.waitForSelector(step.selector, { timeout: STEP_LIMIT_MS, visible: true });
    await found?.click();
  }
}

function words(step: VisitStep): string {
  return step.do === 'pause' ? `pause ${step.ms} ms` : `${step.do} ${step.selector}`;
}
