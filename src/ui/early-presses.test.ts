// @vitest-environment jsdom
import { expect, it, vi } from 'vitest';
import { KEEP_EARLY_PRESSES } from './early-presses.ts';

it('presses again, once, what was pressed before its part of the screen worked', () => {
  vi.useFakeTimers();
  window.eval(KEEP_EARLY_PRESSES);
  document.body.innerHTML = `
    <main><button id="measure">Measure</button><a id="link" role="button">Map</a></main>
    <section><button id="late">Undo</button></section>`;
  const at = (id: string) => document.getElementById(id)!;
  const said: string[] = [];
  at('measure').click();
  at('measure').click();
  at('link').click();
  at('late').click();

  // As React does: nothing gets to a part that is still to come, and the press ends there.
  const isThere = new Set(['measure', 'link']);
  document.addEventListener(
    'click',
    (event) => {
      const { id } = event.target as HTMLElement;
      if (isThere.has(id)) said.push(id);
      else event.stopPropagation();
    },
    true,
  );
  window.earlyPresses!.works();
  vi.advanceTimersByTime(200);
  expect(said).toEqual(['measure']);
  at('measure').click();
  vi.advanceTimersByTime(200);
  expect(said).toEqual(['measure', 'measure']);

  isThere.add('late');
  vi.advanceTimersByTime(200);
  expect(said).toEqual(['measure', 'measure', 'late']);
  vi.advanceTimersByTime(10_000);
  expect(said).toEqual(['measure', 'measure', 'late']);
});
