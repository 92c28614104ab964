import type { CDPSession } from 'puppeteer-core';
import type { Conditions } from '../../core/measure/conditions.ts';

const PHONE_AGENT =
  'Mozilla/5.0 (Linux; Android 14; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Mobile Safari/537.36';

/** Makes the page the size and kind of device that the conditions name. */
export async function emulateDevice(
  session: CDPSession,
  conditions: Pick<Conditions, 'viewport' | 'pixelRatio' | 'touch' | 'agent'>,
): Promise<void> {
  await session.send('Emulation.setDeviceMetricsOverride', {
    width: conditions.viewport.width,
    height: conditions.viewport.height,
    deviceScaleFactor: conditions.pixelRatio,
    mobile: conditions.agent === 'phone',
  });
  await session.send('Emulation.setTouchEmulationEnabled', {
    enabled: conditions.touch,
    maxTouchPoints: conditions.touch ? 5 : 1,
  });
  // The empty name gives a tab that was a phone before its own name back.
  const userAgent = conditions.agent === 'phone' ? PHONE_AGENT : '';
  await session.send('Emulation.setUserAgentOverride', { userAgent });
}

/** Slows the CPU of one target; 1 gives it back its speed. */
export async function slowCpu(session: CDPSession, rate: number): Promise<void> {
  await session.send('Emulation.setCPUThrottlingRate', { rate });
}
