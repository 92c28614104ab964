import { dehydrate, HydrationBoundary, QueryClient } from '@tanstack/react-query';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import type { Question } from '@/ui/questions';
import { GET as board } from './api/board/route';
import { GET as conditions } from './api/conditions/route';
import { GET as jobs } from './api/jobs/route';
import { GET as page } from './api/pages/[id]/route';
import { GET as map } from './api/pages/[id]/map/route';
import { GET as foldSettings } from './api/pages/[id]/fold-settings/route';
import { GET as ownChecks } from './api/pages/[id]/own-checks/route';
import { GET as stage } from './api/pages/[id]/[view]/route';

/** Routes by their addresses, the closer ones first: what is asked here is answered as it is there. */
const ROUTES: readonly (readonly [
  pattern: RegExp,
  answer: (request: Request, parts: string[]) => Promise<Response>,
])[] = [
  [/^\/api\/board$/, (request) => board(request)],
  [/^\/api\/conditions$/, () => conditions()],
  [/^\/api\/jobs$/, () => jobs()],
  [/^\/api\/pages\/(\d+)$/, (request, [id = '']) => page(request, { params: Promise.resolve({ id }) })],
  [
    /^\/api\/pages\/(\d+)\/fold-settings$/,
    (request, [id = '']) => foldSettings(request, { params: Promise.resolve({ id }) }),
  ],
  [
    /^\/api\/pages\/(\d+)\/own-checks$/,
    (request, [id = '']) => ownChecks(request, { params: Promise.resolve({ id }) }),
  ],
  [/^\/api\/pages\/(\d+)\/map$/, (request, [id = '']) => map(request, { params: Promise.resolve({ id }) })],
  [
    /^\/api\/pages\/(\d+)\/([\w-]+)$/,
    (request, [id = '', view = '']) => stage(request, { params: Promise.resolve({ id, view }) }),
  ],
];

/**
 * A screen with what it asks first answered in its HTML. Only for a document: who goes on within the application sees
 * the next screen at once, and its figures as they come. What cannot be answered the screen asks by itself, and says
 * what is wrong.
 */
export async function FirstAnswers({ to, children }: { to: readonly Question[]; children: ReactNode }) {
  const client = new QueryClient();
  if ((await headers()).get('sec-fetch-dest') !== 'empty')
    await Promise.all(
      to.map(async ({ key, path }) => {
        const answer = await answerTo(path);
        if (answer?.ok) client.setQueryData(key, await answer.json());
      }),
    );
  return <HydrationBoundary state={dehydrate(client)}>{children}</HydrationBoundary>;
}

async function answerTo(path: string): Promise<Response | null> {
  const request = new Request(new URL(path, 'http://127.0.0.1'));
  const { pathname } = new URL(request.url);
  for (const [pattern, answer] of ROUTES) {
    const found = pattern.exec(pathname);
    if (found) return answer(request, found.slice(1));
  }
  return null;
}
