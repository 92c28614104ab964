// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import {
  AT_REST_LOADER,
  AT_REST_TYPE,
  AFTER_PAINT_LOADER,
  AFTER_PAINT_TYPE,
  DELAY_FALLBACK_MS,
  DELAY_LOADER,
  DELAYED_TYPE,
} from './waiting-loaders.ts';

/** Scripts as the loader puts them in: jsdom runs none of them, so a test says when one has come. */
const put = () =>
  [...document.querySelectorAll<HTMLScriptElement>('script')].filter((one) => one.type !== DELAYED_TYPE);
const names = () => put().map((one) => one.getAttribute('src') ?? one.text);
const came = (name: string, how: 'load' | 'error' = 'load') =>
  put()
    .find((one) => one.getAttribute('src') === name)!
    .dispatchEvent(new Event(how));

const start = (html: string) => {
  document.body.innerHTML = html;
  // As a browser runs it: an inline script of the page.
  (0, eval)(DELAY_LOADER);
};
const delayed = (attributes: string, text = '') =>
  `<script type="${DELAYED_TYPE}"${attributes}>${text}</script>`;

beforeEach(() => {
  vi.useFakeTimers();
  document.head.innerHTML = '';
});
afterEach(() => {
  vi.clearAllTimers();
  vi.useRealTimers();
});

it('runs nothing until the visitor does something, then one script after the other', () => {
  start(
    `${delayed(' data-src="/a.js"')}<p>Words</p>${delayed('', 'window.b = 1')}${delayed(' data-src="/c.js"')}`,
  );
  expect(names()).toEqual([]);
  window.dispatchEvent(new Event('pointerdown'));
  expect(names()).toEqual(['/a.js']);
  came('/a.js');
  expect(names()).toEqual(['/a.js', 'window.b = 1', '/c.js']);
});

it.each(['pointerdown', 'keydown', 'touchstart', 'wheel', 'scroll'])(
  'begins at the first %s, and once only',
  (event) => {
    start(delayed(' data-src="/a.js"'));
    window.dispatchEvent(new Event(event));
    window.dispatchEvent(new Event(event));
    expect(names()).toEqual(['/a.js']);
  },
);

it('waits until the page is parsed: what stands further down would be missed', () => {
  const state = vi.spyOn(document, 'readyState', 'get').mockReturnValue('loading');
  start(delayed(' data-src="/a.js"'));
  window.dispatchEvent(new Event('pointerdown'));
  document.body.insertAdjacentHTML('beforeend', delayed(' data-src="/b.js"'));
  expect(names()).toEqual([]);
  state.mockReturnValue('interactive');
  document.dispatchEvent(new Event('DOMContentLoaded'));
  expect(names()).toEqual(['/a.js']);
  came('/a.js');
  expect(names()).toEqual(['/a.js', '/b.js']);
  state.mockRestore();
});

it('goes on after a script that did not come', () => {
  start(delayed(' data-src="/gone.js"') + delayed(' data-src="/b.js"'));
  window.dispatchEvent(new Event('keydown'));
  came('/gone.js', 'error');
  expect(names()).toEqual(['/gone.js', '/b.js']);
});

it('lets nothing wait for a slow file that shares nothing with it, and asks for all of them at once', () => {
  start(
    `${delayed(' data-src="/a.js"')}${delayed(' data-src="/slow.js" data-wistrel-alone')}${delayed(' data-src="/b.js" crossorigin')}${delayed(' data-wistrel-alone', 'window.c = 1')}`,
  );
  window.dispatchEvent(new Event('pointerdown'));
  expect(names()).toEqual(['/a.js', '/slow.js', 'window.c = 1']);
  const asked = [...document.head.querySelectorAll('link')].map((one) => one.outerHTML);
  expect(asked).toEqual(['<link rel="preload" as="script" crossorigin="" href="/b.js">']);
  came('/a.js');
  expect(names()).toEqual(['/a.js', '/slow.js', '/b.js', 'window.c = 1']);
  expect(document.querySelector('[data-wistrel-alone]')).toBeNull();
});

it('leaves what the author does once a file is there to the author', () => {
  start(delayed(' data-src="/a.js"') + delayed(' data-src="/b.js"'));
  window.dispatchEvent(new Event('keydown'));
  const [first] = put();
  expect([first!.onload, first!.onerror]).toEqual([null, null]);
  came('/a.js');
  expect(names()).toEqual(['/a.js', '/b.js']);
});

it('puts each in its own place with all that it carries, so that it finds itself', () => {
  start(
    `<div id="here">${delayed(' data-src="/a.js" id="tag" data-account="7" nonce="n0" data-type="module"')}</div>`,
  );
  window.dispatchEvent(new Event('scroll'));
  const script = document.querySelector<HTMLScriptElement>('#here > script')!;
  expect([script.id, script.dataset['account'], script.type, script.nonce]).toEqual([
    'tag',
    '7',
    'module',
    'n0',
  ]);
  expect(script.hasAttribute('data-src')).toBe(false);
  expect(script.async).toBe(false);
});

it('begins by itself when nobody touches the page for long after load', () => {
  start(delayed(' data-src="/a.js"'));
  vi.advanceTimersByTime(DELAY_FALLBACK_MS * 2);
  expect(names()).toEqual([]);
  window.dispatchEvent(new Event('load'));
  vi.advanceTimersByTime(DELAY_FALLBACK_MS - 1);
  expect(names()).toEqual([]);
  vi.advanceTimersByTime(1);
  expect(names()).toEqual(['/a.js']);
});

/** A browser that tells of paints when a test says so. */
function withPaints(): { tell: (name: string) => void } {
  let listen: ((list: { getEntriesByName: (name: string) => unknown[] }) => void) | null = null;
  vi.stubGlobal(
    'PerformanceObserver',
    class {
      constructor(listener: typeof listen) {
        listen = listener;
      }
      observe() {}
    },
  );
  return { tell: (name) => listen!({ getEntriesByName: (asked) => (asked === name ? [{}] : []) }) };
}

const afterPaint = (attributes: string) => `<script type="${AFTER_PAINT_TYPE}"${attributes}></script>`;
const startAfterPaint = (html: string) => {
  document.body.innerHTML = html;
  (0, eval)(AFTER_PAINT_LOADER);
};
const waiting = () => document.querySelectorAll(`script[type="${AFTER_PAINT_TYPE}"]`).length;

it('runs what waits for the first content once its frame is drawn, and no sooner', () => {
  const paints = withPaints();
  startAfterPaint(afterPaint(' data-src="/a.js"') + delayed(' data-src="/b.js"'));
  paints.tell('first-paint');
  vi.advanceTimersByTime(500);
  expect(waiting()).toBe(1);
  paints.tell('first-contentful-paint');
  expect(waiting()).toBe(1);
  vi.advanceTimersByTime(50);
  expect(waiting()).toBe(0);
  // What waits for a visitor goes on waiting.
  expect(document.querySelectorAll(`script[type="${DELAYED_TYPE}"]`)).toHaveLength(1);
  vi.unstubAllGlobals();
});

it('runs it after load in a page that shows nothing', () => {
  withPaints();
  startAfterPaint(afterPaint(' data-src="/a.js"'));
  vi.advanceTimersByTime(60_000);
  expect(waiting()).toBe(1);
  window.dispatchEvent(new Event('load'));
  vi.advanceTimersByTime(100);
  expect(waiting()).toBe(0);
  vi.unstubAllGlobals();
});

it('runs what waits for a page at rest after load, by itself, once the main thread rests', () => {
  const whenIdle: (() => void)[] = [];
  vi.stubGlobal('requestIdleCallback', (done: () => void) => whenIdle.push(done));
  document.body.innerHTML = `<script type="${AT_REST_TYPE}" data-src="/a.js"></script>`;
  (0, eval)(AT_REST_LOADER);
  const left = () => document.querySelectorAll(`script[type="${AT_REST_TYPE}"]`).length;
  window.dispatchEvent(new Event('pointerdown'));
  expect([left(), whenIdle.length]).toEqual([1, 0]);
  window.dispatchEvent(new Event('load'));
  expect([left(), whenIdle.length]).toEqual([1, 1]);
  whenIdle[0]!();
  expect(left()).toBe(0);
  vi.unstubAllGlobals();
});
