// @vitest-environment jsdom
import { expect, it } from 'vitest';
import { KEEP_EARLY_KEYS, takeEarlyKeys, takeKey, type EarlyKey } from './early-keys.ts';

const press = (key: string, more: KeyboardEventInit = {}, at: EventTarget = document.body) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more });
  at.dispatchEvent(event);
  return event;
};

const names = (keys: readonly EarlyKey[]) => keys.map(({ key, ctrl }) => (ctrl ? `Ctrl ${key}` : key));

it('keeps what is pressed until the screen works, each key for whoever acts on it, once', () => {
  window.eval(KEEP_EARLY_KEYS);
  document.body.innerHTML = '<input><button>Measure</button>';
  // As React does with what is pressed in a part that is still to come.
  document.addEventListener('keydown', (event) => event.stopPropagation(), true);
  // The browser has a Ctrl K of its own.
  expect(press('K', { ctrlKey: true }).defaultPrevented).toBe(true);
  const two = press('2');
  expect(two.defaultPrevented).toBe(false);
  press('x', {}, document.querySelector('input')!);
  press('y', { altKey: true });
  press('Enter', {}, document.querySelector('button')!);

  expect(names(takeEarlyKeys(({ key, ctrl }) => ctrl && key === 'k'))).toEqual(['Ctrl k']);
  // The first part of the screen hears what is pressed from now on; others are still to come.
  const four = press('4');
  press('3');
  expect(takeKey(four)).toBe(true);
  expect(takeEarlyKeys(({ key, ctrl }) => ctrl && key === 'k')).toEqual([]);
  expect(names(takeEarlyKeys(() => true))).toEqual(['2', '3']);
  // Where React got the part to work while the key was on its way to it.
  expect(takeKey(two)).toBe(false);
  expect(takeEarlyKeys(() => true)).toEqual([]);
});
