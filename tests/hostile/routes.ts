import { readdirSync } from 'node:fs';
import { join, sep } from 'node:path';
import type { Draw } from './chance.ts';
import { mutatedJson, mutatedText } from './mutate.ts';

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;
type Handlers = Partial<Record<string, Handler>>;

const API = join(process.cwd(), 'src', 'app', 'api');
/** A stream of jobs has no end, and a backup is all that is stored. */
const LEFT_OUT = /^(jobs\/stream|backup)\//;
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];

export interface Route {
  path: string;
  handlers: Handlers;
}

/** The application's own routes, by their paths. */
export async function allRoutes(): Promise<Route[]> {
  const files = readdirSync(API, { recursive: true, encoding: 'utf8' }).filter((file) =>
    file.endsWith('route.ts'),
  );
  const routes = files
    .map((file) => file.split(sep).join('/'))
    .filter((file) => !LEFT_OUT.test(file))
    .map(async (file) => ({
      path: file.replace(/\/route\.ts$/, ''),
      handlers: (await import(/* @vite-ignore */ join(API, file))) as Handlers,
    }));
  return Promise.all(routes);
}

/** What is sent to some route or other, most of it as it should be. */
const BODY = {
  url: 'https://quay.test/a',
  urls: ['https://quay.test/b'],
  name: 'Quay',
  kind: 'measure',
  pageId: 2,
  pageIds: [2, 3],
  conditionsId: 'slow-phone',
  families: [{ id: 2, family: 'news' }],
  move: 'up',
  direction: 'up',
  choice: 'one set',
  accepted: true,
  hosts: ['quay.test'],
  publicKeyHash: `${'x'.repeat(43)}=`,
  text: 'press Menu, see Booking',
  runs: 3,
  returnVisits: false,
  ownClock: true,
  steps: 'pause 5',
  secrets: { headers: [['X-A', 'b']], cookies: [{ name: 'a', value: 'b' }] },
  decisions: [],
  rest: 'whole',
  budgetKb: 14,
  viewports: [],
  wistrelPlan: 1,
  page: 'https://quay.test/',
  rules: [],
  spared: ['/a*'],
  treatment: 'defer',
  what: 'https://quay.test/a.js',
  knownBy: 'address',
  scope: 'site',
  domain: 'quay.test',
  owner: 'Quay',
  key: 'x',
  values: {},
  viewport: { width: 390, height: 844 },
  roundTripMs: 40,
  downKbps: 1_400,
  cpuSlowdown: 4,
};
const PARTS: Record<string, readonly string[]> = {
  '[id]': ['1', '2', '0', '999999', '-1', '1e3', 'x', '%00', 'slow-phone', '../1'],
  '[view]': ['measure', 'map', 'fold', 'treat', 'prove', 'handoff', '__proto__', 'constructor', ''],
  '[measurement]': ['1', '2', '999', 'x'],
};
const QUERY =
  '?conditions=slow-phone&paint=first-paint&url=https%3A%2F%2Fquay.test%2F&asset=1&visit=first&against=1&arm=treated&hash=x&name=x&format=css&what=plan';
const QUERY_BITS = [
  '__proto__',
  '&',
  '=',
  '?',
  '%00',
  '%',
  '+',
  'conditions=',
  'paint=',
  'url=',
  '[]',
  '..%2f',
  '#',
];

/** Asks a route for something hostile. @returns what was asked, and the status of the answer */
export async function askHostile(
  routes: readonly Route[],
  draw: Draw,
): Promise<{ asked: string; status: number; said: string }> {
  const { path, handlers } = draw.of(routes);
  const method = draw.of(METHODS.filter((one) => handlers[one]));
  const params = Object.fromEntries(
    path.split('/').flatMap((part) => {
      const values = PARTS[part];
      return values ? [[part.slice(1, -1), draw.of(values)]] : [];
    }),
  );
  const query = draw.share() < 0.5 ? QUERY : mutatedText(QUERY, QUERY_BITS, draw);
  const json = JSON.stringify(draw.share() < 0.2 ? BODY : mutatedJson(BODY, draw)) ?? '';
  const body = draw.share() < 0.15 ? mutatedText(json, ['{', '"', '[', '\\u'], draw) : json;
  const request = new Request(new URL(`http://127.0.0.1/api${query}`), {
    method,
    headers: { host: '127.0.0.1', 'content-type': 'application/json' },
    ...(method === 'GET' ? {} : { body }),
  });
  const response = await handlers[method]!(request, { params: Promise.resolve(params) });
  const asked = `${method} ${path} ${JSON.stringify(params)} ${query.slice(0, 200)} ${body.slice(0, 400)}`;
  return { asked, status: response.status, said: response.status < 500 ? '' : await response.text() };
}
