// @vitest-environment jsdom
import { expect, it } from 'vitest';
import { KEEP_EARLY_KEYS, takeEarlyKeys } from './early-keys.ts';

const press = (key: string, more: KeyboardEventInit = {}, at: EventTarget = document.body) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more });
  at.dispatchEvent(event);
  return event;
};

it('keeps what is pressed until the screen works, each key for whoever acts on it, once', () => {
  window.eval(KEEP_EARLY_KEYS);
  document.body.innerHTML = '<input>';
  // The browser has a Ctrl K of its own.
  expect(press('K', { ctrlKey: true }).defaultPrevented).toBe(true);
  expect(press('2').defaultPrevented).toBe(false);
  press('x', {}, document.querySelector('input')!);
  press('y', { altKey: true });

  expect(takeEarlyKeys(({ key, ctrl }) => ctrl && key === 'k')).toEqual([{ key: 'k', ctrl: true }]);
  // From now on the screen itself hears what is pressed.
  press('3');
  expect(takeEarlyKeys(({ key, ctrl }) => ctrl && key === 'k')).toEqual([]);
  expect(takeEarlyKeys(() => true)).toEqual([{ key: '2', ctrl: false }]);
  expect(takeEarlyKeys(() => true)).toEqual([]);
});
