import { setTimeout as sleep } from 'node:timers/promises';
import type { Deed, EarlyDeed, NamedElement } from '../../core/checks/deed.ts';
import type { Visit } from '../chromium/visit.ts';
import type { Gatekeeper } from './gatekeeper.ts';
import { rest } from './rehearsal-stage.ts';

/** Typed into fields: no address of anybody, and too short for most. */
const WORDS = 'ab';
/** Nothing listens to it, and it types nothing. */
export const ONLY_A_KEY = 'Shift';
/** How long the wheel is left to it, ms. */
const WHEEL_MS = 200;
/** What opens under a pointer waits a little. */
const HOVER_MS = 300;

/** All but what the developer wrote down. */
type VisitorDeed = Exclude<Deed, { kind: 'own' }>;

/** Does what a visitor would. What is not there any more is left alone: that shows in what comes of it. */
export async function perform(
  visit: Visit,
  gates: Gatekeeper,
  deed: VisitorDeed,
  touch: boolean,
): Promise<void> {
  const { page, inPage } = visit;
  switch (deed.kind) {
    case 'nothing':
      return;
    case 'key':
      await page.keyboard.press(ONLY_A_KEY);
      return;
    case 'scroll':
      // By itself a page does not scroll: a visitor's wheel or finger is felt first, also where there is nowhere to go.
      await page.mouse.wheel({ deltaY: 10 });
      // It goes on by itself for a few frames.
      await sleep(WHEEL_MS);
      await inPage.call('scrollThrough');
      return;
    case 'tap':
    case 'early tap':
      await gates.whileTouched(async () => void (await tap(visit, deed.on, touch)));
      return;
    case 'hover':
      await atPoint(visit, deed.on, ({ x, y }) => page.mouse.move(x, y));
      await sleep(HOVER_MS);
      // Pointing starts nothing that waits for a visitor; whatever pointing asked for must be there all the same.
      await page.keyboard.press(ONLY_A_KEY);
      return;
    case 'press':
    case 'early press':
      await gates.whileTouched(async () => void (await pressOn(visit, deed.on)));
      return;
    case 'type':
    case 'early type':
      await typeInto(visit, deed.on);
      return;
    case 'choose':
      if (await inPage.call('focusOn', deed.on)) await page.keyboard.press('ArrowDown');
      return;
    case 'send':
      // Nobody sends a form without having touched anything before.
      await page.keyboard.press(ONLY_A_KEY);
      await rest(visit, gates);
      await inPage.call('aboutToSend', deed.on);
      return;
  }
}

/** Does early what can be done early; false where it is not there yet. */
export function performEarly(visit: Visit, deed: EarlyDeed, touch: boolean): Promise<boolean> {
  switch (deed.kind) {
    case 'early tap':
      return tap(visit, deed.on, touch);
    case 'early press':
      return pressOn(visit, deed.on);
    case 'early type':
      return typeInto(visit, deed.on);
  }
}

/** Presses the Enter key on an element; false where it cannot have the focus. */
async function pressOn({ page, inPage }: Visit, on: NamedElement): Promise<boolean> {
  if (!(await inPage.call('focusOn', on))) return false;
  await page.keyboard.press('Enter');
  return true;
}

/** Types into a field and leaves it; false where it is not there to be typed into. */
async function typeInto({ page, inPage }: Visit, on: NamedElement): Promise<boolean> {
  if (!(await inPage.call('focusOn', on))) return false;
  await page.keyboard.type(WORDS);
  await page.keyboard.press('Tab');
  return true;
}

/** Taps, or clicks, an element; false where it is not there to be tapped. */
export function tap(visit: Visit, on: NamedElement, touch: boolean): Promise<boolean> {
  const { touchscreen, mouse } = visit.page;
  return atPoint(visit, on, ({ x, y }) => (touch ? touchscreen.tap(x, y) : mouse.click(x, y)));
}

async function atPoint(
  { inPage }: Visit,
  named: NamedElement,
  act: (point: { x: number; y: number }) => Promise<void>,
): Promise<boolean> {
  const point = await inPage.call('touchPoint', named);
  if (point) await act(point);
  return point !== null;
}
