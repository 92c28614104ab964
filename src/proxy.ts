import { NextResponse, type NextRequest } from 'next/server';
import { isForeign, REFUSED } from './foreign';

/** Refuses what another site's page could send. */
export function proxy(request: NextRequest): NextResponse {
  return isForeign(request) ? NextResponse.json(REFUSED, { status: 403 }) : NextResponse.next();
}

/** Uploads pass by: what goes through here is held in memory and cut. Their route asks `isForeign` itself. */
export const config = { matcher: ['/((?!api/har$).*)'] };
