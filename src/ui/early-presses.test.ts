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
      const { id } = (event.target as HTMLElement).closest('[id]')!;
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

  // Heard, though what it was on is gone by then, and nobody else is told of it.
  const mark = document.createElement('i');
  at('measure').append(mark);
  const stop = (event: Event) => {
    event.stopPropagation();
    mark.remove();
  };
  at('measure').addEventListener('click', stop);
  mark.click();
  vi.advanceTimersByTime(200);
  expect(said.filter((one) => one === 'measure')).toHaveLength(3);

  isThere.add('late');
  vi.advanceTimersByTime(200);
  expect(said.at(-1)).toBe('late');
  expect(said.filter((one) => one === 'late')).toHaveLength(1);
  vi.advanceTimersByTime(10_000);
  expect(said.at(-1)).toBe('late');
  expect(said.filter((one) => one === 'late')).toHaveLength(1);
});
