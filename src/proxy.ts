import { NextResponse, type NextRequest } from 'next/server';
import { accessOf, TOKEN_PARAMETER, UNKNOWN } from './access';
import { contentPolicy, GUARDS } from './content-policy';
import { isForeign, REFUSED } from './foreign';

/**
 * Refuses what another site's page could send, and whoever did not start the application; says of every answer what it
 * may load and who may frame it.
 */
export function proxy(request: NextRequest): NextResponse {
  const answer = answerTo(request);
  for (const [name, value] of GUARDS) answer.headers.set(name, value);
  return answer;
}

function answerTo(request: NextRequest): NextResponse {
  if (isForeign(request)) return NextResponse.json(REFUSED, { status: 403 });
  const access = accessOf(request);
  const isApi = request.nextUrl.pathname.startsWith('/api/');
  if (access.is === 'unknown') return isApi ? NextResponse.json(UNKNOWN, { status: 401 }) : closed();
  if (access.is === 'opened') return withoutToken(request, access.cookie);
  return isApi ? NextResponse.next() : ownPage(request);
}

/** The same address without what is nobody else's to see. */
function withoutToken({ url, headers }: NextRequest, cookie: string): NextResponse {
  const { pathname, searchParams } = new URL(url);
  searchParams.delete(TOKEN_PARAMETER);
  const query = searchParams.size ? `?${searchParams}` : '';
  return new NextResponse(null, {
    status: 303,
    headers: {
      location: `http://${headers.get('host')}${pathname}${query}`,
      'set-cookie': cookie,
      'cache-control': 'no-store',
    },
  });
}

function closed(): NextResponse {
  const page = `<!DOCTYPE html><html lang="en"><meta charset="utf-8"><title>Wistrel</title><h1>Wistrel is running</h1><p>${UNKNOWN.error}</p></html>`;
  return new NextResponse(page, {
    status: 401,
    headers: { 'content-type': 'text/html; charset=utf-8', 'content-security-policy': "default-src 'none'" },
  });
}

/** What routes answer with has a policy of its own where it needs one, and that is a stricter one. */
function ownPage(request: NextRequest): NextResponse {
  const policy = contentPolicy(crypto.randomUUID());
  // The framework takes the nonce for its own scripts from here.
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const answer = NextResponse.next({ request: { headers } });
  answer.headers.set('content-security-policy', policy);
  return answer;
}

/** Uploads pass by: what goes through here is held in memory and cut. Their route asks the same itself. */
export const config = { matcher: ['/((?!api/har$).*)'] };
