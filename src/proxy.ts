import { NextResponse, type NextRequest } from 'next/server';
import { contentPolicy, GUARDS } from './content-policy';
import { isForeign, REFUSED } from './foreign';

/** Refuses what another site's page could send, and says of every answer what it may load and who may frame it. */
export function proxy(request: NextRequest): NextResponse {
  if (isForeign(request)) return NextResponse.json(REFUSED, { status: 403 });
  const answer = request.nextUrl.pathname.startsWith('/api/') ? NextResponse.next() : ownPage(request);
  for (const [name, value] of GUARDS) answer.headers.set(name, value);
  return answer;
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

/** Uploads pass by: what goes through here is held in memory and cut. Their route asks `isForeign` itself. */
export const config = { matcher: ['/((?!api/har$).*)'] };
