import { DeletionsProvider } from '@/ui/Deletions';
import { Blob, File } from 'node:buffer';
import { readdirSync, rmSync } from 'node:fs';
import { join, sep } from 'node:path';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, render, screen, waitFor, within } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import { afterAll, afterEach, beforeAll, expect } from 'vitest';
import { applicationDatabase } from '@/usecases/application';
import { Board } from '@/ui/Board';
import { JobStream } from '@/ui/JobStream';
import { PageScreen } from '@/ui/PageScreen';
import { isStage } from '@/ui/stage-names';
import { theme } from '@/ui/theme';
import { formatCode } from '@/ui/workers/format-code';
import type { FormatAnswer, FormatOrder } from '@/ui/workers/format.worker';
import { seededData } from '../data-folders';
import { goTo, usePlace } from './navigation';

/** The screens over the application's own routes and the stored demo; only the browser is made of plain objects. */

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const API = join(process.cwd(), 'src', 'app', 'api');
/** Routes by their pattern, those with fewer open parts first. */
const ROUTES = readdirSync(API, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('route.ts'))
  .map((file) => {
    const parts = ['', 'api', ...file.split(sep).slice(0, -1)];
    return { file: join(API, file), parts, open: parts.filter((part) => part.startsWith('[')).length };
  })
  .sort((a, b) => a.open - b.open);

/** Answers a request of the screens by the route's own handler. */
async function answer(address: string, init: RequestInit = {}): Promise<Response> {
  const url = new URL(address, 'http://127.0.0.1');
  const asked = url.pathname.split('/');
  for (const { file, parts } of ROUTES) {
    if (parts.length !== asked.length) continue;
    if (!parts.every((part, index) => part.startsWith('[') || part === asked[index])) continue;
    const handlers = (await import(/* @vite-ignore */ file)) as Partial<Record<string, Handler>>;
    const handler = handlers[init.method ?? 'GET'];
    if (!handler) continue;
    const params = Object.fromEntries(
      parts.flatMap((part, index) => (part.startsWith('[') ? [[part.slice(1, -1), asked[index]!]] : [])),
    );
    return handler(new Request(url, init), { params: Promise.resolve(params) });
  }
  return Response.json({ error: `no route for ${url.pathname}` }, { status: 404 });
}

/** The one worker of the screens, at work in the same thread. */
class FormatWorker {
  onmessage: ((event: { data: FormatAnswer }) => void) | null = null;
  postMessage({ text, language }: FormatOrder): void {
    formatCode(text, language).then(
      (formatted) => this.onmessage?.({ data: { state: 'formatted', text: formatted } }),
      (error: unknown) => this.onmessage?.({ data: { state: 'refused', why: String(error) } }),
    );
  }
  terminate(): void {}
}

/** The stream of jobs, as often as the server would tell of a change. */
class JobEvents {
  static readonly CLOSED = 2;
  readonly readyState = 1;
  onmessage: ((event: { data: string }) => void) | null = null;
  #timer: ReturnType<typeof setInterval>;

  constructor() {
    this.#timer = setInterval(() => {
      void answer('/api/jobs')
        .then((response) => response.text())
        .then((data) => this.onmessage?.({ data }));
    }, 500);
  }

  close(): void {
    clearInterval(this.#timer);
  }
}

const NEVER_SHOWN = 'head, script, style, template, [hidden], details:not([open]) > :not(summary)';
/** How an element is shown, where no sheet has a say: jsdom would go through its own sheet for every element asked of. */
function styleOf(element: Element): CSSStyleDeclaration {
  const { style } = element as HTMLElement;
  if (style.display || !element.matches(NEVER_SHOWN)) return style;
  const hidden = document.createElement('i').style;
  hidden.display = 'none';
  return hidden;
}

/** What is asked of a browser here and jsdom does not have: files that can be read, sizes, and being told of them. */
function completeBrowser(): void {
  Object.assign(globalThis, { Blob, File });
  document.defaultView!.getComputedStyle = styleOf;
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  window.scrollTo = () => undefined;
  Element.prototype.scrollIntoView = () => undefined;
  globalThis.Worker = FormatWorker as unknown as typeof Worker;
  globalThis.EventSource = JobEvents as unknown as typeof EventSource;
  // Charts complain that nothing has a size here.
  console.warn = () => undefined;
  Object.defineProperties(HTMLElement.prototype, {
    clientWidth: { configurable: true, get: () => 900 },
    clientHeight: { configurable: true, get: () => 600 },
  });
  Range.prototype.getClientRects = () => [] as unknown as DOMRectList;
  Range.prototype.getBoundingClientRect = () => new DOMRect();
}

// The whole document in an error hides the sentence that says what is missing.
configure({
  asyncUtilTimeout: 10_000,
  getElementError: (message) => new Error(message ?? 'Not found.'),
});

/** The demo as seeded, for a file of tests. */
export function withDemo(): { database: typeof applicationDatabase } {
  beforeAll(async () => {
    completeBrowser();
    process.env['WISTREL_DATA'] = await seededData();
    globalThis.fetch = answer as typeof fetch;
  });
  afterEach(cleanup);
  afterAll(async () => {
    await (await applicationDatabase()).close();
    rmSync(process.env['WISTREL_DATA']!, { recursive: true, force: true });
  });
  return { database: applicationDatabase };
}

/** Nothing here has a look: with the theme's rules in the document, most of a test's time goes into matching them. */
const unstyled = createCache({ key: 'css' });
unstyled.sheet.insert = () => undefined;

function Application() {
  const place = usePlace();
  const [, id, stage] = /^\/pages\/(\d+)\/(\w+)$/.exec(place.pathname) ?? [];
  return id && stage && isStage(stage) ? <PageScreen pageId={Number(id)} stage={stage} /> : <Board />;
}

/** Opens a screen as the address bar does. */
export function show(address: string): void {
  goTo(address);
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false } },
  });
  render(
    <CacheProvider value={unstyled}>
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={client}>
          <JobStream />
          <DeletionsProvider>
            <Application />
          </DeletionsProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>,
  );
}

/** Opens a screen, and waits until its sentence stands there. */
export async function open(address: string) {
  show(address);
  await sentence();
  return userEvent.setup();
}

/** Puts a text into a field at once: where nothing hangs on single letters, typing them takes seconds. */
export async function put(user: UserEvent, field: HTMLElement, text: string): Promise<void> {
  await user.click(field);
  await user.paste(text);
}

/** The screen's most important sentence. */
export async function sentence(): Promise<string> {
  // The first screen of a file waits for the reader's start as well.
  const heading = await screen.findByRole('heading', { level: 1, name: /^(?!Reading)/ }, { timeout: 40_000 });
  return heading.textContent ?? '';
}

/** The text of each row of a table, cells parted by bars. */
export function rowsOf(table: HTMLElement): string[] {
  return within(table)
    .getAllByRole('row')
    .map((row) =>
      [...row.children].map((cell) => (cell.textContent ?? '').replace(/\s+/g, ' ').trim()).join(' | '),
    );
}

/** Waits until an assertion about what is stored or shown holds. */
export const eventually = (assert: () => void | Promise<void>) => waitFor(assert);

/** Waits until a dialog is gone: what it was for has been done. */
export const dialogGone = () => eventually(() => expect(screen.queryByRole('dialog')).toBeNull());
